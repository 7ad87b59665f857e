import { Piscina } from 'piscina'
import type { FieldKind } from '../test/fieldCases.ts'
import type { FieldOutcome, FieldTask, Outcome } from './fieldOutcome.ts'
import type { GhostOutcome } from './ghostOutcome.ts'

const CAUSE_OF = ['break', 'crush', 'macrobend', 'bad-splice', 'connector', 'water'] as const

/** Runs seeds on all cores; results in the order of the seeds. */
async function runSeeds<Task extends { seed: number }, Result>(
  module: './fieldOutcome.ts' | './ghostOutcome.ts',
  tasks: readonly Task[],
): Promise<Result[]> {
  const pool = new Piscina<Task, Result>({
    filename: new URL(module, import.meta.url).href,
    execArgv: ['--import', 'tsx'],
    concurrentTasksPerWorker: 1,
    idleTimeout: 60_000,
  })
  try {
    return await Promise.all(tasks.map((task) => pool.run(task)))
  } finally {
    await pool.destroy()
  }
}

function seedsFrom(firstSeed: number, cases: number): number[] {
  return Array.from({ length: cases }, (_, k) => firstSeed + k)
}

function percent(part: number, whole: number): string {
  return whole === 0 ? '–' : `${((100 * part) / whole).toFixed(1)} % of ${whole}`
}

function quantile(sorted: readonly number[], part: number): string {
  return sorted.length === 0 ? '–' : sorted[Math.min(sorted.length - 1, Math.floor(part * sorted.length))]!.toFixed(1)
}

function table(title: string, groups: [string, Outcome[]][], line: (group: Outcome[]) => string): void {
  console.log(`\n${title}`)
  for (const [name, group] of groups) console.log(`  ${name.padEnd(18)} ${line(group)}`)
}

/** Prints detection, places, coverage and causes over fresh faults of all kinds, baseline and present from different instruments. */
export async function benchFieldFaults(
  cases: number,
  firstSeed: number,
  wavelengths: readonly number[],
): Promise<void> {
  const results = await runSeeds<FieldTask, FieldOutcome>(
    './fieldOutcome.ts',
    seedsFrom(firstSeed, cases).map((seed) => ({ seed, wavelengths })),
  )
  const all = results.flatMap(({ outcomes }) => outcomes)
  const withFalse = results.filter(({ falseFaults }) => falseFaults > 0)
  const found = all.filter((outcome) => outcome.found)
  console.log(`\n${cases} cases from seed ${firstSeed} at ${wavelengths.join(' and ')} nm, ${all.length} faults`)
  console.log(`found near their place: ${percent(found.length, all.length)}`)
  console.log(`cases with a false fault beside: ${percent(withFalse.length, cases)}`)
  const between = (of: (outcome: Outcome) => number, bounds: readonly number[], unit: string) =>
    bounds.slice(1).map((high, i): [string, Outcome[]] => {
      const low = bounds[i]!
      return [`${low} to ${high} ${unit}`, all.filter((outcome) => of(outcome) >= low && of(outcome) < high)]
    })
  const seen = (group: Outcome[]) => percent(group.filter((one) => one.found).length, group.length)
  table(
    'detection by size',
    between((o) => o.size, [0, 0.15, 0.3, 0.6, 5], 'dB'),
    seen,
  )
  table(
    'detection by noise at the far end',
    between((o) => o.noise, [0, 0.02, 0.05, 0.2], 'dB'),
    seen,
  )
  console.log('\nfalse faults beside by noise at the far end')
  for (const [low, high] of [
    [0, 0.02],
    [0.02, 0.05],
    [0.05, 0.2],
  ] as const) {
    const group = results.filter(({ noise }) => noise >= low && noise < high)
    console.log(
      `  ${`${low} to ${high} dB`.padEnd(18)} ${percent(group.filter(({ falseFaults }) => falseFaults > 0).length, group.length)}`,
    )
  }
  const placeLine = (group: Outcome[]) => {
    const errors = group.filter((one) => one.found && !one.spread).map((one) => one.error)
    errors.sort((a, b) => a - b)
    return `median ${quantile(errors, 0.5)} m, 95 % ${quantile(errors, 0.95)} m`
  }
  table(
    'place error by pulse',
    between((o) => o.pulse, [5, 30, 100, 300, 1000, 3000, 10_001], 'ns'),
    placeLine,
  )
  table(
    'place error by noise',
    between((o) => o.noise, [0, 0.02, 0.05, 0.2], 'dB'),
    placeLine,
  )
  const free = found.filter((outcome) => !outcome.atNode && !outcome.spread)
  const spread = found.filter((outcome) => outcome.spread)
  const nodes = found.filter((outcome) => outcome.atNode)
  const inside = (group: Outcome[]) => percent(group.filter((one) => one.covered).length, group.length)
  console.log(`\n95 % intervals that hold the truth: between nodes ${inside(free)}, at nodes ${inside(nodes)}`)
  const fromMiddle = spread.map(({ error }) => error).sort((a, b) => a - b)
  console.log(
    `  the middle of a spread loss: ${inside(spread)}; its error: median ${quantile(fromMiddle, 0.5)} m, 95 % ${quantile(fromMiddle, 0.95)} m`,
  )
  reliability(nodes)
  for (const [name, group] of between((o) => o.pulse, [5, 100, 1000, 10_001], 'ns')) {
    const placed = group.filter((one) => one.found && !one.atNode && !one.spread)
    const widths = placed.map((one) => one.halfWidth).sort((a, b) => a - b)
    console.log(
      `  ${name.padEnd(18)} between nodes ${inside(placed)}; half an interval ${quantile(widths, 0.5)} m (median)`,
    )
  }
  if (wavelengths.length > 1) confusion(found)
  for (const { seed, falseFaults } of withFalse) console.log(`false beside: seed ${seed}, ${falseFaults}`)
  for (const { seed, kind, size, pulse } of all.filter((outcome) => !outcome.found))
    console.log(`not found: seed ${seed}, ${kind}, ${size.toFixed(2)} dB, ${pulse.toFixed(0)} ns`)
}

function reliability(nodes: readonly Outcome[]): void {
  console.log('probability given to a node, and how often a node given so much was the true one')
  const given = nodes.flatMap((outcome) => outcome.nodes)
  for (const [low, high] of [
    [0, 0.1],
    [0.1, 0.5],
    [0.5, 0.9],
    [0.9, 1.01],
  ] as const) {
    const group = given.filter(({ probability }) => probability >= low && probability < high)
    const mean = group.reduce((sum, { probability }) => sum + probability, 0) / Math.max(1, group.length)
    console.log(
      `  ${low} to ${Math.min(1, high)}: given ${mean.toFixed(2)} on average, true in ${percent(group.filter(({ isTrue }) => isTrue).length, group.length)}`,
    )
  }
}

function confusion(found: readonly Outcome[]): void {
  const kinds: readonly FieldKind[] = CAUSE_OF
  const causes = [...new Set(found.map((outcome) => outcome.likeliestCause))].sort()
  console.log(`\nlikeliest cause by true kind\n  ${''.padEnd(12)}${causes.map((cause) => cause.padStart(12)).join('')}`)
  for (const kind of kinds) {
    const group = found.filter((outcome) => outcome.kind === kind)
    const counts = causes.map((cause) => group.filter((outcome) => outcome.likeliestCause === cause).length)
    console.log(`  ${kind.padEnd(12)}${counts.map((count) => String(count).padStart(12)).join('')}`)
  }
}

/** Prints how many re-measurements of sound links show a fault, with the upper confidence limit (Clopper-Pearson, 95 %). */
export async function benchNoChange(cases: number, firstSeed: number): Promise<void> {
  const tasks = seedsFrom(firstSeed, cases).map((seed): FieldTask => ({ seed, wavelengths: [1550], kind: 'none' }))
  const withFault = (await runSeeds<FieldTask, FieldOutcome>('./fieldOutcome.ts', tasks))
    .filter(({ falseFaults }) => falseFaults > 0)
    .map(({ seed }) => seed)
  console.log(
    `\n${cases} re-measurements without a change: a false fault in ${percent(withFault.length, cases)}, upper 95 % limit ${(100 * upperLimit(withFault.length, cases)).toFixed(2)} %`,
  )
  if (withFault.length > 0) console.log(`seeds: ${withFault.join(', ')}`)
}

/** Prints how often an echo over sound fiber is taken for a fault, and a loss under an echo found. */
export async function benchGhosts(cases: number, firstSeed: number): Promise<void> {
  const results = await runSeeds<{ seed: number }, GhostOutcome>(
    './ghostOutcome.ts',
    seedsFrom(firstSeed, cases).map((seed) => ({ seed })),
  )
  const wrong = results.filter(({ falseFaults }) => falseFaults > 0)
  const missed = results.filter(({ found }) => !found)
  console.log(
    `\n${cases} echo cases: an echo named in ${percent(results.filter(({ named }) => named).length, cases)}, a fault where only the echo is in ${percent(wrong.length, cases)}, a loss under the echo found in ${percent(cases - missed.length, cases)}`,
  )
  if (wrong.length + missed.length > 0)
    console.log(`seeds: ${[...wrong, ...missed].map(({ seed }) => seed).join(', ')}`)
}

/** Upper limit of a proportion: the p at which so few successes have a chance of 5 % (one-sided Clopper-Pearson). */
function upperLimit(successes: number, trials: number): number {
  let low = successes / trials
  let high = 1
  for (let round = 0; round < 60; round++) {
    const p = (low + high) / 2
    let term = (1 - p) ** trials
    let sum = term
    for (let k = 1; k <= successes; k++) {
      term *= ((trials - k + 1) / k) * (p / (1 - p))
      sum += term
    }
    if (sum > 0.05) low = p
    else high = p
  }
  return high
}
