import { kindName } from '../../kit/kinds.ts'
import type { Kit } from '../../kit/kit.ts'
import { standing, type LoggedEntry } from '../../log/standing.ts'
import { cordsToReplace, sourceChecksOf, type SourceCheck } from '../../lossTest/dailyCheck.ts'
import { cordNames } from '../../lossTest/matings.ts'
import type { Proof } from './proof.ts'
import { acceptedJoints, newClosures } from './work.ts'

/** What is still to be done when a callout is closed. */
export interface FollowUp {
  kind: 'link' | 'permanent' | 'splice' | 'wear' | 'calibration' | 'stock'
  what: string
  because: string
}

/** A worn part is ordered from so much of its life on, a calibration so many days before it ends (judgement). */
const WORN = 0.8
const CALIBRATION_DAYS = 30
const DAY = 86_400_000

export interface FollowUpInput {
  proof: Pick<Proof, 'verdict' | 'reasons' | 'next'>
  log: readonly LoggedEntry[]
  /** Options of the plan in force, in their order; empty without a plan. */
  optionIds: readonly string[]
  kit: Kit
  /** ISO */
  now: string
}

interface SpliceEntry {
  kind: 'splice'
  node: string | null
  chainage: number
  cable: string
  fiber: number
  outcome: 'accepted' | 'redo' | 'stopped'
  ribbon?: readonly unknown[]
}

/** What was left on the link, what was only for a time, which joints were given up, what of the kit runs out. */
export function followUps({ proof, log, optionIds, kit, now }: FollowUpInput): FollowUp[] {
  const reason = proof.reasons.join('; ')
  return [
    // What is not restored yet is no rest: it is the work itself.
    ...(proof.verdict !== 'restored-with-remarks'
      ? []
      : proof.next.map((what): FollowUp => ({ kind: 'link', what, because: reason }))),
    ...(optionIds.at(-1) === 'temporary'
      ? [
          {
            kind: 'permanent' as const,
            what: 'make the temporary repair permanent',
            because: 'the plan ends with a temporary cable: no permanent repair follows it',
          },
        ]
      : []),
    ...givenUp(log),
    ...ofKit(kit, log, now),
  ]
}

/** Joints whose last attempt was stopped. */
function givenUp(log: readonly LoggedEntry[]): FollowUp[] {
  const last = new Map<string, SpliceEntry>()
  for (const entry of splicesOf(log)) last.set(JSON.stringify([entry.node, entry.cable, entry.fiber]), entry)
  return [...last.values()]
    .filter(({ outcome }) => outcome === 'stopped')
    .map(({ cable, fiber }) => ({
      kind: 'splice',
      what: `join fiber ${fiber} of cable ${cable}`,
      because: 'its splice was stopped',
    }))
}

function splicesOf(log: readonly LoggedEntry[]): SpliceEntry[] {
  return standing(log, (earlier, later) => earlier.kind === later.kind).flatMap(({ entry }) =>
    entry.kind === 'splice' ? [entry as SpliceEntry] : [],
  )
}

/** What of the kit a log names as used: ids, and the cords of loss tests by their names. */
function usedIn(log: readonly LoggedEntry[]): ReadonlySet<string> {
  interface Naming {
    kind: string
    setup?: { splicer: string | null; cleaver: string | null }
    source?: string | null
    meter?: string | null
    cords?: string
    check?: Pick<SourceCheck, 'source' | 'meter' | 'cord' | 'thirdCord' | 'sleeve'>
  }
  const named = log.flatMap(({ entry, superseded }) => {
    const { kind, setup, source, meter, cords, check } = entry as Naming
    if (superseded) return []
    if (check)
      return [check.source, check.meter, ...[check.cord, check.thirdCord ?? '', check.sleeve ?? ''].flatMap(cordNames)]
    if (kind === 'splice-session') return [setup!.splicer, setup!.cleaver]
    return kind === 'loss-reference' ? [source, meter, ...cordNames(cords ?? '')] : []
  })
  return new Set(named.filter((one) => one != null))
}

/** Things that this callout used and that are worn, due for calibration, or short for another one like it. */
function ofKit({ items }: Kit, log: readonly LoggedEntry[], now: string): FollowUp[] {
  const used = usedIn(log)
  const own = items.filter(({ id, name }) => used.has(id) || used.has(name))
  const worn = own.flatMap(({ kind, name, wear }): FollowUp[] =>
    wear && wear.used >= WORN * wear.due
      ? [
          {
            kind: 'wear',
            what: `${kindName(kind)} ${name}: turn, exchange or order`,
            because: `${wear.used} of ${wear.due} ${wear.unit}`,
          },
        ]
      : [],
  )
  const cords = cordsToReplace(sourceChecksOf(log)).map(({ what, reason }): FollowUp => ({
    kind: 'wear',
    what: `replace ${what}`,
    because: `the daily check: ${reason}, cleaned and reseated`,
  }))
  const due = own.flatMap(({ kind, name, calibratedUntil }): FollowUp[] =>
    calibratedUntil !== null && Date.parse(calibratedUntil) - Date.parse(now) < CALIBRATION_DAYS * DAY
      ? [
          {
            kind: 'calibration',
            what: `have ${kindName(kind)} ${name} calibrated`,
            because:
              Date.parse(calibratedUntil) < Date.parse(now)
                ? `its calibration ended on ${calibratedUntil}`
                : `its calibration ends on ${calibratedUntil}`,
          },
        ]
      : [],
  )
  const splices = splicesOf(log).filter(({ outcome }) => outcome === 'accepted')
  const ribbons = splices.filter(({ ribbon }) => ribbon !== undefined).length
  const takenOf = {
    'splice sleeve': splices.length - ribbons,
    'ribbon sleeve': ribbons,
    closure: newClosures(acceptedJoints(log)).length,
  }
  const stock = Object.entries(takenOf).flatMap(([kind, taken]): FollowUp[] => {
    const listed = items.filter((item) => item.kind === kind)
    const have = listed.reduce((sum, { count }) => sum + count, 0)
    // What the kit does not list is not known to be short.
    if (taken === 0 || listed.length === 0 || have - taken >= taken) return []
    return [
      {
        kind: 'stock',
        what: `reorder ${kindName(kind)}s`,
        because: `${taken} were used of ${have}: ${Math.max(0, have - taken)} are left, another repair like this takes ${taken}`,
      },
    ]
  })
  return [...worn, ...cords, ...due, ...stock]
}
