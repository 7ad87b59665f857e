import { locateFaults, type Fault } from '../src/locate/index.ts'
import { placeAt, buildThread } from '../src/plant/index.ts'
import { pulseLength } from '../src/units/index.ts'
import { fieldCase, shootFieldCase, type FieldCase, type FieldKind } from '../test/fieldCases.ts'
import { LINK } from '../test/randomFault.ts'

/** One true damage and the fault that was found for it, if any. */
interface Outcome {
  field: FieldCase
  size: number
  /** dB scatter of a point at the far end, from good to poor. */
  noise: number
  pulse: number
  fault: Fault | null
  error: number
  covered: boolean
  kind: FieldKind
  atNode: boolean
}

const CAUSE_OF: Partial<Record<FieldKind, string>> = {
  break: 'break',
  crush: 'crush',
  macrobend: 'macrobend',
  'bad-splice': 'bad-splice',
  connector: 'connector',
  water: 'water',
}

/** Ground covered by a damage: a point, or the stretch of a spread one, chainages. */
function stretchOf(field: FieldCase, k: number): [number, number] {
  const damage = field.damages[k]!
  const chainage = field.chainages[k]!
  if (!damage.extent || !('fiber' in damage.at)) return [chainage, chainage]
  const thread = buildThread(field.truth, LINK)
  const ends = [damage.at.fiber, damage.at.fiber + damage.extent].map((at) => placeAt(thread, 'fiber', at).chainage)
  return [Math.min(...ends), Math.max(...ends)]
}

function outcomesOf(field: FieldCase, wavelengths: readonly number[]): { outcomes: Outcome[]; false_: number } {
  const result = locateFaults({ plant: field.records, linkId: LINK, ...shootFieldCase(field, wavelengths) })
  const pulse = field.present.settings.pulseWidth!
  const near = 30 + 2 * pulseLength(pulse, 1.468)
  const claimed = new Set<Fault>()
  const outcomes = field.damages.map((damage, k): Outcome => {
    const [low, high] = stretchOf(field, k)
    const away = (at: number) => Math.max(0, low - at, at - high)
    const fault = result.faults.toSorted((a, b) => away(a.chainage) - away(b.chainage))[0] ?? null
    const found = fault && away(fault.chainage) < near ? fault : null
    if (found) claimed.add(found)
    return {
      field,
      size: damage.breaks ? Infinity : typeof damage.loss === 'number' ? damage.loss : (damage.loss?.['1550'] ?? 0),
      noise: field.present.farScatter,
      pulse: pulse * 1e9,
      fault: found,
      error: found ? away(found.chainage) : NaN,
      covered: !!found && found.interval95[0] - 0.5 <= high && low <= found.interval95[1] + 0.5,
      kind: field.kind,
      atNode: field.node !== null && k === 0,
    }
  })
  const inStretch = (fault: Fault) =>
    field.damages.some((_, k) => {
      const [low, high] = stretchOf(field, k)
      return fault.chainage > low - near && fault.chainage < high + near
    })
  return { outcomes, false_: result.faults.filter((fault) => !claimed.has(fault) && !inStretch(fault)).length }
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
export function benchFieldFaults(cases: number, firstSeed: number, wavelengths: readonly number[]): void {
  const all: Outcome[] = []
  let withFalse = 0
  for (let seed = firstSeed; seed < firstSeed + cases; seed++) {
    const { outcomes, false_ } = outcomesOf(fieldCase(seed), wavelengths)
    all.push(...outcomes)
    if (false_ > 0) withFalse++
  }
  const found = all.filter((outcome) => outcome.fault)
  console.log(`\n${cases} cases from seed ${firstSeed} at ${wavelengths.join(' and ')} nm, ${all.length} faults`)
  console.log(`found near their place: ${percent(found.length, all.length)}`)
  console.log(`cases with a false fault beside: ${percent(withFalse, cases)}`)
  const between = (of: (outcome: Outcome) => number, bounds: readonly number[], unit: string) =>
    bounds.slice(1).map((high, i): [string, Outcome[]] => {
      const low = bounds[i]!
      return [`${low} to ${high} ${unit}`, all.filter((outcome) => of(outcome) >= low && of(outcome) < high)]
    })
  const seen = (group: Outcome[]) => percent(group.filter((one) => one.fault).length, group.length)
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
  const placeLine = (group: Outcome[]) => {
    const errors = group.filter((one) => one.fault).map((one) => one.error)
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
  const free = found.filter((outcome) => !outcome.atNode)
  const nodes = found.filter((outcome) => outcome.atNode)
  const inside = (group: Outcome[]) => percent(group.filter((one) => one.covered).length, group.length)
  console.log(`\n95 % intervals that hold the truth: between nodes ${inside(free)}, at nodes ${inside(nodes)}`)
  reliability(nodes)
  if (wavelengths.length > 1) confusion(found)
  for (const { field, kind, size, pulse } of all.filter((outcome) => !outcome.fault))
    console.log(`not found: seed ${field.seed}, ${kind}, ${size.toFixed(2)} dB, ${pulse.toFixed(0)} ns`)
}

function reliability(nodes: readonly Outcome[]): void {
  console.log('probability given to the true node, and how often a node given so much was the true one')
  const given = nodes.flatMap(({ fault, field }) =>
    fault!.places
      .filter((place) => place.node !== undefined)
      .map((place) => ({ p: place.probability, true_: place.node === field.node })),
  )
  for (const [low, high] of [
    [0, 0.1],
    [0.1, 0.5],
    [0.5, 0.9],
    [0.9, 1.01],
  ] as const) {
    const group = given.filter(({ p }) => p >= low && p < high)
    const mean = group.reduce((sum, { p }) => sum + p, 0) / Math.max(1, group.length)
    console.log(
      `  ${low} to ${Math.min(1, high)}: given ${mean.toFixed(2)} on average, true in ${percent(group.filter(({ true_ }) => true_).length, group.length)}`,
    )
  }
}

function confusion(found: readonly Outcome[]): void {
  const kinds = Object.keys(CAUSE_OF) as FieldKind[]
  const causes = [...new Set(found.map(({ fault }) => fault!.causes[0]?.cause ?? 'none'))].sort()
  console.log(`\nlikeliest cause by true kind\n  ${''.padEnd(12)}${causes.map((cause) => cause.padStart(12)).join('')}`)
  for (const kind of kinds) {
    const group = found.filter((outcome) => outcome.kind === kind)
    const counts = causes.map((cause) => group.filter(({ fault }) => fault!.causes[0]?.cause === cause).length)
    console.log(`  ${kind.padEnd(12)}${counts.map((count) => String(count).padStart(12)).join('')}`)
  }
}

/** Prints how many re-measurements of sound links show a fault, with the upper confidence limit (Clopper-Pearson, 95 %). */
export function benchNoChange(cases: number, firstSeed: number): void {
  const withFault: number[] = []
  for (let seed = firstSeed; seed < firstSeed + cases; seed++) {
    const field = fieldCase(seed, 'none')
    const { faults } = locateFaults({ plant: field.records, linkId: LINK, ...shootFieldCase(field) })
    if (faults.length > 0) withFault.push(seed)
  }
  console.log(
    `\n${cases} re-measurements without a change: a false fault in ${percent(withFault.length, cases)}, upper 95 % limit ${(100 * upperLimit(withFault.length, cases)).toFixed(2)} %`,
  )
  if (withFault.length > 0) console.log(`seeds: ${withFault.join(', ')}`)
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
