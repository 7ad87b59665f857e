import type { Corrections, NewCorrection, PlantRecord, RecordFindings } from '@cold-thread/contract'
import { progressOf, recordFinding, sheetEvents } from '@cold-thread/core/open'
import { correctCable, correctionInWords } from '@cold-thread/core/plant'
import { v7 as uuidv7 } from 'uuid'
import { CalloutRow, CorrectionRow } from '../db/models.ts'
import { AppError } from '../errors.ts'
import { currentPlant, requirePlant, savePlant } from './plants.ts'
import { allSheets } from './runSheets.ts'

/**
 * Puts a cable's record right: a new version of the plant, with who, when and why. Without changes the record stands, and
 * only that it was looked at is kept.
 * @throws PlantError where the corrected record would contradict itself
 */
export async function correctRecord(correction: NewCorrection, by: string, now: Date): Promise<PlantRecord> {
  const { cable, changes, reason, version } = correction
  const plant = await requirePlant()
  const before = plant.cables.find(({ id }) => id === cable)
  if (!before) throw new AppError('not-found', `the plant record has no cable “${cable}”`, 'cable')
  const words = correctionInWords(before, changes)
  const kept = { id: uuidv7(), cable, words, reason, at: now, by }
  if (words.length === 0) {
    await CorrectionRow.create(kept)
    return currentPlant()
  }
  const corrected = correctCable(plant, cable, changes)
  return CorrectionRow.sequelize!.transaction(async (transaction) => {
    await CorrectionRow.create(kept, { transaction })
    return savePlant(corrected, version, by, now, transaction)
  })
}

/** All corrections, newest first. */
export async function listCorrections(): Promise<Corrections> {
  const rows = await CorrectionRow.findAll({ order: [['at', 'DESC']] })
  return rows.map(({ id, cable, words, reason, at, by }) => ({ id, cable, words, reason, at: at.toISOString(), by }))
}

/** What run sheets found otherwise than the record has it now; not what somebody looked at since. Newest first. */
export async function openFindings(): Promise<RecordFindings> {
  const { bundle } = await currentPlant()
  if (!bundle) return []
  const [sheets, callouts, corrections] = await Promise.all([
    allSheets(),
    CalloutRow.findAll({ attributes: ['id', 'title'] }),
    listCorrections(),
  ])
  const out: RecordFindings = []
  for (const { sheet, begun, log } of sheets) {
    const cable = bundle.cables.find(({ id }) => id === sheet.facts.cable)
    const finding = cable && recordFinding(sheet, progressOf(sheet, sheetEvents(begun.id, log)), cable)
    if (!finding) continue
    const { entries, ...found } = finding
    const newest = log.findLast(({ id }) => entries.includes(id)) ?? begun
    if (corrections.some((one) => one.cable === found.cable && one.at >= newest.receivedAt)) continue
    const title = callouts.find(({ id }) => id === begun.calloutId)?.title ?? ''
    out.push({ calloutId: begun.calloutId, title, at: newest.observedAt, by: newest.by, ...found })
  }
  return out.sort((a, b) => b.at.localeCompare(a.at))
}
