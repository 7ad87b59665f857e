/** Shape of the power that an instrument's source sends. */
export type PulseShape = 'rectangular' | 'raised-cosine' | 'trailing'

/** A rectangular part of a pulse: `share` of its energy between two times after the pulse's nominal start, s. */
export interface PulseSlab {
  start: number
  width: number
  share: number
}

const SLABS = 12

/**
 * A pulse as a sum of rectangles, so that everything that holds for a rectangular pulse can be computed in closed form.
 * - rectangular: what the nominal width says
 * - raised-cosine: rises and falls over half the width each; the nominal width is that at half height
 * - trailing: 85 % rectangular, the rest an exponential tail of a fifth of the width (a source that switches off slowly)
 * @param width nominal, s
 * @returns shares that add up to 1
 */
export function pulseSlabs(shape: PulseShape, width: number): PulseSlab[] {
  if (shape === 'rectangular') return [{ start: 0, width, share: 1 }]
  const slabs: PulseSlab[] = []
  for (let k = 0; k < SLABS; k++) {
    const height = (k + 0.5) / SLABS
    if (shape === 'raised-cosine') {
      // Each edge is a half cosine of length width/2 about the nominal edge: at `height` it is this far from it.
      const inset = (width / 2) * (Math.acos(1 - 2 * height) / Math.PI - 0.5)
      slabs.push({ start: inset, width: width - 2 * inset, share: (width - 2 * inset) / SLABS / width })
    } else {
      const tail = -Math.log(1 - height) * (width / 5)
      slabs.push({ start: width, width: tail, share: (0.15 * tail) / SLABS / (width / 5) })
    }
  }
  if (shape === 'trailing') slabs.push({ start: 0, width, share: 0.85 })
  const total = slabs.reduce((sum, slab) => sum + slab.share, 0)
  return slabs.map((slab) => ({ ...slab, share: slab.share / total }))
}
