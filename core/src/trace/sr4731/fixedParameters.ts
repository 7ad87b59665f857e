import type { ByteReader, ByteWriter } from './bytes.ts'

/** One pulse width of an acquisition; most files have exactly one. */
export interface PulseSetting {
  /** ns */
  width: number
  /** One-way time of 10 000 points, 100 ps. */
  spacing: number
  points: number
}

/** FxdParams: how the trace was taken, in the file's own integer units. */
export interface FixedParameters {
  /** Unix time, s. */
  time: number
  distanceUnits: string
  /** 0.1 nm */
  wavelength: number
  /** Place of the first data point, one-way, 100 ps. */
  acquisitionOffset: number
  acquisitionOffsetDistance: number
  pulses: PulseSetting[]
  /** Group index × 1e5. */
  groupIndex: number
  /** −0.1 dB for a 1 ns pulse. */
  backscatter: number
  averages: number
  /** 0.1 s */
  averagingTime: number
  /** One-way, 100 ps. */
  range: number
  rangeDistance: number
  frontPanelOffset: number
  noiseFloorLevel: number
  noiseFloorScale: number
  firstPointPowerOffset: number
  /** 0.001 dB */
  lossThreshold: number
  /** −0.001 dB */
  reflectanceThreshold: number
  /** 0.001 dB */
  endThreshold: number
  /** ST, RT, DT or RF; blank where version 1 does not say. */
  traceType: string
  window: [number, number, number, number]
}

export function readFixedParameters(reader: ByteReader, version: 1 | 2): FixedParameters {
  const v2 = version === 2
  const time = reader.uint32()
  const distanceUnits = reader.fixedText(2)
  const wavelength = reader.uint16()
  const acquisitionOffset = reader.int32()
  const acquisitionOffsetDistance = v2 ? reader.int32() : 0
  const pulseCount = reader.uint16()
  reader.expectRoom(pulseCount, 10, 'pulse widths')
  const widths = Array.from({ length: pulseCount }, () => reader.uint16())
  const spacings = widths.map(() => reader.uint32())
  const points = widths.map(() => reader.uint32())
  return {
    time,
    distanceUnits,
    wavelength,
    acquisitionOffset,
    acquisitionOffsetDistance,
    pulses: widths.map((width, i) => ({ width, spacing: spacings[i]!, points: points[i]! })),
    groupIndex: reader.uint32(),
    backscatter: reader.uint16(),
    averages: reader.uint32(),
    averagingTime: v2 ? reader.uint16() : 0,
    range: reader.uint32(),
    rangeDistance: v2 ? reader.int32() : 0,
    frontPanelOffset: reader.int32(),
    noiseFloorLevel: reader.uint16(),
    noiseFloorScale: reader.int16(),
    firstPointPowerOffset: reader.uint16(),
    lossThreshold: reader.uint16(),
    reflectanceThreshold: reader.uint16(),
    endThreshold: reader.uint16(),
    traceType: v2 ? reader.fixedText(2) : '  ',
    window: v2 ? [reader.int32(), reader.int32(), reader.int32(), reader.int32()] : [0, 0, 0, 0],
  }
}

export function writeFixedParameters(writer: ByteWriter, block: FixedParameters): void {
  writer.uint32(block.time)
  writer.fixedText(block.distanceUnits, 2)
  writer.uint16(block.wavelength)
  writer.int32(block.acquisitionOffset)
  writer.int32(block.acquisitionOffsetDistance)
  writer.uint16(block.pulses.length)
  for (const pulse of block.pulses) writer.uint16(pulse.width)
  for (const pulse of block.pulses) writer.uint32(pulse.spacing)
  for (const pulse of block.pulses) writer.uint32(pulse.points)
  writer.uint32(block.groupIndex)
  writer.uint16(block.backscatter)
  writer.uint32(block.averages)
  writer.uint16(block.averagingTime)
  writer.uint32(block.range)
  writer.int32(block.rangeDistance)
  writer.int32(block.frontPanelOffset)
  writer.uint16(block.noiseFloorLevel)
  writer.int16(block.noiseFloorScale)
  writer.uint16(block.firstPointPowerOffset)
  writer.uint16(block.lossThreshold)
  writer.uint16(block.reflectanceThreshold)
  writer.uint16(block.endThreshold)
  writer.fixedText(block.traceType, 2)
  for (const corner of block.window) writer.int32(corner)
}
