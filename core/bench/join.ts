// npm run bench:join -- [sessions] [shift]: how often the advice names what was planted in a simulated session, within 12
// splices, and stays silent in healthy ones of 24, over fresh seeds; another shift takes other seeds. 200 sessions of each
// take about eight minutes. Earlier splices of the same machine, 100 of them, are what its session is held against.
import { sessionPatterns, type Cause, type WatchedAttempt } from '../src/join/index.ts'
import { PLANTED_CAUSES, SplicerStandIn, type Aligner, type PlantedCause } from '../src/sim/index.ts'

const sessions = Number(process.argv[2] ?? 200)
const shift = Number(process.argv[3] ?? 0)

const NAMED: Record<PlantedCause, Cause | null> = {
  none: null,
  'dirty groove': 'grooves',
  'worn blade': 'blade',
  'old electrodes': 'electrodes',
  'mode fields': 'mode fields',
  'careless hand': 'hand',
}
const EARLIER = 100
const WITHIN = 12
const HEALTHY = 24
const MOST_CALIBRATIONS = 4

/** What the advice said last, and at which splice it first said anything. */
function session(seed: number, aligner: Aligner, cause: PlantedCause): { named: Cause | null; first: number | null } {
  const fields = (one: PlantedCause) => ({
    modeFields: one === 'mode fields' ? ([9.2e-6, 7.5e-6] as const) : ([9.2e-6, 9.2e-6] as const),
  })
  const before = new SplicerStandIn(seed, aligner, 'none')
  const reference: WatchedAttempt[] = Array.from({ length: EARLIER }, () => ({ ...before.splice(), ...fields('none') }))
  const machine = new SplicerStandIn(seed, aligner, cause)
  let calibrationsRefused = 0
  while (calibrationsRefused < MOST_CALIBRATIONS && machine.calibrate() === 'refused') calibrationsRefused++
  const attempts: WatchedAttempt[] = []
  let named: Cause | null = null
  let first: number | null = null
  for (let k = 1; k <= (cause === 'none' ? HEALTHY : WITHIN); k++) {
    attempts.push({ ...machine.splice(), ...fields(cause) })
    const { pattern } = sessionPatterns(attempts, reference, { calibrationsRefused, arcsOver: false, bladeOver: false })
    if (pattern) first ??= k
    named = pattern?.cause ?? named
  }
  return { named, first }
}

console.log(`${sessions} sessions each; named at the ${WITHIN}th splice, healthy ones silent over ${HEALTHY}`)
console.log('aligner  planted          right  named as')
for (const [a, aligner] of (['fixed', 'active', 'core'] as const).entries())
  for (const [c, cause] of PLANTED_CAUSES.entries()) {
    const outcomes = Array.from({ length: sessions }, (_, i) =>
      session(1_000_003 * (a + 1) + 100_003 * c + 17 * i + shift, aligner, cause),
    )
    const tally = new Map<string, number>()
    for (const { named } of outcomes) tally.set(named ?? 'silent', (tally.get(named ?? 'silent') ?? 0) + 1)
    const right = outcomes.filter(({ named }) => named === NAMED[cause]).length
    const firsts = outcomes.flatMap(({ first }) => first ?? []).sort((x, y) => x - y)
    const at = firsts.length > 0 ? `, first said at splice ${firsts[Math.floor(firsts.length / 2)]!} (median)` : ''
    const told = [...tally].sort((x, y) => y[1] - x[1]).map(([name, count]) => `${name} ${count}`)
    console.log(
      `${aligner.padEnd(8)} ${cause.padEnd(16)} ${((100 * right) / sessions).toFixed(1).padStart(5)} %  ${told.join(', ')}${at}`,
    )
  }
