import { groupIndexOf } from '../../plant/thread.ts'
import { pulseLengthOf } from '../../trace/trace.ts'
import { isSameWavelength } from '../../units/wavelength.ts'
import type { Calibration } from '../records/calibrate.ts'
import type { Pairing } from '../posterior/candidates.ts'
import { findLinkEnds } from './linkEnds.ts'
import type { LocateWarning, Shot } from './shot.ts'

/** An index setting further off than this moves an event at 10 km by more than a pulse of 100 ns is long. */
const INDEX_TOLERANCE = 0.002
/** A front dead zone longer than so many pulses means that the receiver was overloaded. */
const FRONT_PULSES = 8

/** Attenuation that cabled fiber may have at most, dB/m, by wavelength in nm (ITU-T G.652, table for G.652.D). */
const G652_LIMITS: Record<number, number> = { 1310: 0.4e-3, 1550: 0.3e-3, 1625: 0.4e-3 }
/** Shorter sections are not judged, m. */
const JUDGED_SECTION = 1000

/** What is wrong with how the present traces were taken, each with what follows from it. */
export function warnAboutShots(
  presents: readonly Shot[],
  calibrated: Calibration,
  pairings: readonly Pairing[],
  warnings: LocateWarning[],
): void {
  for (const shot of presents) {
    for (const { code, message } of shot.analysis.warnings) warnings.push({ code, message: `${shot.name}: ${message}` })
    const index = indexWarning(shot, calibrated)
    if (index) warnings.push({ code: 'index-setting', message: `${shot.name}: ${index}` })
    warnings.push(...attenuationWarnings(shot, calibrated))
    const { working, trace } = shot.analysis
    if (working.from > FRONT_PULSES * working.pulsePoints + 20)
      warnings.push({
        code: 'front-saturated',
        message: `${shot.name}: the first ${(working.from * trace.spacing).toFixed(0)} m are blind, ${(working.from / working.pulsePoints).toFixed(0)} pulses: clean the port and the launch connection, or use a longer cord`,
      })
  }
  for (const { baseline, present, comparison, ends } of pairings) {
    const unknown = [baseline, present].filter(({ launch }) => launch === null)
    if (unknown.length > 0) {
      const scale = present.analysis.trace.groupIndex / baseline.analysis.trace.groupIndex
      const begins = (ends.start.distance - comparison.alignment.offset) / scale
      warnings.push({
        code: 'launch-found',
        message: `${unknown.map(({ name }) => name).join(' and ')}: the launch cord is not on record. The link is taken to begin ${Math.max(0, begins).toFixed(0)} m into ${present.name}, where it lies best on the baseline`,
      })
    }
    const [before, now] = [pulseLengthOf(baseline.analysis.trace), pulseLengthOf(present.analysis.trace)]
    if (now > 3 * before)
      warnings.push({
        code: 'pulse-too-long',
        message: `${present.name}: its pulse is ${(now / before).toFixed(0)} times as long as the baseline’s: what lies within ${now.toFixed(0)} m of another event is hidden; shoot with a shorter one`,
      })
  }
}

/** Sections that lose more than the fiber's standard allows: water, pressure, aging, or a record that is wrong. */
function attenuationWarnings(shot: Shot, { threads }: Calibration): LocateWarning[] {
  const { trace, sections } = shot.analysis
  const thread = threads[shot.direction]
  const limit = Object.entries(G652_LIMITS).find(([nm]) => isSameWavelength(Number(nm), trace.wavelength))?.[1]
  const alike = [...thread.cables.values()].every((cable) => cable.fiberType.startsWith('G.652'))
  if (limit === undefined || !alike) return []
  const { start, end } = findLinkEnds(shot, thread)
  return sections
    .filter(
      ({ from, to }) => to - from >= JUDGED_SECTION && from >= start.distance && to <= (end?.distance ?? Infinity),
    )
    .filter(({ attenuation, attenuationSigma }) => attenuation - 3 * attenuationSigma > limit)
    .map(({ from, to, attenuation }) => ({
      code: 'attenuation-high',
      message: `${shot.name}: from ${(from - start.distance).toFixed(0)} to ${(to - start.distance).toFixed(0)} m of fiber it loses ${(1000 * attenuation).toFixed(2)} dB/km at ${trace.wavelength.toFixed(0)} nm, more than the ${(1000 * limit).toFixed(1)} dB/km of ITU-T G.652: water, pressure or aging, or not the fiber of the record`,
    }))
}

function indexWarning(shot: Shot, { threads }: Calibration): string | null {
  const thread = threads[shot.direction]
  const { trace } = shot.analysis
  const known = groupIndexOf(thread.cables.get(thread.pieces[0]!.cable)!, trace.wavelength)
  if (Math.abs(trace.groupIndex - known) < INDEX_TOLERANCE) return null
  const off = 10_000 * (known / trace.groupIndex - 1)
  return `it was taken with index ${trace.groupIndex.toFixed(4)}, the cable’s record says ${known.toFixed(4)}: the instrument’s display is ${Math.abs(off).toFixed(0)} m off at 10 km; places here are computed from time and the record`
}
