import type { NewPlan, Plan, StepTime } from '@cold-thread/contract'
import { isDeepStrictEqual } from 'node:util'
import { UniqueConstraintError } from 'sequelize'
import { ObservationRow, PlanRow } from '../db/models.ts'
import { AppError } from '../errors.ts'
import { requireOpen } from './callouts.ts'
import { sheetStepTimes } from './runSheets.ts'
import { createOnce } from './idempotent.ts'

function toPlan({ id, calloutId, version, content, at, by, approval }: PlanRow): Plan {
  return { id, calloutId, version, content, at: at.toISOString(), by, approval }
}

/** All versions of a callout's plan, the newest first. */
export async function listPlans(calloutId: string): Promise<Plan[]> {
  return (await PlanRow.findAll({ where: { calloutId }, order: [['version', 'DESC']] })).map(toPlan)
}

/** Saves a new version of the plan if nobody else did since it was read. */
export async function addPlan(
  calloutId: string,
  id: string,
  { content, version }: NewPlan,
  by: string,
  now: Date,
): Promise<Plan> {
  const row = await createOnce(
    () => PlanRow.findByPk(id),
    (existing) => existing.calloutId === calloutId && isDeepStrictEqual(existing.content, content),
    async () => {
      await requireOpen(calloutId)
      const current = (await listPlans(calloutId))[0]?.version ?? 0
      const stale = `the plan is at version ${current}, this one was made on ${version}`
      if (current !== version) throw new AppError('stale-edit', stale, 'version')
      try {
        return await PlanRow.create({ id, calloutId, version: version + 1, content, at: now, by, approval: null })
      } catch (error) {
        if (error instanceof UniqueConstraintError && !(await PlanRow.findByPk(id)))
          throw new AppError('stale-edit', stale, 'version')
        throw error
      }
    },
  )
  return toPlan(row)
}

/** A lead's approval of the newest version; repeated by the same lead, it changes nothing. */
export async function approvePlan(calloutId: string, id: string, remark: string, by: string, now: Date): Promise<Plan> {
  await requireOpen(calloutId)
  const row = await PlanRow.findByPk(id)
  if (row?.calloutId !== calloutId) throw new AppError('not-found', 'there is no such version of the plan')
  if (row.approval?.by === by && row.approval.remark === remark) return toPlan(row)
  if (row.approval) throw new AppError('plan-approved')
  const newest = (await listPlans(calloutId))[0]!
  if (newest.id !== id) throw new AppError('plan-outdated', `version ${newest.version} is newer than ${row.version}`)
  await row.update({ approval: { by, at: now.toISOString(), remark } })
  return toPlan(row)
}

/** Minutes of all steps done that stand, over all callouts: of the plan's lines, and of parts of run sheets. */
export async function listStepTimes(): Promise<StepTime[]> {
  const [rows, ofSheets] = await Promise.all([
    ObservationRow.findAll({ attributes: ['id', 'entry', 'supersedes'] }),
    sheetStepTimes(),
  ])
  const superseded = new Set(rows.map((row) => row.supersedes))
  const ofPlans = rows.flatMap(({ id, entry }) =>
    entry.kind === 'step' && !superseded.has(id)
      ? [{ step: entry.step, minutes: entry.minutes, byRules: entry.planned / (entry.stretch ?? 1) }]
      : [],
  )
  return [...ofPlans, ...ofSheets.map(({ kind, ...times }) => ({ step: kind, ...times }))]
}
