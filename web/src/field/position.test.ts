// @vitest-environment node
import exifr from 'exifr'
import piexif from 'piexifjs'
import { describe, expect, it } from 'vitest'
import { withoutPosition } from './enterAttachment.ts'

/** The smallest JPEG that Exif can be put into: start, quantization table, frame, scan, end (ITU-T T.81). */
const JPEG = Buffer.from(
  '/9j/4AAQSkZJRgABAQEASABIAAD/2wBDAP//////////////////////////////////////////////////////////////////////////////////////wgALCAABAAEBAREA/8QAFBABAAAAAAAAAAAAAAAAAAAAAP/aAAgBAQABPxA=',
  'base64',
)

function photo(gps: Record<string, unknown> | null): Blob {
  const exif = { '0th': { 274: 6, 271: 'Camera' }, Exif: {}, GPS: gps ?? {} }
  const binary = piexif.insert(piexif.dump(exif), JPEG.toString('binary'))
  return new Blob([Buffer.from(binary, 'binary')], { type: 'image/jpeg' })
}

const GPS = {
  1: 'N',
  2: [
    [46, 1],
    [3, 1],
    [0, 1],
  ],
  3: 'W',
  4: [
    [29, 1],
    [30, 1],
    [0, 1],
  ],
}
const bytes = async (blob: Blob) => Buffer.from(await blob.arrayBuffer())

describe('where a photo was taken (Exif, read by another package)', () => {
  it('is there before and gone after; which way is up stays', async () => {
    const before = photo(GPS)
    expect(await exifr.gps(await bytes(before))).toMatchObject({ latitude: 46.05, longitude: -29.5 })
    const after = await withoutPosition(before)
    expect(await exifr.gps(await bytes(after))).toBeUndefined()
    expect(await exifr.parse(await bytes(after), { translateValues: false })).toMatchObject({
      Orientation: 6,
      Make: 'Camera',
    })
  })

  it('a photo without a position, and a picture that is no JPEG, stay byte for byte', async () => {
    const plain = photo(null)
    expect(await withoutPosition(plain)).toBe(plain)
    const png = new Blob([new Uint8Array([1, 2, 3])], { type: 'image/png' })
    expect(await withoutPosition(png)).toBe(png)
  })
})
