import { CodedError } from '../../errors/index.ts'
import crc16ccitt from 'crc/calculators/crc16ccitt'
import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { buildTraceFile, version1Bytes } from '../../../test/traceFiles.ts'
import { analyzeTrace } from '../analyze.ts'
import { decodeTrace } from '../trace.ts'
import { crc16 } from './crc16.ts'
import { TraceFileError } from './error.ts'
import { MAX_FILE_BYTES } from './limits.ts'
import { readTraceFile } from './read.ts'
import { writeTraceFile } from './write.ts'

function refusal(bytes: Uint8Array): TraceFileError {
  try {
    readTraceFile(bytes)
  } catch (error) {
    if (error instanceof TraceFileError) return error
    throw error
  }
  throw new Error('the file was accepted')
}

/** Place of a text in a file, from the end. */
function lastIndexOfText(bytes: Uint8Array, text: string): number {
  const codes = [...text].map((c) => c.charCodeAt(0))
  for (let i = bytes.length - codes.length; i >= 0; i--) if (codes.every((code, k) => bytes[i + k] === code)) return i
  throw new Error(`${text} is not in the file`)
}

describe('CRC-16', () => {
  it('is 0x29B1 for "123456789" (CRC-16/CCITT-FALSE check value)', () => {
    expect(crc16(new TextEncoder().encode('123456789'))).toBe(0x29b1)
  })

  it('agrees with the registry package on any bytes', () => {
    fc.assert(fc.property(fc.uint8Array({ maxLength: 300 }), (bytes) => crc16(bytes) === crc16ccitt(bytes)))
  })
})

describe('reading back what was written', () => {
  it('gives every field again', () => {
    const file = buildTraceFile()
    const read = readTraceFile(writeTraceFile(file))
    const { warnings, ...fields } = read
    expect(warnings).toEqual([])
    expect(fields).toEqual({ ...file, warnings: undefined, order: read.order } as unknown)
    expect(read.order.map((block) => block.name)).toEqual(file.order.map((block) => block.name))
  })

  it('gives the same bytes again, foreign blocks among them', () => {
    const bytes = writeTraceFile(buildTraceFile())
    expect(writeTraceFile(readTraceFile(bytes))).toEqual(bytes)
    expect(readTraceFile(bytes).foreign[0]!.body).toEqual(Uint8Array.from([0, 255, 1, 254, 0, 7]))
  })

  it('keeps bytes that a known block carries beyond its fields', () => {
    const file = buildTraceFile()
    file.order = file.order.map((block) =>
      block.name === 'SupParams' ? { ...block, trailing: Uint8Array.from([9, 8, 7]) } : block,
    )
    const again = readTraceFile(writeTraceFile(file))
    expect(again.order.find((block) => block.name === 'SupParams')!.trailing).toEqual(Uint8Array.from([9, 8, 7]))
  })

  it('keeps text in any 8-bit code', () => {
    const file = buildTraceFile()
    file.general!.comment = 'caf\u00e9 \u0080\u009f'
    expect(readTraceFile(writeTraceFile(file)).general!.comment).toBe('caf\u00e9 \u0080\u009f')
  })

  it('round-trips random values of every numeric field', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: -(2 ** 31), max: 2 ** 31 - 1 }),
        fc.integer({ min: 0, max: 65535 }),
        fc.integer({ min: 1, max: 400 }),
        (int32, uint16, points) => {
          const file = buildTraceFile(points)
          file.fixed.acquisitionOffset = int32
          file.fixed.window = [int32, 0, -1, int32]
          file.fixed.lossThreshold = uint16
          file.events!.events[0]!.reflectance = int32
          const again = readTraceFile(writeTraceFile(file))
          expect(again.fixed).toEqual(file.fixed)
          expect(again.events).toEqual(file.events)
        },
      ),
      { numRuns: 50 },
    )
  })
})

describe('version 1', () => {
  it('is read without block names and without the later fields, and written as version 2', () => {
    const read = readTraceFile(version1Bytes())
    expect(read.version).toBe(1)
    expect(read.general!.fiberType).toBe(0)
    expect(read.general!.cableId).toBe('TN-2')
    expect(read.events!.events).toHaveLength(1)
    const again = readTraceFile(writeTraceFile(read))
    expect(again.version).toBe(2)
    expect(again.data).toEqual(read.data)
    expect(again.foreign).toEqual(read.foreign)
  })
})

describe('imperfect files that are read', () => {
  it('warns of a wrong checksum', () => {
    const bytes = writeTraceFile(buildTraceFile())
    bytes[bytes.length - 1]! ^= 0xff
    expect(readTraceFile(bytes).warnings.map((w) => w.code)).toEqual(['wrong-checksum'])
  })

  it('says that there is no event table', () => {
    const file = { ...buildTraceFile(), events: null }
    expect(readTraceFile(writeTraceFile(file)).warnings.map((w) => w.code)).toEqual(['no-event-table'])
  })

  it('reads an event table without comments when only that fits its size', () => {
    const file = buildTraceFile()
    file.events!.events[0]!.comment = ''
    const bytes = writeTraceFile(file)
    const read = readTraceFile(
      withoutByte(bytes, lastIndexOfText(bytes, 'KeyEvents\0') + 'KeyEvents\0'.length + 2 + 42, 'KeyEvents'),
    )
    expect(read.events!.totalLoss).toBe(file.events!.totalLoss)
    expect(read.warnings.map((w) => w.code)).toContain('events-without-comments')
  })
})

/** Cuts one byte out of a block and says so in the map. */
function withoutByte(bytes: Uint8Array, at: number, block: string): Uint8Array {
  const copy = new Uint8Array(bytes.length - 1)
  copy.set(bytes.subarray(0, at))
  copy.set(bytes.subarray(at + 1), at)
  const sizeAt = [...new TextDecoder('latin1').decode(copy)].join('').indexOf(`${block}\0`) + block.length + 3
  const view = new DataView(copy.buffer)
  view.setInt32(sizeAt, view.getInt32(sizeAt, true) - 1, true)
  return copy
}

describe('files that are refused', () => {
  const good = writeTraceFile(buildTraceFile())

  it('an empty file', () => {
    expect(refusal(new Uint8Array()).code).toBe('empty')
  })

  it('a picture', () => {
    expect(refusal(Uint8Array.from([0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a]))).toMatchObject({
      code: 'not-a-trace',
      byte: 0,
    })
  })

  it('a file over 16 MB, before it is looked into', () => {
    expect(refusal(new Uint8Array(MAX_FILE_BYTES + 1)).code).toBe('too-large')
  })

  it('a file cut off in its data, naming the block', () => {
    expect(refusal(good.subarray(0, good.length - 40))).toMatchObject({ code: 'truncated', block: 'DataPts' })
  })

  it('a point count that the block can’t hold, before allocating for it', () => {
    const bytes = Uint8Array.from(good)
    const at = lastIndexOfText(bytes, 'DataPts\0') + 8
    new DataView(bytes.buffer).setUint32(at, 1_900_000, true)
    expect(refusal(bytes)).toMatchObject({ code: 'bad-count', block: 'DataPts' })
  })

  it('more than 2,000,000 points, naming block and byte', () => {
    const bytes = Uint8Array.from(good)
    const at = lastIndexOfText(bytes, 'DataPts\0') + 8
    new DataView(bytes.buffer).setUint32(at, 4_000_000_000, true)
    expect(refusal(bytes)).toMatchObject({ code: 'too-large', block: 'DataPts', byte: at })
  })

  it('an event count beyond its block', () => {
    const bytes = Uint8Array.from(good)
    new DataView(bytes.buffer).setUint16(lastIndexOfText(bytes, 'KeyEvents\0') + 10, 60_000, true)
    expect(refusal(bytes)).toMatchObject({ code: 'bad-count', block: 'KeyEvents' })
  })

  it.each([
    ['no pulse width', (f: ReturnType<typeof buildTraceFile>) => (f.fixed.pulses = [])],
    ['a data spacing of zero', (f: ReturnType<typeof buildTraceFile>) => (f.fixed.pulses[0]!.spacing = 0)],
    ['an index that is not glass', (f: ReturnType<typeof buildTraceFile>) => (f.fixed.groupIndex = 5)],
  ])('%s', (_, spoil) => {
    const file = buildTraceFile()
    spoil(file)
    expect(refusal(writeTraceFile(file))).toMatchObject({ code: 'bad-block', block: 'FxdParams' })
  })

  it('any mutation of a good file is read or refused with block and byte, never anything else', () => {
    const mutation = fc.record({
      at: fc.nat({ max: good.length - 1 }),
      value: fc.integer({ min: 0, max: 255 }),
      cut: fc.option(fc.nat({ max: good.length })),
    })
    const before = process.memoryUsage().rss
    fc.assert(
      fc.property(fc.array(mutation, { minLength: 1, maxLength: 12 }), (mutations) => {
        let bytes = Uint8Array.from(good)
        for (const { at, value } of mutations) bytes[at] = value
        const cut = mutations[0]!.cut
        if (cut !== null) bytes = bytes.slice(0, cut)
        try {
          readTraceFile(bytes)
        } catch (error) {
          expect(error).toBeInstanceOf(TraceFileError)
          expect((error as TraceFileError).byte).toBeGreaterThanOrEqual(0)
        }
      }),
      { numRuns: 5000, seed: 4731 },
    )
    expect((process.memoryUsage().rss - before) / 2 ** 20).toBeLessThan(256)
  })

  it('what a mutated file still says can be analyzed, or is refused in words', () => {
    const mutation = fc.record({ at: fc.nat({ max: good.length - 1 }), value: fc.integer({ min: 0, max: 255 }) })
    fc.assert(
      fc.property(fc.array(mutation, { minLength: 1, maxLength: 6 }), (mutations) => {
        const bytes = Uint8Array.from(good)
        for (const { at, value } of mutations) bytes[at] = value
        try {
          const { events } = analyzeTrace(decodeTrace(bytes))
          for (const event of events) expect(Number.isFinite(event.distance)).toBe(true)
        } catch (error) {
          expect(error).toBeInstanceOf(CodedError)
        }
      }),
      { numRuns: 1500, seed: 99 },
    )
  })
})
