import { ByteReader } from './bytes.ts'
import { crc16 } from './crc16.ts'
import { readDataPoints, type DataPoints } from './dataPoints.ts'
import { TraceFileError, type TraceWarning } from './error.ts'
import { BLOCK, type BlockOrder, type ForeignBlock, type TraceFile } from './file.ts'
import { MAX_FILE_BYTES } from './limits.ts'
import { readFixedParameters, type FixedParameters } from './fixedParameters.ts'
import { readGeneralParameters, type GeneralParameters } from './generalParameters.ts'
import { readKeyEvents, type KeyEvents } from './keyEvents.ts'
import { readSupplierParameters, type SupplierParameters } from './supplierParameters.ts'

interface MapEntry {
  name: string
  revision: number
  start: number
  size: number
}

const V2_MAGIC = [0x4d, 0x61, 0x70, 0x00] // "Map\0"

/**
 * Reads an OTDR trace file (SR-4731, version 2.00 or 1.x).
 * @param bytes the whole file
 * @returns every field in the file's own units, foreign blocks byte for byte, warnings for what is imperfect
 * @throws TraceFileError naming block and byte when the file can't be a trace
 */
export function readTraceFile(bytes: Uint8Array): TraceFile {
  if (bytes.length === 0) throw new TraceFileError('empty', 'the file is empty', 'file', 0)
  if (bytes.length > MAX_FILE_BYTES)
    throw new TraceFileError('too-large', `${bytes.length} bytes, at most ${MAX_FILE_BYTES} are read`, 'file', 0)
  const version = detectVersion(bytes)
  const map = readMap(bytes, version)
  const warnings: TraceWarning[] = []
  const known = new Map<string, MapEntry>()
  const foreign: ForeignBlock[] = []
  const order: BlockOrder[] = []
  let general: GeneralParameters | null = null
  let supplier: SupplierParameters | null = null
  let fixed: FixedParameters | null = null
  let events: KeyEvents | null = null
  let data: DataPoints | null = null

  for (const entry of map.entries) {
    const reader = openBlock(bytes, entry, version)
    if (known.has(entry.name)) {
      warnings.push({ code: 'repeated-block', message: `block ${entry.name} stands twice; the first one counts` })
      foreign.push({ name: entry.name, revision: entry.revision, body: reader.raw(reader.remaining) })
      order.push({ name: entry.name, revision: entry.revision, trailing: new Uint8Array() })
      continue
    }
    let isForeign = false
    switch (entry.name) {
      case BLOCK.general:
        general = readGeneralParameters(reader, version)
        break
      case BLOCK.supplier:
        supplier = readSupplierParameters(reader)
        break
      case BLOCK.fixed:
        fixed = readFixedParameters(reader, version)
        break
      case BLOCK.events:
        events = readKeyEvents(reader, version, warnings)
        break
      case BLOCK.data:
        data = readDataPoints(reader)
        break
      case BLOCK.checksum:
        checkChecksum(bytes, reader, warnings)
        known.set(entry.name, entry)
        continue
      default:
        isForeign = true
        foreign.push({ name: entry.name, revision: entry.revision, body: reader.raw(reader.remaining) })
    }
    if (!isForeign) known.set(entry.name, entry)
    order.push({ name: entry.name, revision: entry.revision, trailing: reader.raw(reader.remaining) })
  }

  if (!known.has(BLOCK.checksum)) warnings.push({ code: 'no-checksum', message: 'the file has no checksum block' })
  if (!fixed) throw new TraceFileError('missing-block', 'the file has no acquisition parameters', BLOCK.fixed, 0)
  if (!data) throw new TraceFileError('missing-block', 'the file has no data points', BLOCK.data, 0)
  checkAcquisition(fixed, known.get(BLOCK.fixed)!.start)
  if (!events) warnings.push({ code: 'no-event-table', message: 'the instrument wrote no event table' })
  return { version, revision: map.revision, general, supplier, fixed, events, data, foreign, order, warnings }
}

function detectVersion(bytes: Uint8Array): 1 | 2 {
  if (V2_MAGIC.every((byte, i) => bytes[i] === byte)) return 2
  const revision = bytes.length >= 2 ? bytes[0]! | (bytes[1]! << 8) : 0
  if (revision >= 100 && revision < 200) return 1
  throw new TraceFileError('not-a-trace', 'this is not an SR-4731 trace file', 'file', 0)
}

function readMap(bytes: Uint8Array, version: 1 | 2): { revision: number; entries: MapEntry[] } {
  const reader = new ByteReader(bytes, BLOCK.map, version === 2 ? V2_MAGIC.length : 0, bytes.length)
  const revision = reader.uint16()
  const sizeAt = reader.position
  const mapSize = reader.int32()
  const blockCount = reader.uint16()
  if (mapSize < reader.position || mapSize > bytes.length)
    throw new TraceFileError('truncated', `the map claims ${mapSize} of ${bytes.length} bytes`, BLOCK.map, sizeAt)
  if (blockCount < 1) throw new TraceFileError('bad-count', 'the map counts no blocks', BLOCK.map, sizeAt + 4)
  const bounded = new ByteReader(bytes, BLOCK.map, reader.position, mapSize)
  bounded.expectRoom(blockCount - 1, 7, 'blocks')
  const entries: MapEntry[] = []
  let start = mapSize
  for (let i = 1; i < blockCount; i++) {
    const entryAt = bounded.position
    const name = bounded.text()
    const blockRevision = bounded.uint16()
    const size = bounded.int32()
    if (size < 0) throw new TraceFileError('bad-count', `block ${name} claims ${size} bytes`, BLOCK.map, entryAt)
    if (start + size > bytes.length)
      throw new TraceFileError(
        'truncated',
        `the block ends at byte ${start + size} of a file of ${bytes.length}`,
        name || BLOCK.map,
        start,
      )
    entries.push({ name, revision: blockRevision, start, size })
    start += size
  }
  return { revision, entries }
}

/** A reader at the block's first field: version 2 repeats the block's name there. */
function openBlock(bytes: Uint8Array, entry: MapEntry, version: 1 | 2): ByteReader {
  const reader = new ByteReader(bytes, entry.name, entry.start, entry.start + entry.size)
  if (version === 2) {
    const name = reader.text()
    if (name !== entry.name)
      throw new TraceFileError('bad-block', `the block begins with another name`, entry.name, entry.start)
  }
  return reader
}

function checkChecksum(bytes: Uint8Array, reader: ByteReader, warnings: TraceWarning[]): void {
  const at = reader.position
  const stored = reader.uint16()
  if (stored !== crc16(bytes, at))
    warnings.push({ code: 'wrong-checksum', message: `the checksum at byte ${at} does not match the file` })
}

/** Without these no distance can be computed. */
function checkAcquisition(fixed: FixedParameters, at: number): void {
  const refuse = (message: string) => {
    throw new TraceFileError('bad-block', message, BLOCK.fixed, at)
  }
  const pulse = fixed.pulses[0]
  if (!pulse) return refuse('no pulse width is given')
  if (pulse.spacing === 0) refuse('the data spacing is zero')
  if (pulse.width === 0) refuse('the pulse width is zero')
  if (fixed.groupIndex < 100_000 || fixed.groupIndex > 300_000)
    refuse(`a group index of ${fixed.groupIndex / 1e5} is not glass`)
}
