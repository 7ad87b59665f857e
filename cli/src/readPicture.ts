import { grayOf, type Picture } from '@cold-thread/core/endFace'
import sharp from 'sharp'
import { readBytes } from './input.ts'
import { Refusal } from './refusal.ts'

/** Larger files and pictures are refused: no microscope makes them. */
const MOST_BYTES = 200 * 1024 * 1024
const MOST_PIXELS = 40e6

/**
 * A picture of any usual kind in gray, as it stands upright: colours by their lightness, more than 8 bits as 8.
 * @throws Refusal naming the file
 */
export async function readPicture(file: string): Promise<Picture> {
  const bytes = readBytes(file, MOST_BYTES)
  try {
    const image = sharp(bytes, { limitInputPixels: MOST_PIXELS })
    const upright = image.autoOrient().flatten().removeAlpha()
    const { depth } = await image.metadata()
    if (depth !== 'ushort') {
      const raw = upright.toColourspace('srgb').raw({ depth: 'uchar' })
      const { data, info } = await raw.toBuffer({ resolveWithObject: true })
      return grayOf(data, info)
    }
    const raw = upright.toColourspace('rgb16').raw({ depth: 'ushort' })
    const { data, info } = await raw.toBuffer({ resolveWithObject: true })
    return grayOf(eightBits(new Uint16Array(data.buffer, data.byteOffset, data.length / 2)), info)
  } catch (error) {
    const why = (error as Error).message
    const words = /pixel limit/.test(why)
      ? `the picture has more than ${MOST_PIXELS / 1e6} million pixels`
      : `this is not a picture that can be read: ${why}`
    throw new Refusal(`${file}: ${words}`, 'not-a-picture')
  }
}

/** Of what a camera of 10, 12 or 14 bits stored in 16 the upper eight of its own. */
function eightBits(levels: Uint16Array): Uint8Array {
  const top = levels.reduce((a, b) => Math.max(a, b), 0)
  const shift = Math.max(0, Math.ceil(Math.log2(top + 1)) - 8)
  return Uint8Array.from(levels, (level) => level >> shift)
}
