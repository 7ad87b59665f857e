/** The rounded rise of an edge begins up to so many points before its half height. */
export function edgeLead(pulsePoints: number): number {
  return Math.ceil(1 + 0.35 * pulsePoints)
}
