import type { ByteReader, ByteWriter } from './bytes.ts'
import { TraceFileError, type TraceWarning } from './error.ts'

/** One row of the instrument's own event table, in the file's integer units. Kept; Cold Thread finds its own events. */
export interface KeyEvent {
  number: number
  /** One-way, 100 ps. */
  time: number
  /** 0.001 dB/km */
  leadIn: number
  /** 0.001 dB */
  loss: number
  /** 0.001 dB */
  reflectance: number
  code: string
  method: string
  markers: [number, number, number, number, number]
  comment: string
}

/** KeyEvents: the instrument's event table with its end-to-end figures. */
export interface KeyEvents {
  events: KeyEvent[]
  /** 0.001 dB, then its start and finish in 100 ps. */
  totalLoss: number
  totalLossStart: number
  totalLossFinish: number
  /** 0.001 dB, then its start and finish in 100 ps. */
  orl: number
  orlStart: number
  orlFinish: number
}

const FIXED_EVENT_BYTES = { 1: 22, 2: 42 } as const
const TOTALS_BYTES = 22

/**
 * Reads the event table. Some instruments leave the comments out altogether:
 * when the declared size fits only that way, it is read so, with a warning.
 */
export function readKeyEvents(reader: ByteReader, version: 1 | 2, warnings: TraceWarning[]): KeyEvents {
  const start = reader.position
  const size = reader.remaining
  const count = reader.uint16()
  reader.expectRoom(count, FIXED_EVENT_BYTES[version], 'events')
  const bareSize = 2 + count * FIXED_EVENT_BYTES[version] + TOTALS_BYTES
  try {
    return readTable(reader, count, version, true)
  } catch (error) {
    if (!(error instanceof TraceFileError) || count === 0 || size !== bareSize) throw error
    reader.position = start + 2
    warnings.push({ code: 'events-without-comments', message: 'the event table has no comment fields; read without' })
    return readTable(reader, count, version, false)
  }
}

function readTable(reader: ByteReader, count: number, version: 1 | 2, comments: boolean): KeyEvents {
  const events = Array.from({ length: count }, (): KeyEvent => ({
    number: reader.int16(),
    time: reader.int32(),
    leadIn: reader.int16(),
    loss: reader.int16(),
    reflectance: reader.int32(),
    code: reader.fixedText(6),
    method: reader.fixedText(2),
    markers:
      version === 2
        ? [reader.int32(), reader.int32(), reader.int32(), reader.int32(), reader.int32()]
        : [0, 0, 0, 0, 0],
    comment: comments ? reader.text() : '',
  }))
  return {
    events,
    totalLoss: reader.int32(),
    totalLossStart: reader.int32(),
    totalLossFinish: reader.int32(),
    orl: reader.uint16(),
    orlStart: reader.int32(),
    orlFinish: reader.int32(),
  }
}

export function writeKeyEvents(writer: ByteWriter, block: KeyEvents): void {
  writer.uint16(block.events.length)
  for (const event of block.events) {
    writer.int16(event.number)
    writer.int32(event.time)
    writer.int16(event.leadIn)
    writer.int16(event.loss)
    writer.int32(event.reflectance)
    writer.fixedText(event.code, 6)
    writer.fixedText(event.method, 2)
    for (const marker of event.markers) writer.int32(marker)
    writer.text(event.comment)
  }
  writer.int32(block.totalLoss)
  writer.int32(block.totalLossStart)
  writer.int32(block.totalLossFinish)
  writer.uint16(block.orl)
  writer.int32(block.orlStart)
  writer.int32(block.orlFinish)
}
