import type { AsBuiltChanges, SignOff } from '@cold-thread/contract'
import { asBuilt, type PlannedSection } from '@cold-thread/core/prove'
import { v7 as uuidv7 } from 'uuid'
import { otherLinksProved, type ProvedLink } from './cableProofs.ts'
import { CorrectionRow, SurveyRow, TraceRow } from './db/models.ts'
import type { JobPool } from './jobs/pool.ts'
import { evidenceOn } from './proof.ts'
import { requireCallout } from './stores/callouts.ts'
import { listPlans } from './stores/plans.ts'
import { currentPlant, requirePlant, savePlant } from './stores/plants.ts'
import { addSignOff } from './stores/signOffs.ts'
import { surveyFileNames } from './stores/surveys.ts'
import { promote, promoteSurvey } from './stores/traces.ts'

/** What closing a callout changes in the record, and which traces become baselines. */
export async function closingChanges(calloutId: string, added: number | null): Promise<AsBuiltChanges> {
  const [{ plant, link, after, observations }, section, proved] = await Promise.all([
    evidenceOn(calloutId),
    plannedSection(calloutId),
    otherLinksProved(calloutId),
  ])
  const { changes } = asBuilt(plant, { linkId: link.id, calloutId, log: observations, added, section })
  const names = await surveyFileNames(proved.flatMap(({ files }) => files))
  return {
    changes,
    baselines: after.map(({ fileName }) => fileName),
    others: proved.map((one) => ({
      link: one.link.name,
      baselines: one.files.map((file) => names.get(file) ?? file),
    })),
  }
}

/** The section of new cable that the newest plan has; null where it has none. */
async function plannedSection(calloutId: string): Promise<PlannedSection | null> {
  const content = (await listPlans(calloutId))[0]?.content
  return content?.optionIds.includes('section') ? { cable: content.cable, chainage: content.chainage } : null
}

/** What closing a callout changed, as it was written down then; one closed by an earlier version changed nothing. */
export async function recordedChanges({ at, calloutId }: SignOff): Promise<AsBuiltChanges> {
  const { linkId } = await requireCallout(calloutId)
  const then = new Date(at)
  const [rows, promoted, plant] = await Promise.all([
    CorrectionRow.findAll({ where: { at: then } }),
    TraceRow.findAll({
      where: { role: 'baseline', calloutId: null, addedAt: then },
      attributes: ['linkId', 'fileName'],
      order: [['id', 'ASC']],
    }),
    requirePlant(),
  ])
  const filesOf = (id: string) => promoted.flatMap((row) => (row.linkId === id ? [row.fileName] : []))
  const others = [...new Set(promoted.map((row) => row.linkId))].filter((id) => id !== linkId)
  return {
    changes: rows.map(({ cable, words }) => ({ cable, words })),
    baselines: filesOf(linkId),
    others: others.map((id) => ({
      link: plant.links.find((link) => link.id === id)?.name ?? id,
      baselines: filesOf(id),
    })),
  }
}

/**
 * Closes a callout: the signature, the record as built with who and why, and the traces after the repair as the link's new
 * baseline, and as that of every other link whose fiber was shot and is restored; all or nothing.
 * @throws AppError `stale-edit` where the record was changed in the meantime
 */
export async function closeCallout(signOff: Omit<SignOff, 'at'>, now: Date, jobs: JobPool): Promise<SignOff> {
  const { calloutId, proof } = signOff
  const [{ link, callout, after, observations }, section, proved] = await Promise.all([
    evidenceOn(calloutId),
    plannedSection(calloutId),
    otherLinksProved(calloutId),
  ])
  const others = await inspected(proved, jobs)
  const { bundle, version } = await currentPlant()
  const done = { linkId: link.id, calloutId, log: observations, added: proof.added, section }
  const { plant, changes } = asBuilt(bundle!, done)
  return CorrectionRow.sequelize!.transaction(async (transaction) => {
    const signed = await addSignOff(signOff, now, transaction)
    // Sent twice: it was closed then, with all that follows.
    if (signed.at !== now.toISOString()) return signed
    const reason = `as built, by callout “${callout.title}”`
    for (const { cable, words } of changes)
      await CorrectionRow.create({ id: uuidv7(), cable, words, reason, at: now, by: signOff.by }, { transaction })
    if (changes.length > 0) await savePlant(plant, version, signOff.by, now, transaction)
    await promote(after, signOff.by, now, transaction)
    for (const { file, linkId, ...facts } of others)
      await promoteSurvey((await SurveyRow.findByPk(file))!, linkId, facts, signOff.by, now, transaction)
    return signed
  })
}

/** What the files of other links say of themselves, read one after the other: a cable has many. */
async function inspected(
  proved: readonly ProvedLink[],
  jobs: JobPool,
): Promise<(Pick<TraceRow, 'facts' | 'warnings'> & { file: string; linkId: string })[]> {
  const found = []
  for (const { link, files } of proved)
    for (const file of files) {
      const { content } = (await SurveyRow.findByPk(file))!
      found.push({ file, linkId: link.id, ...(await jobs.run('inspect', content)) })
    }
  return found
}
