/** Where a damage sits: on the ground, at a node's joint, or at metres of fiber from the link's `from`. */
export type DamagePlace = { chainage: number } | { node: string } | { fiber: number }

/** A fault to be put into a simulated link. */
export interface Damage {
  at: DamagePlace
  /** A break ends the light here. */
  breaks: boolean
  /** dB added, one figure or by wavelength in nm. Ignored on a break. */
  loss?: number | Record<string, number>
  /** dB; on a break that of the broken end. null or absent for none. */
  reflectance?: number | null
  /** m of fiber from the place on over which the loss is spread (water, pressure); absent or 0 for a point. */
  extent?: number
}

/** Loss of a damage at a wavelength: the nearest one given. */
export function damageLoss(damage: Damage, wavelength: number): number {
  if (damage.loss === undefined) return 0
  if (typeof damage.loss === 'number') return damage.loss
  const entries = Object.entries(damage.loss).map(([key, loss]) => ({
    distance: Math.abs(Number(key) - wavelength),
    loss,
  }))
  return entries.sort((a, b) => a.distance - b.distance)[0]?.loss ?? 0
}
