import type { AsBuiltChanges, SignOff } from '@cold-thread/contract'
import { asBuilt, type PlannedSection } from '@cold-thread/core/prove'
import { v7 as uuidv7 } from 'uuid'
import { otherLinksProved } from './cableProofs.ts'
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
 * @param others of {@link promotable}
 * @throws AppError `stale-edit` where the record was changed in the meantime
 */
export async function closeCallout(
  signOff: Omit<SignOff, 'at'>,
  now: Date,
  others: readonly Promotable[],
): Promise<SignOff> {
  const { calloutId, proof } = signOff
  const [{ link, callout, after, observations }, section] = await Promise.all([
    evidenceOn(calloutId),
    plannedSection(calloutId),
  ])
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

/** A survey's file that becomes the baseline of another link, with what it says of itself. */
export type Promotable = Pick<TraceRow, 'facts' | 'warnings'> & { file: string; linkId: string }

/** Files that are read at a time: as many as the pool has threads. */
const IN_FLIGHT = 2

/**
 * The files that closing makes baselines of other links, read: of a large cable that takes its time, and is done before the
 * evidence is held against what was signed.
 */
export async function promotable(calloutId: string, jobs: JobPool): Promise<Promotable[]> {
  const proved = await otherLinksProved(calloutId)
  const all = proved.flatMap(({ link, files }) => files.map((file) => ({ file, linkId: link.id })))
  const found: Promotable[] = []
  for (let k = 0; k < all.length; k += IN_FLIGHT)
    found.push(
      ...(await Promise.all(
        all.slice(k, k + IN_FLIGHT).map(async ({ file, linkId }) => {
          const { content } = (await SurveyRow.findByPk(file))!
          return { file, linkId, ...(await jobs.run('inspect', content)) }
        }),
      )),
    )
  return found
}
