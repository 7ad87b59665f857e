import { placeClasses, type Posterior } from './posterior.ts'
import type { Evidence } from './evidence.ts'
import { SUSPICION_RULES, type Cause, type CauseModel, type SuspicionRules } from './suspicionRules.ts'

/** A possible cause with its probability and the observations that speak for it. */
export interface RankedCause {
  cause: Cause
  name: string
  probability: number
  because: string[]
}

/** What a fault shows, as far as its cause depends on it. */
export interface FaultSigns {
  breaks: boolean
  reflects: boolean
  /** Added loss at each wavelength, dB with standard uncertainty. */
  losses: { wavelength: number; loss: number; sigma: number }[]
  /** m over which the loss is spread; 0 for a point. */
  extent: number
  posterior: Posterior
  evidence: readonly Evidence[]
}

interface Observation {
  /** Chance of what was observed under each cause. */
  chance(model: CauseModel): number
  /** In words, for the causes that it speaks for. */
  words: string
}

/** An observation is named as a reason when it makes a cause at least this much more likely than the others on average. */
const WORTH_NAMING = 1.4
const FEWEST_PROBABILITY = 0.01

/** Ranks the causes of a fault by Bayes' rule over what was observed, each cause with its reasons. */
export function rankCauses(signs: FaultSigns, rules: SuspicionRules = SUSPICION_RULES): RankedCause[] {
  const observations = observationsOf(signs)
  const weights = rules.causes.map((model) =>
    observations.reduce((weight, { chance }) => weight * chance(model), model.prior),
  )
  const total = weights.reduce((a, b) => a + b, 0)
  return rules.causes
    .map((model, i) => ({
      cause: model.cause,
      name: model.name,
      probability: weights[i]! / total,
      because: observations
        .filter(({ chance }) => chance(model) > WORTH_NAMING * meanChance(chance, rules.causes))
        .map(({ words }) => words),
    }))
    .filter(({ probability }) => probability >= FEWEST_PROBABILITY)
    .sort((a, b) => b.probability - a.probability)
}

function meanChance(chance: Observation['chance'], models: readonly CauseModel[]): number {
  const prior = models.reduce((sum, model) => sum + model.prior, 0)
  return models.reduce((sum, model) => sum + model.prior * chance(model), 0) / prior
}

function observationsOf(signs: FaultSigns): Observation[] {
  const { breaks, reflects, posterior, extent } = signs
  const out: Observation[] = [
    {
      chance: (model) => (breaks ? model.breaks : 1 - model.breaks),
      words: breaks ? 'no light passes' : 'light still passes',
    },
    {
      chance: ({ reflects: r }) => {
        const yes = breaks ? r.broken : r.passing
        return reflects ? yes : 1 - yes
      },
      words: reflects ? 'it reflects' : 'it does not reflect',
    },
  ]
  const classes = placeClasses(posterior)
  const where = (Object.entries(classes) as [keyof typeof classes, number][]).sort((a, b) => b[1] - a[1])[0]!
  out.push({
    chance: (model) =>
      Object.entries(classes).reduce(
        (sum, [key, p]) =>
          sum + (p * model.places[key as keyof typeof classes]) / typicalShare(key as keyof typeof classes),
        1e-3,
      ),
    words: `it sits ${PLACE_WORDS[where[0]]} (${(100 * where[1]).toFixed(0)} %)`,
  })
  const ratio = lossRatio(signs)
  if (ratio)
    out.push({
      chance: ({ ratio: model }) => {
        const spread = model ? Math.hypot(model.spread, ratio.sigma) : Math.hypot(0.8, ratio.sigma)
        const middle = model ? Math.log(model.median) : 0
        return Math.exp(-0.5 * ((Math.log(ratio.value) - middle) / spread) ** 2) / spread + 1e-4
      },
      words: ratioInWords(ratio.value),
    })
  if (extent > 0)
    out.push({
      chance: ({ cause }) => (cause === 'water' || cause === 'aging' ? 0.7 : cause === 'crush' ? 0.1 : 0.03),
      words: `the loss is spread over about ${extent.toFixed(0)} m`,
    })
  for (const item of signs.evidence) {
    if (item.kind === 'growth') out.push({ chance: (model) => model.growth[item.how], words: GROWTH_WORDS[item.how] })
    if (item.kind === 'neighbours')
      out.push({
        chance: (model) => (item.affected ? model.neighbours : 1 - model.neighbours),
        words: item.affected ? 'neighbouring fibers are affected too' : 'neighbouring fibers are well',
      })
  }
  return out
}

const PLACE_WORDS = { splice: 'at a splice', connector: 'at a connector', coil: 'in a coil', run: 'between nodes' }
const GROWTH_WORDS = { sudden: 'it came suddenly', slow: 'it grew slowly', weather: 'it comes with the weather' }

/** Share of faults of all causes at each kind of place: what a cause's own share is measured against. */
function typicalShare(key: keyof typeof PLACE_WORDS): number {
  return { splice: 0.22, connector: 0.22, coil: 0.1, run: 0.46 }[key]
}

/** Loss at the longest wavelength over that at the shortest, and the spread of its logarithm; null without both. */
function lossRatio({ losses }: FaultSigns): { value: number; sigma: number } | null {
  const sorted = losses.toSorted((a, b) => a.wavelength - b.wavelength)
  const [short, long] = [sorted[0], sorted.at(-1)]
  if (!short || !long || long.wavelength - short.wavelength < 100) return null
  const [a, b] = [Math.max(short.loss, short.sigma, 1e-3), Math.max(long.loss, long.sigma, 1e-3)]
  return { value: b / a, sigma: Math.hypot(short.sigma / a, long.sigma / b) }
}

function ratioInWords(ratio: number): string {
  if (ratio > 1.5) return `it loses ${ratio.toFixed(1)} times as much at the longer wavelength`
  if (ratio < 0.77) return `it loses ${(1 / ratio).toFixed(1)} times as much at the shorter wavelength`
  return 'it loses about the same at both wavelengths'
}
