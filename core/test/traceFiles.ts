import { ByteWriter } from '../src/trace/sr4731/bytes.ts'
import { crc16 } from '../src/trace/sr4731/crc16.ts'
import { NEW_FILE_ORDER } from '../src/trace/sr4731/write.ts'
import type { TraceFile } from '../src/trace/index.ts'

/** A small file with something in every field and a maker's own block in the middle. Made up. */
export function buildTraceFile(points = 50): TraceFile {
  return {
    version: 2,
    revision: 200,
    general: {
      language: 'EN',
      cableId: 'TN-2',
      fiberId: '5',
      fiberType: 652,
      wavelength: 1550,
      locationA: 'Basin',
      locationB: 'Gauge house',
      cableCode: 'x',
      condition: 'BC',
      userOffset: -12,
      userOffsetDistance: 3,
      operator: 'night',
      comment: 'none',
    },
    supplier: {
      supplier: 's',
      mainframe: 'm',
      mainframeSerial: '1',
      module: 'o',
      moduleSerial: '2',
      software: '3',
      other: '',
    },
    fixed: {
      time: 1_700_000_000,
      distanceUnits: 'mt',
      wavelength: 15_500,
      acquisitionOffset: -50,
      acquisitionOffsetDistance: 0,
      pulses: [{ width: 30, spacing: 489_672, points }],
      groupIndex: 146_820,
      backscatter: 820,
      averages: 32_768,
      averagingTime: 300,
      range: 60_000,
      rangeDistance: 0,
      frontPanelOffset: 0,
      noiseFloorLevel: 40_000,
      noiseFloorScale: 1,
      firstPointPowerOffset: 0,
      lossThreshold: 20,
      reflectanceThreshold: 65_000,
      endThreshold: 3000,
      traceType: 'ST',
      window: [0, 1, -2, 3],
    },
    events: {
      events: [
        {
          number: 1,
          time: 1234,
          leadIn: 200,
          loss: -31,
          reflectance: -45_000,
          code: '1F9999',
          method: 'LS',
          markers: [1, 2, 3, 4, 5],
          comment: 'c',
        },
      ],
      totalLoss: 4321,
      totalLossStart: 0,
      totalLossFinish: 9999,
      orl: 33_000,
      orlStart: 0,
      orlFinish: 9999,
    },
    data: { scales: [{ scale: 1000, values: Uint16Array.from({ length: points }, (_, i) => (i * 37) % 65_536) }] },
    foreign: [{ name: 'MakersOwn', revision: 7, body: Uint8Array.from([0, 255, 1, 254, 0, 7]) }],
    order: [
      ...NEW_FILE_ORDER.slice(0, 2),
      { name: 'MakersOwn', revision: 7, trailing: new Uint8Array() },
      ...NEW_FILE_ORDER.slice(2),
    ],
    warnings: [],
  }
}

/** The same content laid out by hand as version 1.x: no map magic, no block names, no later fields. */
export function version1Bytes(): Uint8Array {
  const { general, supplier, fixed, events, data, foreign } = buildTraceFile()
  const block = (write: (writer: ByteWriter) => void) => {
    const writer = new ByteWriter()
    write(writer)
    return writer.done()
  }
  const blocks: [string, Uint8Array][] = [
    [
      'GenParams',
      block((w) => {
        w.fixedText('EN', 2)
        w.text(general!.cableId)
        w.text(general!.fiberId)
        w.uint16(general!.wavelength)
        for (const text of [general!.locationA, general!.locationB, general!.cableCode]) w.text(text)
        w.fixedText('BC', 2)
        w.int32(0)
        w.text('')
        w.text('')
      }),
    ],
    ['SupParams', block((w) => Object.values(supplier!).forEach((text) => w.text(text)))],
    [
      'FxdParams',
      block((w) => {
        w.uint32(fixed.time)
        w.fixedText('mt', 2)
        w.uint16(fixed.wavelength)
        w.int32(0)
        w.uint16(1)
        w.uint16(30)
        w.uint32(489_672)
        w.uint32(50)
        w.uint32(fixed.groupIndex)
        w.uint16(820)
        w.uint32(100)
        w.uint32(60_000)
        w.int32(0)
        w.uint16(0)
        w.int16(1)
        for (let i = 0; i < 4; i++) w.uint16(0)
      }),
    ],
    ['MakersOwn', foreign[0]!.body],
    [
      'KeyEvents',
      block((w) => {
        const event = events!.events[0]!
        w.uint16(1)
        w.int16(1)
        w.int32(event.time)
        w.int16(event.leadIn)
        w.int16(event.loss)
        w.int32(event.reflectance)
        w.fixedText(event.code, 6)
        w.fixedText('LS', 2)
        w.text('c')
        for (let i = 0; i < 3; i++) w.int32(i)
        w.uint16(0)
        w.int32(0)
        w.int32(0)
      }),
    ],
    [
      'DataPts',
      block((w) => {
        w.uint32(50)
        w.int16(1)
        w.uint32(50)
        w.uint16(1000)
        w.uint16Array(data.scales[0]!.values)
      }),
    ],
  ]
  const file = new ByteWriter()
  file.uint16(100)
  file.int32(8 + [...blocks.map(([name]) => name), 'Cksum'].reduce((n, name) => n + name.length + 7, 0))
  file.uint16(blocks.length + 2)
  for (const [name, bytes] of blocks) {
    file.text(name)
    file.uint16(100)
    file.int32(bytes.length)
  }
  file.text('Cksum')
  file.uint16(100)
  file.int32(2)
  for (const [, bytes] of blocks) file.raw(bytes)
  file.uint16(crc16(file.done()))
  return file.done()
}
