import type { EvenFace } from './evenFace.ts'
import type { Ends } from './pieces.ts'
import type { Feature } from '../types.ts'

/** On how many scratches each pixel lies, with what is blurred beside them. */
export function linesMask(face: EvenFace, blur: number, scratches: readonly Feature[]): Uint8Array {
  const mask = new Uint8Array(face.contrast.length)
  const beyond = 6
  for (const { ends, size } of scratches) {
    const [x1, y1, x2, y2] = ends!
    const [dx, dy] = [x2 - x1, y2 - y1]
    const length = Math.hypot(dx, dy)
    const reach = size / 2 + 0.6 * blur + 0.5
    const { left, right, top, bottom } = boxAround(face, ends!, beyond + reach)
    for (let row = top; row <= bottom; row++) {
      const y = (row - face.y) * face.scale - y1
      for (let column = left; column <= right; column++) {
        const x = (column - face.x) * face.scale - x1
        const along = (x * dx + y * dy) / length
        if (along < -beyond || along > length + beyond) continue
        if (Math.abs(x * dy - y * dx) / length <= reach) mask[row * face.width + column]!++
      }
    }
  }
  return mask
}

/** Pixels of a face within a reach of a line's box, µm. */
function boxAround({ width, height, x, y, scale }: EvenFace, [x1, y1, x2, y2]: Ends, reach: number) {
  return {
    left: Math.max(0, Math.floor(x + (Math.min(x1, x2) - reach) / scale)),
    right: Math.min(width - 1, Math.ceil(x + (Math.max(x1, x2) + reach) / scale)),
    top: Math.max(0, Math.floor(y + (Math.min(y1, y2) - reach) / scale)),
    bottom: Math.min(height - 1, Math.ceil(y + (Math.max(y1, y2) + reach) / scale)),
  }
}
