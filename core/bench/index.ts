// npm run bench: how computing grows with the points of a trace, and where simulated faults are placed.
import { randomFaultCase, shootCase } from '../testing/randomFault.ts'
import { drawTrace } from '../testing/straightTrace.ts'
import { locateFaults } from '../src/locate/index.ts'
import { analyzeTrace, compareTraces, decodeTrace, encodeTrace } from '../src/trace/index.ts'
import { pulseLength } from '../src/units/index.ts'

const ROUNDS = 7

/** Median of the milliseconds that some work takes, warmed up. */
function milliseconds(work: () => void): number {
  work()
  const times = Array.from({ length: ROUNDS }, () => {
    const begun = performance.now()
    work()
    return performance.now() - begun
  })
  return times.sort((a, b) => a - b)[ROUNDS >> 1]!
}

/** The yardstick of one run: plain prefix sums over the same array. */
function plainPrefixSums(values: Float64Array): number {
  const sums = new Float64Array(values.length + 1)
  for (let i = 0; i < values.length; i++) sums[i + 1] = sums[i]! + values[i]!
  return sums.at(-1)!
}

function speed(): void {
  console.log('points   decode + events + comparison, ms   × plain prefix sums')
  for (const points of [8192, 32_768, 131_072, 262_144]) {
    const spacing = 60_000 / points
    const drawn = { points, spacing, pulseWidth: 100e-9, steps: [{ at: 20_000, rise: -0.1 }] }
    const files = [1, 2].map((seed) => encodeTrace({ ...drawTrace({ ...drawn, seed }), condition: 'OT', comment: '' }))
    const whole = milliseconds(() => {
      const [a, b] = files.map((file) => analyzeTrace(decodeTrace(file)))
      compareTraces(a!, b!)
    })
    const levels = decodeTrace(files[0]!).levels
    const plain = milliseconds(() => plainPrefixSums(levels))
    console.log(
      `${String(points).padEnd(8)} ${whole.toFixed(1).padStart(12)} ${(whole / plain).toFixed(0).padStart(30)}`,
    )
  }
}

function placing(cases: number): void {
  const errors: number[] = []
  let within = 0
  let covered = 0
  for (let seed = 10_001; seed <= 10_000 + cases; seed++) {
    const fault = randomFaultCase(seed)
    const { faults } = locateFaults({ plant: fault.records, linkId: fault.linkId, ...shootCase(fault) })
    const away = (chainage: number) => Math.abs(chainage - fault.chainage)
    const best = faults.toSorted((a, b) => away(a.chainage) - away(b.chainage))[0]
    if (!best) {
      console.log(`not detected: seed ${seed}, ${fault.kind}, pulse ${(fault.pulseWidth * 1e9).toFixed(0)} ns`)
      continue
    }
    errors.push(away(best.chainage))
    if (away(best.chainage) <= 10 + pulseLength(fault.pulseWidth, 1.468)) within++
    const [low, high] = best.interval95
    if (low - 0.5 <= fault.chainage && fault.chainage <= high + 0.5) covered++
  }
  errors.sort((a, b) => a - b)
  const quantile = (part: number) => errors[Math.min(errors.length - 1, Math.floor(part * errors.length))]!.toFixed(1)
  console.log(
    `\n${cases} simulated faults: ${errors.length} detected, ${within} within 10 m + one pulse length, ${covered} inside their 95 % interval`,
  )
  console.log(
    `error on the ground, m: median ${quantile(0.5)}, 90 % ${quantile(0.9)}, 95 % ${quantile(0.95)}, largest ${errors.at(-1)!.toFixed(1)}`,
  )
}

speed()
placing(200)
