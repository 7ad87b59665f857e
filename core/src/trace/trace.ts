import { distanceFromDelay, delayFromDistance, pulseLength } from '../units/light.ts'
import { readTraceFile } from './sr4731/read.ts'
import { writeTraceFile, NEW_FILE_ORDER } from './sr4731/write.ts'
import type { TraceFile } from './sr4731/file.ts'
import type { TraceWarning } from './sr4731/error.ts'

/** How and where a trace was taken. */
export interface Acquisition {
  /** Nominal wavelength, nm. */
  wavelength: number
  /** s */
  pulseWidth: number
  /** Group index the instrument was set to; it scales every distance of the trace. */
  groupIndex: number
  /** Backscatter coefficient the instrument was set to, dB for a 1 ns pulse; null when the file has none. */
  backscatter: number | null
  averages: number
  /** One-way, m. */
  range: number
  /** ISO 8601 UTC */
  takenAt: string
  cableId: string
  fiberId: string
  locationA: string
  locationB: string
  instrument: string
}

/** A sampled OTDR trace. Point i lies at `firstDistance + i·spacing`; 0 is the instrument's port. */
export interface Trace extends Acquisition {
  /** One-way display level, dB; 0 is the instrument's full scale, less light is lower. */
  levels: Float64Array
  /** m between points, with the trace's own group index. */
  spacing: number
  /** m, place of the first point */
  firstDistance: number
  warnings: TraceWarning[]
}

/** The names and warnings of a trace that did not come from a file. */
export const UNNAMED = {
  cableId: '',
  fiberId: '',
  locationA: '',
  locationB: '',
  instrument: '',
  warnings: [] as TraceWarning[],
}

const HUNDRED_PS = 1e-10
const SPACING_UNIT = HUNDRED_PS / 10_000
const LEVEL_UNIT_DB = 0.001

/**
 * Decodes an SR-4731 file into a trace.
 * @throws TraceFileError naming block and byte
 */
export function decodeTrace(bytes: Uint8Array): Trace {
  return traceFromFile(readTraceFile(bytes))
}

/** The sampled trace and its acquisition facts of a file that was read. */
export function traceFromFile(file: TraceFile): Trace {
  const { fixed, general } = file
  const pulse = fixed.pulses[0]!
  const groupIndex = fixed.groupIndex / 1e5
  const warnings = [...file.warnings]
  const levels = joinScales(file, pulse.points, warnings)
  const wavelength = Math.round(fixed.wavelength / 10) || general?.wavelength || 0
  if (general && general.wavelength !== 0 && Math.abs(general.wavelength - wavelength) > 20)
    warnings.push({
      code: 'wavelength-differs',
      message: `the file names ${general.wavelength} nm and ${wavelength} nm; the acquisition's ${wavelength} nm is used`,
    })
  return {
    levels,
    spacing: distanceFromDelay(pulse.spacing * SPACING_UNIT, groupIndex),
    firstDistance: distanceFromDelay(fixed.acquisitionOffset * HUNDRED_PS, groupIndex),
    wavelength,
    pulseWidth: pulse.width * 1e-9,
    groupIndex,
    backscatter: fixed.backscatter === 0 ? null : -fixed.backscatter / 10,
    averages: fixed.averages,
    range: distanceFromDelay(fixed.range * HUNDRED_PS, groupIndex),
    takenAt: new Date(fixed.time * 1000).toISOString(),
    cableId: general?.cableId.trim() ?? '',
    fiberId: general?.fiberId.trim() ?? '',
    locationA: general?.locationA.trim() ?? '',
    locationB: general?.locationB.trim() ?? '',
    instrument: [file.supplier?.mainframe, file.supplier?.mainframeSerial].filter(Boolean).join(' ').trim(),
    warnings,
  }
}

function joinScales(file: TraceFile, declaredPoints: number, warnings: TraceWarning[]): Float64Array {
  const total = file.data.scales.reduce((n, scale) => n + scale.values.length, 0)
  const several = file.fixed.pulses.length > 1
  const points = several ? Math.min(total, declaredPoints) : total
  if (several)
    warnings.push({
      code: 'several-pulses',
      message: `the file holds ${file.fixed.pulses.length} pulse widths; the first one is read`,
    })
  else if (declaredPoints !== total)
    warnings.push({
      code: 'point-count-differs',
      message: `${declaredPoints} points declared in FxdParams, ${total} found; those found are used`,
    })
  const levels = new Float64Array(points)
  let at = 0
  for (const { scale, values } of file.data.scales) {
    const unit = (LEVEL_UNIT_DB * scale) / 1000
    const count = Math.min(values.length, points - at)
    for (let i = 0; i < count; i++) levels[at + i] = -unit * values[i]!
    at += count
  }
  return levels
}

/** What a file made by the app is written from. */
export interface NewTraceFile extends Acquisition {
  levels: Float64Array
  spacing: number
  firstDistance: number
  /** BC as built, CC as current, RC as repaired, OT other. */
  condition: 'BC' | 'CC' | 'RC' | 'OT'
  comment: string
}

/**
 * Encodes a trace as an SR-4731 2.00 file. Levels are rounded to 0.001 dB, below −65.535 dB clipped there;
 * times are rounded to the format's units, so that distances may move by less than 0.01 mm a point.
 */
export function encodeTrace(trace: NewTraceFile): Uint8Array {
  const hundredPs = (distance: number) => Math.round(delayFromDistance(distance, trace.groupIndex) / HUNDRED_PS)
  const spacing = Math.round(delayFromDistance(trace.spacing, trace.groupIndex) / SPACING_UNIT)
  const values = new Uint16Array(trace.levels.length)
  for (let i = 0; i < values.length; i++)
    values[i] = Math.min(65535, Math.max(0, Math.round(-trace.levels[i]! / LEVEL_UNIT_DB)))
  const file: TraceFile = {
    version: 2,
    revision: 200,
    general: {
      language: 'EN',
      cableId: trace.cableId,
      fiberId: trace.fiberId,
      fiberType: 652,
      wavelength: trace.wavelength,
      locationA: trace.locationA,
      locationB: trace.locationB,
      cableCode: '',
      condition: trace.condition,
      userOffset: 0,
      userOffsetDistance: 0,
      operator: '',
      comment: trace.comment,
    },
    supplier: {
      supplier: 'Cold Thread',
      mainframe: trace.instrument,
      mainframeSerial: '',
      module: '',
      moduleSerial: '',
      software: '',
      other: '',
    },
    fixed: {
      time: Math.round(Date.parse(trace.takenAt) / 1000),
      distanceUnits: 'mt',
      wavelength: Math.round(trace.wavelength * 10),
      acquisitionOffset: hundredPs(trace.firstDistance),
      acquisitionOffsetDistance: 0,
      pulses: [{ width: Math.round(trace.pulseWidth * 1e9), spacing, points: values.length }],
      groupIndex: Math.round(trace.groupIndex * 1e5),
      backscatter: trace.backscatter === null ? 0 : Math.round(-trace.backscatter * 10),
      averages: trace.averages,
      averagingTime: 0,
      range: hundredPs(trace.range),
      rangeDistance: 0,
      frontPanelOffset: 0,
      noiseFloorLevel: 0,
      noiseFloorScale: 1,
      firstPointPowerOffset: 0,
      lossThreshold: 0,
      reflectanceThreshold: 0,
      endThreshold: 0,
      traceType: 'ST',
      window: [0, 0, 0, 0],
    },
    events: null,
    data: { scales: [{ scale: 1000, values }] },
    foreign: [],
    order: [...NEW_FILE_ORDER],
    warnings: [],
  }
  return writeTraceFile(file)
}

/** Length of the trace's pulse on the display, one-way, m. */
export function pulseLengthOf(trace: Pick<Trace, 'pulseWidth' | 'groupIndex'>): number {
  return pulseLength(trace.pulseWidth, trace.groupIndex)
}

/** Place of point `index` (may be fractional), m from the port. */
export function distanceOf(trace: Pick<Trace, 'firstDistance' | 'spacing'>, index: number): number {
  return trace.firstDistance + index * trace.spacing
}

/** Point index (fractional) of a distance in m. */
export function indexOf(trace: Pick<Trace, 'firstDistance' | 'spacing'>, distance: number): number {
  return (distance - trace.firstDistance) / trace.spacing
}
