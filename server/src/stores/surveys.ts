import type { SurveyReading, SurveyRole } from '@cold-thread/contract'
import type { InferCreationAttributes } from 'sequelize'
import { SurveyRow, WithdrawalRow } from '../db/models.ts'
import { requireOpen } from './callouts.ts'
import { createOnce } from './idempotent.ts'

const WITHOUT_CONTENT = { exclude: ['content'] }

function toReading({ id, fileName, addedAt, addedBy, reading }: SurveyRow): SurveyReading {
  return { traceId: id, fileName, addedAt: addedAt.toISOString(), addedBy, reading }
}

/** Keeps a survey's file as it came, with its reading. Sent twice, it is one. */
export async function addSurveyTrace(row: InferCreationAttributes<SurveyRow>): Promise<SurveyReading> {
  const saved = await createOnce(
    () => SurveyRow.findByPk(row.id, { attributes: WITHOUT_CONTENT }),
    (existing) =>
      existing.sha256 === row.sha256 &&
      existing.calloutId === row.calloutId &&
      existing.fiber === row.fiber &&
      existing.role === row.role,
    async () => {
      await requireOpen(row.calloutId)
      return SurveyRow.create({ ...row })
    },
  )
  return toReading(saved)
}

/** The survey's readings that stand, of the cable with the fault there. */
export async function surveyReadings(calloutId: string): Promise<SurveyReading[]> {
  return (await surveyRows(calloutId, 'present')).map(toReading)
}

/** The files of a survey that stand, without their content; of one fiber, end and wavelength the latest. */
export async function surveyRows(calloutId: string, role: SurveyRole): Promise<SurveyRow[]> {
  const rows = await SurveyRow.findAll({
    where: { calloutId, role },
    attributes: WITHOUT_CONTENT,
    order: [
      ['addedAt', 'ASC'],
      ['id', 'ASC'],
    ],
  })
  const withdrawn = await WithdrawalRow.findAll({ where: { traceId: rows.map((row) => row.id) } })
  const gone = new Set(withdrawn.map((row) => row.traceId))
  const latest = new Map<string, SurveyRow>()
  for (const row of rows)
    if (!gone.has(row.id)) latest.set(`${row.fiber} ${row.direction} ${row.reading.wavelength}`, row)
  return [...latest.values()]
}

/** What files of surveys are called, by id. */
export async function surveyFileNames(ids: readonly string[]): Promise<Map<string, string>> {
  const rows = await SurveyRow.findAll({ where: { id: [...ids] }, attributes: ['id', 'fileName'] })
  return new Map(rows.map(({ id, fileName }) => [id, fileName]))
}

/** Takes the survey out of the evidence; its files are kept. */
export async function withdrawSurvey(calloutId: string, role: SurveyRole, by: string, now: Date): Promise<void> {
  await requireOpen(calloutId)
  const rows = await SurveyRow.findAll({ where: { calloutId, role }, attributes: ['id'] })
  await WithdrawalRow.bulkCreate(
    rows.map((row) => ({ traceId: row.id, at: now, by })),
    { ignoreDuplicates: true },
  )
}
