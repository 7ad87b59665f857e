import { mean, median } from 'simple-statistics'
import { individualsChart, offChart, onChart, type Charted } from './chart.ts'
import { readingsOf, type WatchedAttempt } from './watched.ts'

/** What is usual of a series on one machine, on the chart's scale. */
export interface Usual {
  center: number
  /** Of single readings. */
  sigma: number
  /** By how much sessions differ from each other and from the center, one standard deviation; with the center's own doubt. */
  between: number
  /** How readings of one splice go together: 0 each for itself, 1 all alike. */
  together: number
  /** The center as readings are shown. */
  middle: number
}

/** Which machine's work is told by how much of its own. */
export type ReferenceKind = 'own splices' | 'usual figures'

/**
 * Usual figures of machines: center, spread of single readings, of machines and of sessions, as logarithms (judgement, no
 * published source). Own splices take their place, the more of them there are.
 */
export const USUAL_FIGURES = {
  loss: { center: onChart('loss', 0.03), sigma: 0.4, machines: 0.35, sessions: 0.1 },
  angle: { center: onChart('angle', 0.35), sigma: 0.5, machines: 0.3, sessions: 0.1 },
  offset: { center: onChart('offset', 0.5), sigma: 0.5, machines: 0.4, sessions: 0.1 },
} as const satisfies Record<Charted, { center: number; sigma: number; machines: number; sessions: number }>

/** So many own splices weigh as much as the usual figures: of the spread, and of sessions for how they differ (judgement). */
const SPREAD_WEIGHT = 12
const SESSIONS_WEIGHT = 4
/** A session of unknown length is taken for so many splices. */
export const SESSION = 24
/** So many earlier splices of the same splicer tell what is usual. */
export const LEAST_REFERENCE = 30

/**
 * Center and spread of a series from a machine's earlier splices, and how far its sessions lie apart; few of them, or none,
 * are helped out by usual figures, with the doubt of those.
 */
export function usualOf(series: Charted, reference: readonly WatchedAttempt[]): Usual {
  const prior = USUAL_FIGURES[series]
  const splices = reference.flatMap((attempt) => {
    const values = readingsOf(series, attempt).map((reading) => onChart(series, reading))
    return values.length === 0 ? [] : [{ values, session: attempt.session }]
  })
  if (splices.length < 2)
    return {
      center: prior.center,
      sigma: prior.sigma,
      between: Math.hypot(prior.machines, prior.sessions),
      together: 0,
      middle: offChart(series, prior.center),
    }
  const groups = sessionsOf(splices)
  const spread = spreadOf(splices.map(({ values }) => values))
  const count = splices.length
  const sigma = Math.sqrt((SPREAD_WEIGHT * prior.sigma ** 2 + count * spread.sigma ** 2) / (SPREAD_WEIGHT + count))
  const centers = groups.map((group) => mean(group.map(({ values }) => mean(values))))
  const ofSessions = sessionSpread(groups, centers, sigma, spread.together)
  const sessions = Math.sqrt(
    (SESSIONS_WEIGHT * prior.sessions ** 2 + (centers.length - 1) * ofSessions) /
      (SESSIONS_WEIGHT + centers.length - 1),
  )
  // The machine's own center between what its splices say and what machines usually are.
  const own = sessions ** 2 / groups.length + sigma ** 2 / count
  const trust = prior.machines ** 2 / (prior.machines ** 2 + own)
  const center = trust * median(splices.map(({ values }) => mean(values))) + (1 - trust) * prior.center
  return {
    center,
    sigma,
    between: Math.sqrt(sessions ** 2 + trust * own),
    together: spread.together,
    middle: offChart(series, center),
  }
}

/** Splices by session; where that is not known, by so many as a session usually has. */
function sessionsOf<T extends { session: string | number | undefined }>(splices: readonly T[]): T[][] {
  const groups = new Map<string | number, T[]>()
  for (const [i, splice] of splices.entries()) {
    const key = splice.session ?? `#${Math.floor(i / SESSION)}`
    groups.set(key, [...(groups.get(key) ?? []), splice])
  }
  return [...groups.values()]
}

/** Spread of single readings from moving ranges, which a slow drift does not widen, and how those of a splice go together. */
function spreadOf(splices: readonly (readonly number[])[]): { sigma: number; together: number } {
  const means = splices.map((values) => mean([...values]))
  const ofMeans = individualsChart(means).sigma ** 2
  const many = splices.filter((values) => values.length > 1)
  if (many.length < 10) return { sigma: Math.max(0.1, Math.sqrt(ofMeans)), together: 0 }
  const size = mean(many.map((values) => values.length))
  const within = mean(
    many.map((values) => {
      const middle = mean([...values])
      return values.reduce((sum, value) => sum + (value - middle) ** 2, 0) / (values.length - 1)
    }),
  )
  // Variance within and between groups: the intraclass correlation of one-way analysis of variance.
  const between = Math.max(0, ofMeans - within / size)
  const all = Math.max(0.01, within + between)
  return { sigma: Math.sqrt(all), together: between / all }
}

/** Variance between sessions beyond what their splices' own spread makes, never below nothing. */
function sessionSpread(
  groups: readonly (readonly { values: readonly number[] }[])[],
  centers: readonly number[],
  sigma: number,
  together: number,
): number {
  if (centers.length < 2) return 0
  const middle = mean([...centers])
  const seen = centers.reduce((sum, center) => sum + (center - middle) ** 2, 0) / (centers.length - 1)
  const chance = mean(
    groups.map((group) => {
      const each = mean(group.map(({ values }) => values.length))
      return (sigma ** 2 * (1 + (each - 1) * together)) / each / group.length
    }),
  )
  return Math.max(0, seen - chance)
}
