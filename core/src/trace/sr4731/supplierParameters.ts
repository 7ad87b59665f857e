import type { ByteReader, ByteWriter } from './bytes.ts'

/** SupParams: the instrument. */
export interface SupplierParameters {
  supplier: string
  mainframe: string
  mainframeSerial: string
  module: string
  moduleSerial: string
  software: string
  other: string
}

const FIELDS = ['supplier', 'mainframe', 'mainframeSerial', 'module', 'moduleSerial', 'software', 'other'] as const

export function readSupplierParameters(reader: ByteReader): SupplierParameters {
  return Object.fromEntries(FIELDS.map((field) => [field, reader.text()])) as Record<(typeof FIELDS)[number], string>
}

export function writeSupplierParameters(writer: ByteWriter, block: SupplierParameters): void {
  for (const field of FIELDS) writer.text(block[field])
}
