import type { AsBuiltChanges, SignOff } from '@cold-thread/contract'
import { asBuilt, type PlannedSection } from '@cold-thread/core/prove'
import { v7 as uuidv7 } from 'uuid'
import { CorrectionRow, TraceRow } from './db/models.ts'
import { evidenceOn } from './proof.ts'
import { requireCallout } from './stores/callouts.ts'
import { listPlans } from './stores/plans.ts'
import { currentPlant, savePlant } from './stores/plants.ts'
import { addSignOff } from './stores/signOffs.ts'
import { promote } from './stores/traces.ts'

/** What closing a callout changes in the record, and which traces become the link's baseline. */
export async function closingChanges(calloutId: string, added: number | null): Promise<AsBuiltChanges> {
  const [{ plant, link, after, observations }, section] = await Promise.all([
    evidenceOn(calloutId),
    plannedSection(calloutId),
  ])
  const { changes } = asBuilt(plant, { linkId: link.id, calloutId, log: observations, added, section })
  return { changes, baselines: after.map(({ fileName }) => fileName) }
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
  const [rows, promoted] = await Promise.all([
    CorrectionRow.findAll({ where: { at: then } }),
    TraceRow.findAll({
      where: { linkId, role: 'baseline', calloutId: null, addedAt: then },
      attributes: ['fileName'],
      order: [['id', 'ASC']],
    }),
  ])
  return {
    changes: rows.map(({ cable, words }) => ({ cable, words })),
    baselines: promoted.map(({ fileName }) => fileName),
  }
}

/**
 * Closes a callout: the signature, the record as built with who and why, and the traces after the repair as the link's new
 * baseline; all or nothing.
 * @throws AppError `stale-edit` where the record was changed in the meantime
 */
export async function closeCallout(signOff: Omit<SignOff, 'at'>, now: Date): Promise<SignOff> {
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
    return signed
  })
}
