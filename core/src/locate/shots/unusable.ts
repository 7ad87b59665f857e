import type { Trace } from '../../trace/trace.ts'
import type { LocateWarning, Shot } from './shot.ts'

/** A trace of which so much stands at its highest level shows a receiver at its limit and nothing else. */
const SATURATED_PART = 0.9
/** Levels within this are one level, dB. */
const ONE_LEVEL = 0.01

/**
 * Leaves out, aloud, what nothing can be computed from: traces that show noise or a receiver's limit alone, a present trace that
 * is the baseline's own file, and a cord's length that is longer than all that the trace shows.
 */
export function withoutUnusable(
  baselines: readonly Shot[],
  presents: readonly Shot[],
  warnings: LocateWarning[],
): { baseline: Shot[]; present: Shot[] } {
  const usable = (shots: readonly Shot[]) =>
    shots.flatMap((shot) => {
      const why = whyBlind(shot)
      if (why === null) return [withCordsThatFit(shot, warnings)]
      warnings.push({ code: 'nothing-shown', message: `${shot.name} ${why}: nothing is computed from it` })
      return []
    })
  const baseline = usable(baselines)
  const present = usable(presents).filter((shot) => {
    const same = baseline.find((other) => isSameMeasurement(shot.analysis.trace, other.analysis.trace))
    if (same)
      warnings.push({
        code: 'same-file',
        message: `${shot.name} is the same measurement as the baseline ${same.name}, point by point: it says nothing of the link now, and nothing is computed from it`,
      })
    return !same
  })
  return { baseline, present }
}

/** Why a trace shows nothing of a fiber, in words that follow its name; null where it does. */
function whyBlind({ analysis: { trace, events, working } }: Shot): string | null {
  if (events.some(({ kind }) => kind !== 'start')) return null
  const { levels } = trace
  const top = levels.reduce((most, level) => Math.max(most, level), -Infinity)
  const atTop = levels.reduce((count, level) => (level > top - ONE_LEVEL ? count + 1 : count), 0)
  if (atTop > SATURATED_PART * levels.length) return 'is at one level from end to end, as of a receiver at its limit'
  return working.to > working.from ? null : 'shows noise and no fiber'
}

function withCordsThatFit(shot: Shot, warnings: LocateWarning[]): Shot {
  const { trace } = shot.analysis
  const reach = trace.firstDistance + trace.spacing * trace.levels.length
  const tooLong = (['launch', 'receive'] as const).filter((cord) => (shot[cord] ?? 0) > reach)
  if (tooLong.length === 0) return shot
  warnings.push({
    code: 'cord-too-long',
    message: `${shot.name}: its ${tooLong.join(' and ')} cord of ${tooLong.map((cord) => `${shot[cord]!.toFixed(0)} m`).join(' and ')} is longer than the ${reach.toFixed(0)} m that the trace shows: taken as not known`,
  })
  return { ...shot, ...Object.fromEntries(tooLong.map((cord) => [cord, null])) }
}

function isSameMeasurement(a: Trace, b: Trace): boolean {
  return a.levels.length === b.levels.length && a.levels.every((level, i) => level === b.levels[i])
}
