/**
 * Reflectance of a clean flat glass-to-air end, dB (negative): ((n−1)/(n+1))².
 * @param phaseIndex phase index of the glass, about 1.45 (not the group index, which belongs to distances)
 */
export function fresnelReflectance(phaseIndex: number): number {
  return 20 * Math.log10((phaseIndex - 1) / (phaseIndex + 1))
}
