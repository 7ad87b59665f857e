import type { TraceWarning } from './error.ts'
import type { DataPoints } from './dataPoints.ts'
import type { FixedParameters } from './fixedParameters.ts'
import type { GeneralParameters } from './generalParameters.ts'
import type { KeyEvents } from './keyEvents.ts'
import type { SupplierParameters } from './supplierParameters.ts'

export const BLOCK = {
  map: 'Map',
  general: 'GenParams',
  supplier: 'SupParams',
  fixed: 'FxdParams',
  events: 'KeyEvents',
  data: 'DataPts',
  checksum: 'Cksum',
} as const

/** A block of the maker of the instrument: kept byte for byte, never interpreted. */
export interface ForeignBlock {
  name: string
  revision: number
  /** The block without its leading name. */
  body: Uint8Array
}

/** One block's place in the file's order; `trailing` holds bytes that a known block carries beyond its fields. */
export interface BlockOrder {
  name: string
  revision: number
  trailing: Uint8Array
}

/** All that an SR-4731 file holds, in the file's own integer units, so that writing gives back what was read. */
export interface TraceFile {
  /** Version the file was read in; files are written as version 2. */
  version: 1 | 2
  revision: number
  general: GeneralParameters | null
  supplier: SupplierParameters | null
  fixed: FixedParameters
  events: KeyEvents | null
  data: DataPoints
  foreign: ForeignBlock[]
  /** Blocks in file order, known and foreign, without map and checksum. */
  order: BlockOrder[]
  warnings: TraceWarning[]
}
