import { locateFaults } from '../src/locate/index.ts'
import { pulseLength } from '../src/units/index.ts'
import { randomFaultCase, shootCase, type FaultCase } from '../test/randomFault.ts'

function quantiles(errors: readonly number[]): string {
  const sorted = errors.toSorted((a, b) => a - b)
  const at = (part: number) => sorted[Math.min(sorted.length - 1, Math.floor(part * sorted.length))]?.toFixed(1) ?? '–'
  return `median ${at(0.5)}, 90 % ${at(0.9)}, 95 % ${at(0.95)}, largest ${at(1)}`
}

/** Prints where fresh simulated faults are placed, by kind and by pulse; those not detected are listed. */
export function benchPlacing(cases: number, firstSeed: number): void {
  const placed: { fault: FaultCase; error: number; limit: number; covered: boolean }[] = []
  const missed: FaultCase[] = []
  for (let seed = firstSeed; seed < firstSeed + cases; seed++) {
    const fault = randomFaultCase(seed)
    const { faults } = locateFaults({ plant: fault.records, linkId: fault.linkId, ...shootCase(fault) })
    const away = (chainage: number) => Math.abs(chainage - fault.chainage)
    const best = faults.toSorted((a, b) => away(a.chainage) - away(b.chainage))[0]
    if (!best) {
      missed.push(fault)
      continue
    }
    const [low, high] = best.interval95
    placed.push({
      fault,
      error: away(best.chainage),
      limit: 10 + pulseLength(fault.pulseWidth, 1.468),
      covered: low - 0.5 <= fault.chainage && fault.chainage <= high + 0.5,
    })
  }
  const share = (part: number, whole: number) => `${part} of ${whole} (${((100 * part) / whole).toFixed(1)} %)`
  console.log(`\n${cases} simulated faults from seed ${firstSeed}: ${placed.length} detected`)
  console.log(
    `within 10 m + one pulse length: ${share(placed.filter(({ error, limit }) => error <= limit).length, cases)}`,
  )
  console.log(`inside their 95 % interval: ${share(placed.filter(({ covered }) => covered).length, placed.length)}`)
  console.log(`error on the ground, m: ${quantiles(placed.map(({ error }) => error))}`)
  for (const kind of new Set(placed.map(({ fault }) => fault.kind)))
    console.log(
      `  ${kind.padEnd(16)} ${quantiles(placed.filter(({ fault }) => fault.kind === kind).map(({ error }) => error))}`,
    )
  for (const [low, high] of [
    [0, 30],
    [30, 100],
    [100, 301],
  ] as const) {
    const group = placed.filter(({ fault }) => fault.pulseWidth * 1e9 >= low && fault.pulseWidth * 1e9 < high)
    console.log(`  pulse ${low} to ${high} ns`.padEnd(18), quantiles(group.map(({ error }) => error)))
  }
  for (const fault of missed)
    console.log(`not detected: seed ${fault.seed}, ${fault.kind}, pulse ${(fault.pulseWidth * 1e9).toFixed(0)} ns`)
  for (const { fault, error } of placed.filter(({ error, limit }) => error > limit))
    console.log(`beyond the limit: seed ${fault.seed}, ${fault.kind}, ${error.toFixed(1)} m`)
}
