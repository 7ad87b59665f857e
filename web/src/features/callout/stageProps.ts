import type { Account, Callout } from '@cold-thread/contract'
import type { Link, PlantBundle } from '@cold-thread/core/plant'

/** What every stage of a callout gets. */
export interface StageProps {
  account: Account
  callout: Callout
  plant: PlantBundle
  link: Link
}
