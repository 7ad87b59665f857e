import { coreInWords, type FiberCore } from '../../fiber/fiberKind.ts'

/** A connector with its polish, as `LC/UPC`. */
export type Connector = string

/** Test cords for a loss test. */
export interface CordChoice {
  cords: { from: Connector; to: Connector; count: number }[]
  adapters: { fit: Connector; count: number }[]
  meterCap: '2.5 mm' | '1.25 mm' | null
  words: string[]
}

const CAPS: Record<string, '2.5 mm' | '1.25 mm'> = { SC: '2.5 mm', ST: '2.5 mm', FC: '2.5 mm', LC: '1.25 mm' }

/** What a link ends in: a panel's adapter, an open connector, or a bare panel end that goes into the meter. */
export type LinkFinish = { kind: 'panel' | 'open'; connector: Connector }

/**
 * Test cords by what the link ends in. Common practice, no published source: panels at both ends take two cords, one
 * panel takes one (the open end goes into the meter), open connectors at both ends take two and an adapter at each.
 * @param instrument connector of the source and meter
 * @param core of the link's fiber; null where the record does not tell
 */
export function chooseCords(
  instrument: Connector,
  from: LinkFinish,
  to: LinkFinish,
  core: FiberCore | null,
): CordChoice {
  const open = [from, to].filter(({ kind }) => kind === 'open')
  const panels = [from, to].filter(({ kind }) => kind === 'panel')
  const ends = open.length === 2 ? open : panels
  const words = [core ? `${coreInWords(core)}, as the link` : 'same fiber kind and core size as the link']
  for (const { connector } of [from, to])
    if (connector.endsWith('/APC') !== ends[0]!.connector.endsWith('/APC'))
      words.push('APC and UPC never mate: look at each connector before')
  const far = panels.length === 1 ? open[0]!.connector : ends.at(-1)!.connector
  return {
    cords: merge(ends.map(({ connector }) => ({ from: instrument, to: connector, count: 1 }))),
    adapters: open.length === 2 ? merge(open.map(({ connector }) => ({ fit: connector, count: 1 }))) : [],
    meterCap: CAPS[(panels.length === 1 ? far : instrument).split('/')[0]!] ?? null,
    words: [...new Set(words)],
  }
}

function merge<T extends { count: number }>(some: readonly T[]): T[] {
  const byKey = new Map<string, T>()
  for (const one of some) {
    const key = JSON.stringify({ ...one, count: 0 })
    const known = byKey.get(key)
    byKey.set(key, known ? { ...known, count: known.count + one.count } : one)
  }
  return [...byKey.values()]
}
