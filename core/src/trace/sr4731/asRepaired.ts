import type { GeneralParameters } from './generalParameters.ts'
import { BLOCK } from './file.ts'
import { readTraceFile } from './read.ts'
import { NEW_FILE_ORDER, writeTraceFile } from './write.ts'

const UNNAMED: GeneralParameters = {
  language: 'EN',
  cableId: '',
  fiberId: '',
  fiberType: 0,
  wavelength: 0,
  locationA: '',
  locationB: '',
  cableCode: '',
  condition: 'RC',
  userOffset: 0,
  userOffsetDistance: 0,
  operator: '',
  comment: '',
}

/**
 * A trace file whose condition code says “as repaired” (RC); all else of it as it was, blocks of the instrument's maker byte for
 * byte. Written as version 2.00.
 * @throws TraceFileError for what is no trace
 */
export function asRepaired(bytes: Uint8Array): Uint8Array {
  const file = readTraceFile(bytes)
  if (file.general) return writeTraceFile({ ...file, general: { ...file.general, condition: 'RC' } })
  const wavelength = Math.round(file.fixed.wavelength / 10)
  const own = NEW_FILE_ORDER.find(({ name }) => name === BLOCK.general)!
  return writeTraceFile({ ...file, general: { ...UNNAMED, wavelength }, order: [own, ...file.order] })
}
