import type { Callout, CalloutEdit, NewCallout } from '@cold-thread/contract'
import {
  CalloutRow,
  ObservationRow,
  PlanRow,
  SignOffRow,
  TraceRow,
  WithdrawalRow,
  type Practice,
} from '../db/models.ts'
import { AppError } from '../errors.ts'
import { createOnce } from './idempotent.ts'

/** Open until a splice or cleaning is logged or an after trace taken, then proving; closed by the sign-off. */
async function withState(rows: readonly CalloutRow[]): Promise<Callout[]> {
  const ids = rows.map((row) => row.id)
  const [signOffs, observations, traces, withdrawn, plans] = await Promise.all([
    SignOffRow.findAll({ where: { calloutId: ids }, attributes: ['calloutId', 'at', 'cause'] }),
    ObservationRow.findAll({ where: { calloutId: ids }, attributes: ['calloutId', 'entry'] }),
    TraceRow.findAll({
      where: { calloutId: ids, role: ['present', 'after'] },
      attributes: ['id', 'calloutId', 'role'],
    }),
    WithdrawalRow.findAll(),
    PlanRow.findAll({
      where: { calloutId: ids },
      attributes: ['calloutId', 'approval'],
      order: [['version', 'ASC']],
    }),
  ])
  const gone = new Set(withdrawn.map((row) => row.traceId))
  const standing = traces.filter((row) => !gone.has(row.id))
  const repairing = new Set([
    ...observations
      .filter((row) => row.entry.kind === 'splice' || row.entry.kind === 'cleaning')
      .map((row) => row.calloutId),
    ...standing.filter((row) => row.role === 'after').map((row) => row.calloutId),
  ])
  const shot = new Set(standing.filter((row) => row.role === 'present').map((row) => row.calloutId))
  const newest = new Map(plans.map((row) => [row.calloutId, row]))
  return rows.map((row) => {
    const plan = newest.get(row.id)
    const signed = signOffs.find((signOff) => signOff.calloutId === row.id)
    const closedAt = signed?.at ?? null
    return {
      id: row.id,
      linkId: row.linkId,
      title: row.title,
      alarm: row.alarm,
      state: closedAt ? 'closed' : repairing.has(row.id) ? 'proving' : 'open',
      openedAt: row.openedAt.toISOString(),
      openedBy: row.openedBy,
      assignedTo: row.assignedTo,
      closedAt: closedAt?.toISOString() ?? null,
      simulated: row.practice !== null,
      shot: shot.has(row.id),
      plan: plan ? (plan.approval ? 'approved' : 'saved') : null,
      cause: signed?.cause ?? null,
      version: row.version,
    }
  })
}

export async function listCallouts(): Promise<Callout[]> {
  return withState(await CalloutRow.findAll({ order: [['openedAt', 'DESC']] }))
}

export async function findCallout(id: string): Promise<Callout> {
  return (await withState([await requireCallout(id)]))[0]!
}

/** The callout as it is stored: for who needs no more than its link. @throws AppError when there is none */
export async function requireCallout(id: string): Promise<CalloutRow> {
  const row = await CalloutRow.findByPk(id)
  if (!row) throw new AppError('not-found', 'there is no such callout')
  return row
}

/** @throws AppError when the callout does not exist or takes no more entries */
export async function requireOpen(id: string): Promise<CalloutRow> {
  const [row, signOff] = await Promise.all([
    requireCallout(id),
    SignOffRow.findOne({ where: { calloutId: id }, attributes: ['id'] }),
  ])
  if (signOff) throw new AppError('callout-closed')
  return row
}

export async function addCallout(
  id: string,
  entry: NewCallout,
  practice: Practice | null,
  by: string,
  now: Date,
): Promise<Callout> {
  const row = await createOnce(
    () => CalloutRow.findByPk(id),
    (existing) => existing.linkId === entry.linkId && existing.openedBy === by,
    () =>
      CalloutRow.create({
        id,
        linkId: entry.linkId,
        title: entry.title,
        alarm: entry.alarm,
        openedAt: now,
        openedBy: by,
        assignedTo: null,
        practice,
        version: 1,
      }),
  )
  return (await withState([row]))[0]!
}

/** Changes a callout if nobody else did since it was read. */
export async function editCallout(id: string, edit: CalloutEdit): Promise<Callout> {
  await requireOpen(id)
  const { version, ...changes } = edit
  const [changed] = await CalloutRow.update({ ...changes, version: version + 1 }, { where: { id, version } })
  if (changed === 0) {
    const current = await requireCallout(id)
    throw new AppError(
      'stale-edit',
      `the callout is at version ${current.version}, this change was made on ${version}`,
      'version',
    )
  }
  return findCallout(id)
}
