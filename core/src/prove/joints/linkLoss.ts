import type { Section } from '../../trace/events/events.ts'
import type { OneWayLoss } from '../../trace/twoWay.ts'
import { seesConnection, type Connection } from '../../locate/shots/connections.ts'
import { nearestEvent } from '../../trace/events/lossAt.ts'
import { readSite, siteTolerance, type Survey } from './sites.ts'

/**
 * Fibers of one link lose alike within so much, dB/m: a section whose own slope is less sure takes the others' (judgement:
 * G.652 fibers differ by a few hundredths of a dB/km).
 */
const ALIKE = 2e-5

/** Which of the link's own connections a total holds, as seen from the end that was shot from. */
export type WithConnections = Record<Connection, boolean>

/** Which of the link's own connections a trace tells the loss of: what its cords let be seen. */
export function connectionsSeen({ shot, ends }: Survey): WithConnections {
  return { near: seesConnection(shot, ends, 'near'), far: seesConnection(shot, ends, 'far') }
}

/**
 * Loss of the link in one trace, from its first to its last connection.
 * @param connections which of these two to count in; as a rule what the trace's cords let be seen
 * @returns null where a connection can't be read that is to be counted, or a loss is in a dead zone or in the noise
 */
export function linkLoss(survey: Survey, connections = connectionsSeen(survey)): OneWayLoss | null {
  const { shot, ends, calibration } = survey
  if (!ends.end) return null
  const { events, working, trace, sections } = shot.analysis
  const tolerance = siteTolerance(shot)
  const [start, end] = [ends.start.distance, ends.end.distance]
  const losses: (OneWayLoss | null)[] = []
  const { nodes } = calibration.threads[shot.direction]
  if (connections.near) losses.push(readSite(survey, nodes[0]!))
  if (connections.far) losses.push(readSite(survey, nodes.at(-1)!))
  // Near the noise the last connection may show a little behind its place, or not as an event at all.
  const own = [start, end].map((place) => nearestEvent(shot.analysis, place, tolerance))
  const between = events.filter(
    (event) => event.kind !== 'end' && event.distance > start && event.distance < end && !own.includes(event),
  )
  losses.push(...between.map(({ loss, lossSigma }) => (loss === null ? null : { loss, sigma: lossSigma! })))
  const from = Math.max(start, trace.firstDistance + working.from * trace.spacing)
  const slope = slopeOf(sections.filter((section) => section.to > from && section.from < end))
  if (!slope || losses.some((one) => one === null)) return null
  const known = losses as OneWayLoss[]
  const variance =
    known.reduce((sum, { sigma }) => sum + sigma ** 2, 0) +
    (connections.far ? bentBehind(sections, end, tolerance) ** 2 : 0)
  return {
    loss: known.reduce((sum, { loss }) => sum + loss, 0) + slope.attenuation * (end - start),
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
