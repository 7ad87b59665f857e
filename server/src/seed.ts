import type { NewAccount, OpenBook } from '@cold-thread/contract'
import type { Kit } from '@cold-thread/core/kit'
import type { PlantBundle } from '@cold-thread/core/plant'
import { AccountRow, CalloutRow, ObservationRow, SignOffRow, TraceRow, type Practice } from './db/models.ts'
import { addAccount, hasAccounts } from './stores/accounts.ts'
import type { NewTrace } from './stores/traces.ts'
import { saveKit } from './stores/kits.ts'
import { saveOpenBook } from './stores/openBooks.ts'
import { savePlant } from './stores/plants.ts'
import type { InferCreationAttributes } from 'sequelize'

/** Everything that a ready-made installation starts with. */
export interface SeedData {
  accounts: NewAccount[]
  plant: PlantBundle
  plantSavedBy: string
  kit: Kit
  openBook: OpenBook
  callouts: (Omit<InferCreationAttributes<CalloutRow>, 'practice'> & { practice: Practice | null })[]
  traces: NewTrace[]
  observations: InferCreationAttributes<ObservationRow>[]
  signOffs: InferCreationAttributes<SignOffRow>[]
}

export async function isEmpty(): Promise<boolean> {
  return !(await hasAccounts()) && (await AccountRow.count()) === 0
}

/** Fills an empty installation. */
export async function seed(data: SeedData, now: Date): Promise<void> {
  for (const account of data.accounts) await addAccount(account)
  await savePlant(data.plant, 0, data.plantSavedBy, now)
  await saveKit(data.kit, 0, data.plantSavedBy, now)
  await saveOpenBook(data.openBook, 0, data.plantSavedBy, now)
  await CalloutRow.bulkCreate(data.callouts)
  for (const trace of data.traces) await TraceRow.create(trace)
  await ObservationRow.bulkCreate(data.observations)
  await SignOffRow.bulkCreate(data.signOffs)
}
