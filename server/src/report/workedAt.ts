import { metres } from '@cold-thread/core/units'
import type { ReportEvidence } from './reportEvidence.ts'

/** Places of accepted joints and of cleaned connectors, in the order in which they were first worked at. */
export function workedAt(log: ReportEvidence['log'], plant: ReportEvidence['plant']): string[] {
  const nameOf = (id: string) => plant.nodes.find((node) => node.id === id)?.name ?? id
  const places = log.flatMap(({ entry }) => {
    if (entry.kind === 'cleaning') return [nameOf(entry.node)]
    if (entry.kind !== 'splice' || entry.outcome !== 'accepted') return []
    return [entry.node === null ? `new closure at ${metres(entry.chainage)} of ${entry.cable}` : nameOf(entry.node)]
  })
  return [...new Set(places)]
}
