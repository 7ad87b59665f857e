import type { Section } from './events.ts'
import { longSigmaAt, sigmaAt, SIGNAL_LOST_DB } from '../noise/noise.ts'
import { distanceOf, indexOf, type Trace } from '../trace.ts'
import type { Working } from '../working.ts'

/** A section shorter than this has no attenuation worth a line, points. */
const FEWEST_POINTS = 5
/** Places of a section that are tried for a change of its attenuation. */
const PLACES = 32
/** A change of attenuation stands out of the noise by this (of 32 places at most a few are independent). */
const SIGNIFICANT = 5
/** Two lots of fiber differ by less, dB/m (common practice: a few hundredths of a dB per km). */
const SMALLEST_CHANGE = 0.004e-3
/**
 * A side that is so much shorter than the other must differ more, dB/m: a corner that is a little off, or what a reflection
 * left, bends the end of a long stretch (judgement).
 */
const SHORT_SIDE = 0.4
const SMALLEST_BESIDE = 0.03e-3
/** Each side is at least so long, m: over less, a receiver's recovery looks like attenuation. */
const SHORTEST_SIDE = 300
const PULSES_A_SIDE = 4

/**
 * Attenuation of the stretches between the events by least squares. A stretch whose attenuation changes on the way is
 * split there: another lot of fiber, or a length that ages, is pressed or took up water.
 * @returns in order of distance; neighbouring sections without an event between them meet at a change
 */
export function measureSections(trace: Trace, working: Working): Section[] {
  const { spans } = working
  return spans.flatMap((span, k): Section[] => {
    const i0 = Math.ceil(Math.max(working.from, span[1]))
    const i1 = Math.floor(Math.min(working.to, k + 1 < spans.length ? spans[k + 1]![0] - 1 : working.to))
    return piecesOf(trace, working, i0, i1)
  })
}

/** Points inside the stretch [i0, i1) between two events where its attenuation changes. */
export function cornersWithin(trace: Trace, working: Working, i0: number, i1: number): number[] {
  return piecesOf(trace, working, Math.ceil(i0), Math.floor(i1))
    .slice(1)
    .map((section) => Math.round(indexOf(trace, section.from)))
}

/** The first split of a stretch with several changes need not be one of them: pieces that turn out alike are one. */
function piecesOf(trace: Trace, working: Working, i0: number, i1: number): Section[] {
  const pieces = splitWhereItChanges(trace, working, i0, i1)
  for (let k = 1; k < pieces.length;) {
    const [before, after] = [pieces[k - 1]!, pieces[k]!]
    const [from, to] = [before.from, after.to].map((distance) => Math.round(indexOf(trace, distance)))
    const both = changeStrength(before, after) > 1 ? null : sectionOf(trace, working, from!, to! + 1)
    if (both) {
      pieces.splice(k - 1, 2, both)
      k = Math.max(1, k - 1)
    } else k++
  }
  return pieces
}

/** How far two neighbouring stretches differ, in units of what counts as a change. */
function changeStrength(before: Section, after: Section): number {
  const change = Math.abs(after.attenuation - before.attenuation)
  const sigma = Math.hypot(before.attenuationSigma, after.attenuationSigma)
  const lengths = [before, after].map(({ from, to }) => to - from)
  const isShort = Math.min(...lengths) < SHORT_SIDE * Math.max(...lengths)
  return Math.min(change / (SIGNIFICANT * sigma), change / (isShort ? SMALLEST_BESIDE : SMALLEST_CHANGE))
}

function splitWhereItChanges(trace: Trace, working: Working, i0: number, i1: number): Section[] {
  const whole = sectionOf(trace, working, i0, i1)
  if (!whole) return []
  const shortest = Math.max(
    FEWEST_POINTS,
    Math.ceil(SHORTEST_SIDE / trace.spacing),
    Math.ceil(PULSES_A_SIDE * working.pulsePoints),
  )
  let best = { at: -1, strength: 1 }
  const stride = Math.max(1, Math.floor((i1 - i0) / PLACES))
  for (let at = i0 + shortest; at <= i1 - shortest; at += stride) {
    const before = sectionOf(trace, working, i0, at)
    const after = sectionOf(trace, working, at, i1)
    if (!before || !after) continue
    const strength = changeStrength(before, after)
    if (strength > best.strength) best = { at, strength }
  }
  if (best.at < 0) return [whole]
  const at = cornerNear(working, i0, i1, best.at, stride)
  return [...splitWhereItChanges(trace, working, i0, at), ...splitWhereItChanges(trace, working, at, i1)]
}

/** The line's corner: where the two sides' lines meet, if that is near the place that tells them best apart. */
function cornerNear(working: Working, i0: number, i1: number, at: number, stride: number): number {
  const before = working.sums.line(i0, at)!
  const after = working.sums.line(at, i1)!
  const meet =
    (after.mean - after.slope * after.center - before.mean + before.slope * before.center) /
    (before.slope - after.slope)
  return Math.abs(meet - at) <= 2 * stride
    ? Math.min(i1 - FEWEST_POINTS, Math.max(i0 + FEWEST_POINTS, Math.round(meet)))
    : at
}

/** One straight stretch [i0, i1); null where there is no room or no signal. */
function sectionOf(trace: Trace, { sums, noise }: Working, i0: number, i1: number): Section | null {
  const line = i1 - i0 >= FEWEST_POINTS ? sums.line(i0, i1) : null
  if (!line) return null
  const sigma = sigmaAt(noise, line.center)
  if (!(sigma < SIGNAL_LOST_DB)) return null
  return {
    from: distanceOf(trace, i0),
    to: distanceOf(trace, i1 - 1),
    attenuation: -line.slope / trace.spacing,
    attenuationSigma: (longSigmaAt(noise, line.center) * Math.sqrt(line.slopeVariance)) / trace.spacing,
  }
}
