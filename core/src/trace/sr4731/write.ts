import { ByteWriter } from './bytes.ts'
import { crc16 } from './crc16.ts'
import { writeDataPoints } from './dataPoints.ts'
import { BLOCK, type BlockOrder, type TraceFile } from './file.ts'
import { writeFixedParameters } from './fixedParameters.ts'
import { writeGeneralParameters } from './generalParameters.ts'
import { writeKeyEvents } from './keyEvents.ts'
import { writeSupplierParameters } from './supplierParameters.ts'

const REVISION = 200
const CHECKSUM_BYTES = BLOCK.checksum.length + 1 + 2

/** The blocks of a new file in their usual order. */
export const NEW_FILE_ORDER: readonly BlockOrder[] = [
  BLOCK.general,
  BLOCK.supplier,
  BLOCK.fixed,
  BLOCK.events,
  BLOCK.data,
].map((name) => ({ name, revision: REVISION, trailing: new Uint8Array() }))

/**
 * Writes an SR-4731 file, version 2.00: blocks in the order of `file.order`, foreign ones byte for byte,
 * with a fresh map and checksum.
 */
export function writeTraceFile(file: TraceFile): Uint8Array {
  const foreign = [...file.foreign]
  const written = new Set<string>()
  const blocks: { name: string; revision: number; bytes: Uint8Array }[] = []
  for (const { name, revision, trailing } of file.order) {
    const writer = new ByteWriter()
    writer.text(name)
    const isKnown = !written.has(name) && writeKnownBlock(writer, name, file)
    if (!isKnown) {
      const at = foreign.findIndex((block) => block.name === name)
      if (at < 0) continue
      writer.raw(foreign.splice(at, 1)[0]!.body)
    }
    written.add(name)
    writer.raw(trailing)
    blocks.push({ name, revision: isKnown ? REVISION : revision, bytes: writer.done() })
  }
  return assemble(blocks)
}

function writeKnownBlock(writer: ByteWriter, name: string, file: TraceFile): boolean {
  switch (name) {
    case BLOCK.general:
      if (!file.general) return false
      writeGeneralParameters(writer, file.general)
      return true
    case BLOCK.supplier:
      if (!file.supplier) return false
      writeSupplierParameters(writer, file.supplier)
      return true
    case BLOCK.fixed:
      writeFixedParameters(writer, file.fixed)
      return true
    case BLOCK.events:
      if (!file.events) return false
      writeKeyEvents(writer, file.events)
      return true
    case BLOCK.data:
      writeDataPoints(writer, file.data)
      return true
    default:
      return false
  }
}

function assemble(blocks: { name: string; revision: number; bytes: Uint8Array }[]): Uint8Array {
  const map = new ByteWriter()
  const mapSize =
    BLOCK.map.length +
    1 +
    8 +
    [...blocks.map((b) => b.name), BLOCK.checksum].reduce((n, name) => n + name.length + 7, 0)
  map.text(BLOCK.map)
  map.uint16(REVISION)
  map.int32(mapSize)
  map.uint16(blocks.length + 2)
  for (const block of blocks) {
    map.text(block.name)
    map.uint16(block.revision)
    map.int32(block.bytes.length)
  }
  map.text(BLOCK.checksum)
  map.uint16(REVISION)
  map.int32(CHECKSUM_BYTES)
  for (const block of blocks) map.raw(block.bytes)
  map.text(BLOCK.checksum)
  const body = map.done()
  map.uint16(crc16(body))
  return map.done()
}
