import jsQR from 'jsqr'

/** A drawn code as the pixels that a camera would see, read by a general-purpose decoder. */
export function readAgain(code: SVGElement): string | undefined {
  const side = Number(code.getAttribute('viewBox')!.split(' ')[2])
  const scale = 4
  const pixels = new Uint8ClampedArray((side * scale) ** 2 * 4).fill(255)
  for (const [, x, y] of code
    .querySelector('path')!
    .getAttribute('d')!
    .matchAll(/M(\d+) (\d+)h1/g))
    for (let dy = 0; dy < scale; dy++)
      for (let dx = 0; dx < scale; dx++) {
        const at = 4 * ((Number(y) * scale + dy) * side * scale + Number(x) * scale + dx)
        pixels.fill(0, at, at + 3)
      }
  return jsQR(pixels, side * scale, side * scale)?.data
}
