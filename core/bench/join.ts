// npm run bench:join -- [sessions] [shift]: how often the advice names what was planted in a simulated session, within 12
// splices of its beginning, how often it names something else, and how often a healthy session of 24 splices stays silent,
// over fresh seeds; another shift takes other seeds. Machines, days, operators and reels differ, readings are missing, one
// session in seven is of ribbons, and what goes wrong begins in a quarter of the cases in the middle of the session. Both
// cores share the work: 600 sessions take about five minutes.
import { fileURLToPath } from 'node:url'
import { Piscina } from 'piscina'
import type { Cause } from '../src/join/index.ts'
import type { Aligner, PlantedCause } from '../src/sim/index.ts'
import type { SessionCase, SessionOutcome } from './joinTask.ts'

const sessions = Number(process.argv[2] ?? 600)
const shift = Number(process.argv[3] ?? 0)

const KINDS: readonly (readonly PlantedCause[])[] = [
  [],
  ['dirty groove'],
  ['worn blade'],
  ['old electrodes'],
  ['mode fields'],
  ['careless hand'],
  ['dirty groove', 'worn blade'],
  ['worn blade', 'old electrodes'],
  ['dirty groove', 'careless hand'],
  ['old electrodes', 'mode fields'],
]
const NAMED: Record<Exclude<PlantedCause, 'none'>, Cause> = {
  'dirty groove': 'grooves',
  'worn blade': 'blade',
  'old electrodes': 'electrodes',
  'mode fields': 'mode fields',
  'careless hand': 'hand',
}
const ALIGNERS: readonly Aligner[] = ['fixed', 'active', 'core']
/** Healthy sessions are asked most: their share of false alarms is what is promised. */
const HEALTHY_SHARE = 0.4

const pool = new Piscina({ filename: fileURLToPath(new URL('joinTask.ts', import.meta.url)), maxThreads: 2 })
const cases = Array.from({ length: sessions }, (_, i): SessionCase => {
  const healthy = i < HEALTHY_SHARE * sessions
  return {
    seed: 1_000_003 + 101 * i + shift,
    aligner: ALIGNERS[i % 3]!,
    causes: healthy ? KINDS[0]! : KINDS[1 + (Math.floor(i / 3) % (KINDS.length - 1))]!,
    begin: i % 4 === 0 ? 8 + (i % 5) : i % 3,
    fibers: i % 7 === 0 ? 4 + 4 * (i % 3) : 1,
    earlierSessions: i % 8 === 0 ? (i / 8) % 2 : 3 + (i % 4),
  }
})
const outcomes: SessionOutcome[] = await Promise.all(cases.map((one) => pool.run(one) as Promise<SessionOutcome>))
await pool.destroy()

const percent = (part: number, of: number) => `${((100 * part) / of).toFixed(1).padStart(5)} %`
console.log(`${sessions} sessions; named 12 splices on, healthy ones silent over all 24`)
console.log('planted                        of   right    false   silent  named as')
for (const causes of KINDS) {
  const rows = cases.flatMap((one, i) => (one.causes === causes ? [outcomes[i]!] : []))
  const wanted = causes.map((cause) => NAMED[cause as Exclude<PlantedCause, 'none'>])
  const named = rows.map(({ everNamed, at }) => (causes.length === 0 ? everNamed : at))
  const right = named.filter(
    (one) => one.length === wanted.length && one.every((cause) => wanted.includes(cause)),
  ).length
  const falsely = named.filter((one) => one.some((cause) => !wanted.includes(cause))).length
  const silent = named.filter((one) => one.length === 0).length
  const tally = new Map<string, number>()
  for (const one of named) {
    const name = [...one].sort().join(' + ') || 'silent'
    tally.set(name, (tally.get(name) ?? 0) + 1)
  }
  const told = [...tally].sort((a, b) => b[1] - a[1]).map(([name, count]) => `${name} ${count}`)
  console.log(
    `${(causes.join(' + ') || 'healthy').padEnd(29)} ${String(rows.length).padStart(3)} ${percent(right, rows.length)} ${percent(falsely, rows.length)} ${percent(silent, rows.length)}  ${told.join(', ')}`,
  )
}
