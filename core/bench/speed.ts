import { median } from 'simple-statistics'
import { execFileSync } from 'node:child_process'
import { fileURLToPath } from 'node:url'
import { analyzeTrace, compareTraces, decodeTrace, encodeTrace, type Trace } from '../src/trace/index.ts'
import { drawTrace } from '../test/straightTrace.ts'
import { registryPipeline } from './registryPipeline.ts'

const ROUNDS = 15
const WARM_UP_MS = 1500
const SIZES = [8192, 32_768, 131_072, 262_144]

/** The fewest milliseconds that some work takes; see {@link inTurns}. */
export function milliseconds(work: () => void): number {
  return Math.min(...inTurns(work)[0]!)
}

/**
 * Milliseconds that each of some works takes in each round, in code that has run often enough to be compiled for good.
 * They take turns, so that all of them see the machine fast and slow: what else it does can only add to their times.
 */
function inTurns(...works: readonly (() => void)[]): number[][] {
  for (const work of works) {
    const begun = performance.now()
    do work()
    while (performance.now() - begun < WARM_UP_MS)
  }
  const taken: number[][] = works.map(() => [])
  for (let round = 0; round < ROUNDS; round++)
    works.forEach((work, k) => {
      const begun = performance.now()
      work()
      taken[k]!.push(performance.now() - begun)
    })
  return taken
}

/** How many times as long one work takes as another, by the rounds in which both stood beside each other. */
function timesAsLong(work: readonly number[], other: readonly number[]): number {
  return median(work.map((ms, round) => ms / other[round]!))
}

/** The yardstick of one run: plain prefix sums over the same array. */
function plainPrefixSums(values: Float64Array): number {
  const sums = new Float64Array(values.length + 1)
  for (let i = 0; i < values.length; i++) sums[i + 1] = sums[i]! + values[i]!
  return sums.at(-1)!
}

/** Two files of one fiber of 60 km with a few events and noise that grows along it. */
function filePair(points: number): Uint8Array[] {
  const spacing = 60_000 / points
  return [1, 2].map((seed) => {
    const trace = drawTrace({
      points,
      spacing,
      seed,
      pulseWidth: 100e-9,
      steps: [
        { at: 20_000, rise: -0.1 },
        { at: 35_000, rise: -0.25 },
      ],
      peaks: [
        { at: 1000, height: 8 },
        { at: 48_000, height: 5 },
      ],
    })
    return encodeTrace({ ...trace, condition: 'OT', comment: '' })
  })
}

function decodeAnalyzeCompare(files: readonly Uint8Array[]): void {
  analyzeCompare(files.map((file) => decodeTrace(file)))
}

function analyzeCompare(traces: readonly Trace[]): void {
  const [a, b] = traces.map((trace) => analyzeTrace(trace))
  compareTraces(a!, b!)
}

/** Prints the least time, ratios within this run as the median of the rounds, and peak memory in processes of their own. */
export function benchSpeed(): void {
  console.log(
    'two traces: decode + events + comparison; events + comparison against registry packages on the same arrays',
  )
  console.log(
    'points      ms   × plain prefix sums   from arrays, ms   registry packages, ms   × ours   peak memory over empty, MB',
  )
  const empty = peakMemory(0)
  for (const points of SIZES) {
    const files = filePair(points)
    const traces = files.map((file) => decodeTrace(file))
    const [whole, plain, ours, theirs] = inTurns(
      () => decodeAnalyzeCompare(files),
      () => plainPrefixSums(traces[0]!.levels),
      () => analyzeCompare(traces),
      () => traces.forEach(registryPipeline),
    ) as [number[], number[], number[], number[]]
    const memory = peakMemory(points) - empty
    console.log(
      [
        String(points).padEnd(7),
        Math.min(...whole)
          .toFixed(1)
          .padStart(7),
        timesAsLong(whole, plain).toFixed(0).padStart(15),
        Math.min(...ours)
          .toFixed(1)
          .padStart(20),
        Math.min(...theirs)
          .toFixed(0)
          .padStart(22),
        timesAsLong(theirs, ours).toFixed(1).padStart(12),
        memory.toFixed(0).padStart(18),
      ].join(' '),
    )
  }
}

/**
 * Peak memory of a process that does the work once, MB, median of five: a process that also compiles what it loads takes
 * more. With 0 points it only loads the code.
 */
function peakMemory(points: number): number {
  const self = fileURLToPath(import.meta.url)
  const peaks = Array.from({ length: 5 }, () =>
    Number(execFileSync(process.execPath, ['--import', 'tsx', self, 'memory', String(points)]).toString()),
  )
  return median(peaks)
}

if (process.argv[2] === 'memory') {
  const points = Number(process.argv[3])
  if (points > 0) decodeAnalyzeCompare(filePair(points))
  else decodeAnalyzeCompare(filePair(1024))
  console.log(process.resourceUsage().maxRSS / 1024)
}
