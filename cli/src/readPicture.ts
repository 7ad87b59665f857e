import { grayOf, type Picture } from '@cold-thread/core/endFace'
import sharp from 'sharp'
import { readBytes } from './input.ts'
import { Refusal } from './refusal.ts'

/** Larger files and pictures are refused: no microscope makes them. */
const MOST_BYTES = 200 * 1024 * 1024
const MOST_PIXELS = 40e6

/**
 * A picture of any usual kind in gray, as it stands upright: colours by their lightness, 16 bits as 8.
 * @throws Refusal naming the file
 */
export async function readPicture(file: string): Promise<Picture> {
  const bytes = readBytes(file, MOST_BYTES)
  try {
    const image = sharp(bytes, { limitInputPixels: MOST_PIXELS })
    const { data, info } = await image
      .autoOrient()
      .flatten()
      .toColourspace('srgb')
      .removeAlpha()
      .raw({ depth: 'uchar' })
      .toBuffer({ resolveWithObject: true })
    return grayOf(data, info)
  } catch (error) {
    const why = (error as Error).message
    const words = /pixel limit/.test(why)
      ? `the picture has more than ${MOST_PIXELS / 1e6} million pixels`
      : `this is not a picture that can be read: ${why}`
    throw new Refusal(`${file}: ${words}`, 'not-a-picture')
  }
}
