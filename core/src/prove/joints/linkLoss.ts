import type { Section } from '../../trace/events/events.ts'
import type { OneWayLoss } from '../../trace/twoWay.ts'
import { readSite, siteTolerance, type Survey } from './sites.ts'

/**
 * Fibers of one link lose alike within so much, dB/m: a section whose own slope is less sure takes the others' (judgement:
 * G.652 fibers differ by a few hundredths of a dB/km).
 */
const ALIKE = 2e-5

/**
 * Loss of the link in one trace: from just before its first to just after its last connection where cords let both be
 * seen, otherwise up to the last end.
 * @returns null where a connection is not seen that cords should let be seen, or a loss is in a dead zone or in the noise
 */
export function linkLoss(survey: Survey): OneWayLoss | null {
  const { shot, ends, calibration } = survey
  if (!ends.end) return null
  const { events, working, trace } = shot.analysis
  const tolerance = siteTolerance(shot)
  const startsAtPort = ends.start.distance <= trace.spacing
  const inside = events.filter(
    (event) =>
      event.kind !== 'start' && event.distance >= ends.start.distance - 1 && event.distance <= ends.end!.distance + 1,
  )
  const losses: OneWayLoss[] = []
  for (const event of inside) {
    if (event.kind === 'end') continue
    if (event.loss === null) return null
    losses.push({ loss: event.loss, sigma: event.lossSigma! })
  }
  // Near the noise the last connection may show a little behind its place, or not as an event at all.
  const reachesEnd = inside.some(({ distance }) => ends.end!.distance - distance <= tolerance)
  if (!reachesEnd) {
    const last = readSite(survey, calibration.threads[shot.direction].nodes.at(-1)!)
    if (!last) return null
    losses.push(last)
  }
  const first = startsAtPort ? working.from : (inside[0]?.distance ?? ends.start.distance)
  const length = ends.end.distance - (startsAtPort ? 0 : first)
  const slope = slopeOf(shot.analysis.sections.filter(({ from, to }) => to > first && from < ends.end!.distance))
  if (!slope) return null
  const variance =
    losses.reduce((sum, { sigma }) => sum + sigma ** 2, 0) +
    bentBehind(shot.analysis.sections, ends.end.distance, tolerance) ** 2
  return {
    loss: losses.reduce((sum, { loss }) => sum + loss, 0) + slope.attenuation * length,
    sigma: Math.sqrt(variance + slope.variance),
  }
}

/**
 * What the last connection's loss may be off by where the fiber behind it does not lose as fiber does: its level is bent by the
 * noise or by the instrument's recovery, dB.
 */
function bentBehind(sections: readonly Section[], end: number, tolerance: number): number {
  const behind = sections.find(({ from }) => from >= end - tolerance)
  if (!behind) return 0
  const off = Math.abs(behind.attenuation - commonSlope(sections.filter((one) => one !== behind && one.to <= end)))
  // Within what its slope is sure to, and what fibers differ by, it is no bend.
  const sure = 3 * Math.hypot(behind.attenuationSigma, ALIKE)
  return off > sure ? (off * (behind.to - behind.from)) / 2 : 0
}

/** Mean attenuation of sections by their lengths, dB/m, and the variance of what they lose together, dB². */
function slopeOf(sections: readonly Section[]): { attenuation: number; variance: number } | null {
  const covered = sections.reduce((sum, { from, to }) => sum + (to - from), 0)
  if (covered <= 0) return null
  const common = commonSlope(sections)
  let attenuation = 0
  let variance = 0
  for (const { from, to, attenuation: own, attenuationSigma } of sections) {
    // Bayes with normal distributions: the more certain of the two counts the more.
    const weight = sections.length === 1 ? 1 : ALIKE ** 2 / (ALIKE ** 2 + attenuationSigma ** 2)
    attenuation += ((to - from) / covered) * (weight * own + (1 - weight) * common)
    variance += weight * (attenuationSigma * (to - from)) ** 2
  }
  return { attenuation, variance }
}

/** What the link's fibers lose in the middle, dB/m, each by how well it is known. */
function commonSlope(sections: readonly Section[]): number {
  const weights = sections.map(({ attenuationSigma }) => 1 / (attenuationSigma ** 2 + ALIKE ** 2))
  const all = weights.reduce((sum, weight) => sum + weight, 0)
  return sections.reduce((sum, { attenuation }, i) => sum + attenuation * (weights[i]! / all), 0)
}
