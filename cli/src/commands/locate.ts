import { locateFaults } from '@cold-thread/core/locate'
import { locateDocument } from '@cold-thread/core/report'
import { readPlant } from '../input.ts'
import type { Output } from '../output.ts'
import { refusing, shotsOf, type LinkTraceOptions } from './linkTraces.ts'

export function locate(options: LinkTraceOptions, out: Output): number {
  const plant = readPlant(options.plant, options.link)
  const input = {
    plant,
    linkId: options.link,
    baseline: shotsOf('baseline', plant, options),
    present: shotsOf('present', plant, options),
  }
  out.json(locateDocument(refusing(() => locateFaults(input))))
  return 0
}
