import { proveRepair } from '@cold-thread/core/prove'
import { readPlant } from '../input.ts'
import type { Output } from '../output.ts'
import { refusing, shotsOf, type LinkTraceOptions } from './linkTraces.ts'

export function prove(options: LinkTraceOptions & { rules?: string }, out: Output): number {
  const plant = readPlant(options.plant, options.link)
  const input = {
    plant,
    linkId: options.link,
    baseline: shotsOf('baseline', plant, options),
    after: shotsOf('after', plant, options),
    ...(options.rules === undefined ? {} : { rules: options.rules }),
  }
  out.json(refusing(() => proveRepair(input)))
  return 0
}
