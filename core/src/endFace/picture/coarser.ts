import type { Picture } from '../types.ts'

/** Fewer pixels: each the mean of a square of them. */
export function coarser({ width, height, data }: Picture, by: number): Picture {
  if (by <= 1) return { width, height, data }
  const [w, h] = [Math.floor(width / by), Math.floor(height / by)]
  const out = new Uint8Array(w * h)
  for (let j = 0; j < h; j++)
    for (let i = 0; i < w; i++) {
      let sum = 0
      for (let y = j * by; y < (j + 1) * by; y++)
        for (let x = i * by; x < (i + 1) * by; x++) sum += data[y * width + x]!
      out[j * w + i] = Math.round(sum / by ** 2)
    }
  return { width: w, height: h, data: out }
}
