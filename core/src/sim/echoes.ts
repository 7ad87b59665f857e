/** A reflection in round-trip time: two-way power that comes back, and the reflectance that sends it. */
export interface Reflection {
  /** s */
  time: number
  /** Power relative to the pulse sent. */
  power: number
  /** Linear reflectance of the place itself. */
  reflectance: number
}

/**
 * Echoes of light that was reflected three times: out to j, back to i, out to k and home. They arrive at the time
 * t_j + t_k − t_i, where nothing is. With A the two-way transmission to a place, such an echo carries
 * A_j·A_k/A_i · R_i·R_j·R_k.
 * @param faintest echoes with less power than this are left out
 */
export function echoesOf(reflections: readonly Reflection[], faintest: number): { time: number; power: number }[] {
  const echoes: { time: number; power: number }[] = []
  reflections.forEach((inner, i) => {
    const outer = reflections.slice(i + 1)
    for (const first of outer)
      for (const second of outer) {
        // power = A·R, so that A_j·A_k/A_i·R_i·R_j·R_k = power_j·power_k·R_i²/power_i.
        const power = (first.power * second.power * inner.reflectance ** 2) / inner.power
        if (power >= faintest) echoes.push({ time: first.time + second.time - inner.time, power })
      }
  })
  return echoes
}
