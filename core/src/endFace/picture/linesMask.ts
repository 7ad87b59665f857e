import type { EvenFace } from './evenFace.ts'
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
    for (let i = 0; i < mask.length; i++) {
      const x = ((i % face.width) - face.x) * face.scale - x1
      const y = (Math.floor(i / face.width) - face.y) * face.scale - y1
      const along = (x * dx + y * dy) / length
      if (along < -beyond || along > length + beyond) continue
      if (Math.abs(x * dy - y * dx) / length <= reach) mask[i]!++
    }
  }
  return mask
}
