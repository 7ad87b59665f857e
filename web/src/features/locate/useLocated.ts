import type { EvidenceEntry, MarkEntry, Observation } from '@cold-thread/contract'
import { useObservationsQuery, useTracesQuery } from '../../api/api.ts'
import { useLocateView, type LocateStatus } from '../../worker/useLocateView.ts'
import type { StageProps } from '../callout/stageProps.ts'

export type EvidenceObservation = Observation & { entry: EvidenceEntry }

/** The evidence of a callout that stands: not superseded, oldest first. */
export function standingEvidence(log: readonly Observation[] | undefined): EvidenceObservation[] {
  return (log ?? []).filter(
    (observation): observation is EvidenceObservation =>
      observation.entry.kind === 'evidence' && !observation.superseded,
  )
}

export type MarkObservation = Observation & { entry: MarkEntry }

/** People's marks on traces that stand. */
export function standingMarks(log: readonly Observation[] | undefined): MarkObservation[] {
  return (log ?? []).filter(
    (observation): observation is MarkObservation => observation.entry.kind === 'mark' && !observation.superseded,
  )
}

/** Where the fault is by the standing traces and evidence of a callout. */
export function useLocated({ callout, plant }: Pick<StageProps, 'callout' | 'plant'>): LocateStatus {
  const { data: traces } = useTracesQuery(callout.id)
  const { data: log } = useObservationsQuery(callout.id, { pollingInterval: 15_000 })
  const evidence = standingEvidence(log).map((observation) => observation.entry.evidence)
  return useLocateView(plant, callout.linkId, log ? traces : undefined, evidence)
}
