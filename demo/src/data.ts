import type { NewAccount, LogEntry, TraceRole } from '@cold-thread/contract'
import type { Direction } from '@cold-thread/core/plant'
import { proveRepair, type Proof } from '@cold-thread/core/prove'
import { traceFacts, type TraceFacts } from '@cold-thread/core/report'
import { seedFrom } from '@cold-thread/core/math'
import { plantBehindRecords, repaired, shootLink, standInSeed, type Damage } from '@cold-thread/core/sim'
import { analyzeTrace, decodeTrace, type TraceAnalysis, type TraceWarning } from '@cold-thread/core/trace'
import { createHash } from 'node:crypto'
import { v7 as uuidv7 } from 'uuid'
import { THRUSHMERE_KIT } from './kit.ts'
import { THRUSHMERE_OPEN_BOOK } from './openBook.ts'
import { THRUSHMERE } from './plant.ts'

/** The demo's four sign-ins. Printed at start; never part of an installation without demo data. */
export const DEMO_SIGN_INS = [
  { name: 'tech', displayName: 'Night technician', role: 'technician', password: 'thrushmere-tech' },
  { name: 'lead', displayName: 'Duty lead', role: 'lead', password: 'thrushmere-lead' },
  { name: 'records', displayName: 'Records desk', role: 'records keeper', password: 'thrushmere-records' },
  { name: 'viewer', displayName: 'Operations desk', role: 'viewer', password: 'thrushmere-viewer' },
] as const

interface DemoTrace {
  id: string
  linkId: string
  calloutId: string | null
  role: TraceRole
  direction: Direction
  launchCord: number
  receiveCord: number
  fileName: string
  sha256: string
  byteCount: number
  content: Buffer
  facts: TraceFacts
  warnings: TraceWarning[]
  simulated: boolean
  addedAt: Date
  addedBy: string
}

interface DemoCallout {
  id: string
  linkId: string
  title: string
  alarm: string
  openedAt: Date
  openedBy: string
  assignedTo: string | null
  practice: { seed: number; damages: Damage[] }
  version: number
}

const CORD = 500
const WAVELENGTHS = [1310, 1550] as const
const HOUR = 3_600_000
/** Links whose baselines nobody ever took. */
const WITHOUT_BASELINE = ['pump-telemetry', 'towpath-radio', 'sluice-telemetry']

/** Faults of the callouts, and more that plans are tried on. */
export const DEMO_DAMAGES = {
  break: { at: { chainage: 12_731 }, breaks: true, reflectance: -42 },
  splice: { at: { node: 'lock-9' }, breaks: false, loss: 0.9 },
  bend: { at: { chainage: 21_430 }, breaks: false, loss: { '1310': 0.12, '1550': 0.8, '1625': 1.7 } },
  connector: { at: { node: 'visitor-centre' }, breaks: false, loss: 1.1, reflectance: -32 },
  cut: { at: { chainage: 24_060 }, breaks: true, reflectance: null },
  dressing: { at: { node: 'aqueduct' }, breaks: false, loss: { '1310': 0.1, '1550': 0.9, '1625': 1.9 } },
  tube: { at: { node: 'weir' }, breaks: true, reflectance: -48 },
} satisfies Record<string, Damage>

/** Shoots a link of the demo plant from both ends at both wavelengths. */
export function shootBothWays(linkId: string, role: TraceRole, damage: Damage | null, takenAt: Date, again = 0) {
  const seed = standInSeed(THRUSHMERE)
  const truth = plantBehindRecords(THRUSHMERE, seed)
  const damages = damage === null || role === 'baseline' ? [] : role === 'after' ? [repaired(damage, seed)] : [damage]
  return (['ab', 'ba'] as const).flatMap((direction) =>
    WAVELENGTHS.map((wavelength) => {
      const content = shootLink(
        truth,
        linkId,
        { seed },
        {
          direction,
          wavelength,
          cords: { launch: CORD, receive: CORD },
          takenAt: takenAt.toISOString(),
          condition: role === 'baseline' ? 'BC' : role === 'present' ? 'CC' : 'RC',
          seed: seedFrom(linkId, role, direction, wavelength, ...(again > 0 ? [again] : [])),
          damages,
        },
      )
      return {
        direction,
        wavelength,
        fileName: `${linkId}-${role}-${direction}-${wavelength}.sor`,
        content: Buffer.from(content),
      }
    }),
  )
}

/**
 * The Thrushmere Navigation in its first form: one route, four cables, seven nodes, six links, three of them with baselines
 * both ways, a kit, and five callouts: one fresh, one cut to be planned, one repaired and waiting for proof, one with a
 * bend in the cable, one closed.
 */
export function demoData(now: Date) {
  const ago = (hours: number) => new Date(now.getTime() - hours * HOUR)
  const accounts: NewAccount[] = DEMO_SIGN_INS.map((signIn) => ({ id: uuidv7(), ...signIn }))
  const traces: DemoTrace[] = []
  const analyses = new Map<string, TraceAnalysis>()
  const add = (
    linkId: string,
    calloutId: string | null,
    role: TraceRole,
    damage: Damage | null,
    at: Date,
    by: string,
  ) => {
    const added = shootBothWays(linkId, role, damage, at).map((shot): DemoTrace => {
      const analysis = analyzeTrace(decodeTrace(shot.content))
      const id = uuidv7()
      analyses.set(id, analysis)
      return {
        id,
        linkId,
        calloutId,
        role,
        direction: shot.direction,
        launchCord: CORD,
        receiveCord: CORD,
        fileName: shot.fileName,
        sha256: createHash('sha256').update(shot.content).digest('hex'),
        byteCount: shot.content.length,
        content: shot.content,
        facts: traceFacts(analysis.trace),
        warnings: analysis.warnings,
        simulated: true,
        addedAt: at,
        addedBy: by,
      }
    })
    traces.push(...added)
    return added
  }
  for (const link of THRUSHMERE.links.filter(({ id }) => !WITHOUT_BASELINE.includes(id)))
    add(link.id, null, 'baseline', null, ago(24 * 400), 'Records desk')

  const callout = (
    linkId: string,
    title: string,
    alarm: string,
    opened: Date,
    damage: Damage,
    assigned: boolean,
  ): DemoCallout => ({
    id: uuidv7(),
    linkId,
    title,
    alarm,
    openedAt: opened,
    openedBy: 'Duty lead',
    assignedTo: assigned ? 'Night technician' : null,
    practice: { seed: 0, damages: [damage] },
    version: 1,
  })
  const fresh = callout(
    'level-control',
    'Level control link is down',
    'Loss of light at both ends, 02:14. A digger was seen on the towpath beyond Pump House 3.',
    ago(1.2),
    DEMO_DAMAGES.break,
    true,
  )
  const repairing = callout(
    'visitor-wan',
    'Office network shows errors',
    'Received power at the visitor centre fell by 0.9 dB after work at Lock 9.',
    ago(9),
    DEMO_DAMAGES.splice,
    true,
  )
  const closed = callout(
    'gauge-telemetry',
    'Flood telemetry drops out',
    'Telemetry drops out in damp weather; panel at the visitor centre was opened last week.',
    ago(60),
    DEMO_DAMAGES.connector,
    true,
  )
  const bent = callout(
    'level-control',
    'Lock cameras flicker',
    'Received power at the gauge house fell by 0.8 dB within a day; duct work beside the towpath since Monday.',
    ago(30),
    DEMO_DAMAGES.bend,
    false,
  )
  const cut = callout(
    'visitor-wan',
    'Links beyond Reed Island are down',
    'Four links lost light at once; a mooring post was being driven beside the towpath.',
    ago(2.4),
    DEMO_DAMAGES.cut,
    true,
  )
  add('visitor-wan', cut.id, 'present', DEMO_DAMAGES.cut, ago(2), 'Night technician')
  add('level-control', bent.id, 'present', DEMO_DAMAGES.bend, ago(28), 'Night technician')
  add('visitor-wan', repairing.id, 'present', DEMO_DAMAGES.splice, ago(8), 'Night technician')
  add('gauge-telemetry', closed.id, 'present', DEMO_DAMAGES.connector, ago(58), 'Night technician')
  const after = add('gauge-telemetry', closed.id, 'after', DEMO_DAMAGES.connector, ago(56), 'Night technician')

  const observation = (calloutId: string, entry: LogEntry, at: Date) => ({
    id: uuidv7(),
    calloutId,
    entry,
    observedAt: at,
    receivedAt: at,
    by: 'Night technician',
    supersedes: null,
  })
  const splice = { kind: 'splice', node: 'lock-9', chainage: 8_230, cable: 'TN-2', fiber: 7 } as const
  const observations = [
    observation(
      repairing.id,
      { kind: 'note', text: 'Fiber 7 found pinched under the tray cover at Lock 9.' },
      ago(6.5),
    ),
    observation(
      repairing.id,
      { ...splice, attempt: 1, estimate: 0.14, cleaveLeft: 1.3, cleaveRight: 0.4, outcome: 'redo', remark: '' },
      ago(6.2),
    ),
    observation(
      repairing.id,
      { ...splice, attempt: 2, estimate: 0.02, cleaveLeft: 0.4, cleaveRight: 0.3, outcome: 'accepted', remark: '' },
      ago(6.1),
    ),
    observation(
      closed.id,
      { kind: 'cleaning', node: 'visitor-centre', outcome: 'clean', remark: 'Two passes.' },
      ago(57),
    ),
  ]

  const toShot = (trace: DemoTrace) => ({
    name: trace.fileName,
    direction: trace.direction,
    analysis: analyses.get(trace.id)!,
    launch: trace.launchCord,
    receive: trace.receiveCord,
  })
  const baseline = traces.filter((trace) => trace.role === 'baseline' && trace.linkId === closed.linkId)
  const proof: Proof = proveRepair({
    plant: THRUSHMERE,
    linkId: closed.linkId,
    baseline: baseline.map(toShot),
    after: after.map(toShot),
  })
  const signOff = {
    id: uuidv7(),
    calloutId: closed.id,
    at: ago(55),
    by: 'Duty lead',
    evidence: createHash('sha256')
      .update(after.map((trace) => trace.sha256).join('\n'))
      .digest('hex'),
    remark: 'Adapter cleaned, both ends inspected.',
    cause: 'connector' as const,
    proof,
  }
  return {
    accounts,
    plant: THRUSHMERE,
    plantSavedBy: 'Records desk',
    kit: THRUSHMERE_KIT,
    openBook: THRUSHMERE_OPEN_BOOK,
    callouts: [fresh, cut, repairing, bent, closed],
    traces,
    observations,
    signOffs: [signOff],
  }
}
