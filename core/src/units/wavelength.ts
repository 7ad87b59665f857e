/** Sources sold for one wavelength differ by up to this, nm (common practice: a laser's own tolerance). */
const SAME_WAVELENGTH_NM = 15
/** What people call the wavelengths that links are measured at, nm. */
const NOMINAL = [850, 1300, 1310, 1490, 1550, 1625, 1650]
/** A source this far from a nominal wavelength is not called by it, nm. */
const CALLED_SO_NM = 20

/** Whether two sources have the same nominal wavelength, nm. */
export function isSameWavelength(a: number, b: number): boolean {
  return Math.abs(a - b) <= SAME_WAVELENGTH_NM
}

/**
 * What to call each of some wavelengths, so that readings of one nominal wavelength have one name: an instrument writes 1549
 * and another 1551 nm into its files.
 * @param wavelengths nm, in any order
 * @returns by wavelength its name in nm: a nominal one, or the group's rounded mean where none is near or it is taken
 */
export function nominalWavelengths(wavelengths: readonly number[]): Map<number, number> {
  const groups: number[][] = []
  for (const wavelength of [...new Set(wavelengths)].sort((a, b) => a - b)) {
    const last = groups.at(-1)
    if (last && isSameWavelength(last[0]!, wavelength)) last.push(wavelength)
    else groups.push([wavelength])
  }
  const named = new Map<number, number>()
  const taken = new Set<number>()
  for (const group of groups) {
    const mean = group.reduce((sum, one) => sum + one, 0) / group.length
    const nearest = NOMINAL.reduce((best, one) => (Math.abs(one - mean) < Math.abs(best - mean) ? one : best))
    const name = Math.abs(nearest - mean) <= CALLED_SO_NM && !taken.has(nearest) ? nearest : Math.round(mean)
    taken.add(name)
    group.forEach((one) => named.set(one, name))
  }
  return named
}
