import type { TraceAnalysis } from '../trace/analyze.ts'
import type { EventKind, TraceEvent, Why } from '../trace/events/events.ts'
import type { TraceWarning } from '../trace/sr4731/error.ts'
import { pulseLengthOf } from '../trace/trace.ts'
import { joinedEnd } from './joinedEnd.ts'

/** Acquisition facts in the units of the command line: nm, ns, m. */
export interface TraceFacts {
  wavelength: number
  pulseWidth: number
  spacing: number
  points: number
  groupIndex: number
  takenAt: string
  averages: number
  range: number
  cableId: string
  fiberId: string
  locationA: string
  locationB: string
}

export interface EventDocument {
  distance: number
  distanceSigma: number
  kind: EventKind
  loss: number | null
  lossSigma: number | null
  reflectance: number | null
  saturated: boolean
  why?: Partial<Record<'loss' | 'reflectance', Why>>
  bound?: Partial<Record<'loss' | 'reflectance', 'min' | 'max'>>
}

/** What `analyze` prints: m, dB, dB/km. */
export interface AnalyzeDocument {
  file: string
  trace: TraceFacts
  warnings: TraceWarning[]
  events: EventDocument[]
  sections: { from: number; to: number; attenuation: number; attenuationSigma: number }[]
  length: number | null
  loss: number | null
  orl: number | null
  noiseFloor: number | null
  why?: Partial<Record<'length' | 'loss' | 'orl', Why>>
  bound?: Partial<Record<'orl', 'min' | 'max'>>
}

export function traceFacts(trace: TraceAnalysis['trace']): TraceFacts {
  return {
    wavelength: trace.wavelength,
    // The file holds whole nanoseconds: what seconds and back added is taken off.
    pulseWidth: Math.round(trace.pulseWidth * 1e12) / 1e3,
    spacing: trace.spacing,
    points: trace.levels.length,
    groupIndex: trace.groupIndex,
    takenAt: trace.takenAt,
    averages: trace.averages,
    range: trace.range,
    cableId: trace.cableId,
    fiberId: trace.fiberId,
    locationA: trace.locationA,
    locationB: trace.locationB,
  }
}

/** A loss that is only known together with its neighbours' is printed as the bound that it is. */
function eventDocument(event: TraceEvent): EventDocument {
  const { distance, distanceSigma, kind, reflectance, saturated, together, why } = event
  const bound = { ...(together ? { loss: 'max' as const } : {}), ...event.bound }
  return {
    distance,
    distanceSigma,
    kind,
    loss: together?.loss ?? event.loss,
    lossSigma: together?.sigma ?? event.lossSigma,
    reflectance,
    saturated,
    ...(why ? { why } : {}),
    ...(Object.keys(bound).length > 0 ? { bound } : {}),
  }
}

export function analyzeDocument(file: string, analysis: TraceAnalysis): AnalyzeDocument {
  const { events, sections, warnings, length, loss, orl, noiseFloor, why, bound } = analysis
  return {
    file,
    trace: traceFacts(analysis.trace),
    warnings,
    events: joinedEnd(events, pulseLengthOf(analysis.trace)).map(eventDocument),
    sections: sections.map((section) => ({
      from: section.from,
      to: section.to,
      attenuation: section.attenuation * 1000,
      attenuationSigma: section.attenuationSigma * 1000,
    })),
    length,
    loss,
    orl,
    noiseFloor,
    ...(Object.keys(why).length > 0 ? { why } : {}),
    ...(Object.keys(bound).length > 0 ? { bound } : {}),
  }
}
