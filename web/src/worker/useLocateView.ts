import type { TraceRecord } from '@cold-thread/contract'
import type { Evidence } from '@cold-thread/core/locate'
import type { PlantBundle } from '@cold-thread/core/plant'
import { useEffect, useState } from 'react'
import { fileOf } from '../field/files.ts'
import { workers } from './workers.ts'
import type { LocateView, TraceInput } from './view.ts'

export type LocateStatus =
  { status: 'working' } | { status: 'ready'; view: LocateView } | { status: 'failed'; problem: string }

/** The Locate view of a link, computed in the worker whenever the standing traces change. */
export function useLocateView(
  plant: PlantBundle | null,
  linkId: string,
  traces: readonly TraceRecord[] | undefined,
  evidence: readonly Evidence[],
): LocateStatus {
  const [outcome, setOutcome] = useState<{ key: string; state: LocateStatus } | null>(null)
  const used = traces?.filter((trace) => !trace.withdrawn && trace.role !== 'after')
  const key = used ? JSON.stringify([used.map((trace) => [trace.id, trace.role]), evidence]) : ''

  useEffect(() => {
    if (!plant || !used) return
    let current = true
    const compute = async (): Promise<LocateStatus> => {
      const own = used.filter((trace) => trace.role === 'baseline' && trace.calloutId !== null)
      const baselines = own.length > 0 ? own : used.filter((trace) => trace.role === 'baseline')
      const outcome = await workers.core().locate({
        plant,
        linkId,
        baseline: await Promise.all(latest(baselines).map(toInput)),
        present: await Promise.all(latest(used.filter((trace) => trace.role === 'present')).map(toInput)),
        evidence: [...evidence],
      })
      return 'view' in outcome
        ? { status: 'ready', view: outcome.view }
        : { status: 'failed', problem: outcome.problem }
    }
    compute()
      .catch((error: unknown): LocateStatus => ({
        status: 'failed',
        problem: error instanceof Error ? error.message : String(error),
      }))
      .then((state) => current && setOutcome({ key, state }))
    return () => {
      current = false
    }
    // `key` stands for `used` and `evidence`.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [plant, linkId, key])

  return outcome && outcome.key === key ? outcome.state : { status: 'working' }
}

/** A later trace of the same direction and wavelength replaces an earlier one. */
function latest(traces: readonly TraceRecord[]): TraceRecord[] {
  return [...new Map(traces.map((trace) => [`${trace.direction} ${trace.facts.wavelength}`, trace])).values()]
}

async function toInput(trace: TraceRecord): Promise<TraceInput> {
  return {
    id: trace.id,
    name: trace.fileName,
    direction: trace.direction,
    launch: trace.launchCord,
    receive: trace.receiveCord,
    bytes: await fileOf(trace),
  }
}
