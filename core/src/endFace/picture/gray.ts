import type { Picture } from '../types.ts'

/**
 * Gray of colours, by Rec. ITU-R BT.601.
 * @param data bytes, row by row: of one channel gray itself, of three or more red, green and blue first
 */
export function grayOf(
  data: Uint8Array | Uint8ClampedArray,
  { width, height, channels }: { width: number; height: number; channels: number },
): Picture {
  const gray = new Uint8Array(width * height)
  for (let i = 0, at = 0; i < gray.length; i++, at += channels)
    gray[i] = channels < 3 ? data[at]! : Math.round(0.299 * data[at]! + 0.587 * data[at + 1]! + 0.114 * data[at + 2]!)
  return { width, height, data: gray }
}
