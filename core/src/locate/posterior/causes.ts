import { placeClasses, type Posterior } from './posterior.ts'
import type { Evidence } from './evidence.ts'
import { brokenFace, SUSPICION_RULES, type Cause, type CauseModel, type SuspicionRules } from './suspicionRules.ts'

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
  /** Of its end where no light passes, dB; null where nothing reflects. */
  reflectance: number | null
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

/** A cause with so much of the probability is told, whatever the wavelengths leave open. */
const TOLD = 0.6
/** Causes whose loss grows with wavelength, and those whose loss does not. */
const OF_BENT_GLASS: readonly Cause[] = ['macrobend', 'water', 'crush', 'pull']
const OF_A_JOINT: readonly Cause[] = ['bad-splice', 'connector']
/** Both must be as likely as this to leave the question open. */
const OPEN = 0.2

/**
 * Why what is known can't tell the kind of a fault, with the test that would; null where it can. Bent glass and a joint are told
 * apart by their loss at two wavelengths.
 */
export function whyNotTold(signs: FaultSigns, ranked: readonly RankedCause[]): string | null {
  if (signs.breaks || singleMode(signs.losses).length > 1 || (ranked[0]?.probability ?? 1) >= TOLD) return null
  const share = (causes: readonly Cause[]) =>
    ranked.reduce((sum, { cause, probability }) => (causes.includes(cause) ? sum + probability : sum), 0)
  if (Math.min(share(OF_BENT_GLASS), share(OF_A_JOINT)) < OPEN) return null
  const shot = signs.losses[0]?.wavelength ?? 1550
  if (shot < SINGLE_MODE_FROM) return null
  return `${shot} nm alone can’t tell bent glass from a poor joint: shoot at ${shot > 1450 ? 1310 : 1550} nm as well`
}

function meanChance(chance: Observation['chance'], models: readonly CauseModel[]): number {
  const prior = models.reduce((sum, model) => sum + model.prior, 0)
  return models.reduce((sum, model) => sum + model.prior * chance(model), 0) / prior
}

function observationsOf(signs: FaultSigns): Observation[] {
  const { breaks, reflects, reflectance, posterior, extent, losses } = signs
  const out: Observation[] = [
    {
      chance: (model) => (breaks ? model.breaks : 1 - model.breaks),
      words: breaks ? 'no light passes' : 'light still passes',
    },
    {
      chance: ({ reflects: r }) => {
        if (breaks) return r.broken[brokenFace(reflectance)]
        return reflects ? r.passing : 1 - r.passing
      },
      words: breaks ? FACE_WORDS[brokenFace(reflectance)] : reflects ? 'it reflects' : 'it does not reflect',
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
  const spectrum = singleMode(losses)
  if (spectrum.length > 1)
    out.push({ chance: ({ ratio }) => chanceOfSpectrum(spectrum, ratio), words: ratioInWords(spectrum) })
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

const FACE_WORDS = {
  flat: 'its end reflects as flat glass does',
  rough: 'its end reflects less than flat glass does',
  none: 'its end does not reflect',
}
const PLACE_WORDS = { splice: 'at a splice', connector: 'at a connector', coil: 'in a coil', run: 'between nodes' }
const GROWTH_WORDS = { sudden: 'it came suddenly', slow: 'it grew slowly', weather: 'it comes with the weather' }

/** Share of faults of all causes at each kind of place: what a cause's own share is measured against. */
function typicalShare(key: keyof typeof PLACE_WORDS): number {
  return { splice: 0.22, connector: 0.22, coil: 0.1, run: 0.46 }[key]
}

type SpectralLoss = FaultSigns['losses'][number]

/** The relations of loss and wavelength hold for single-mode fiber; two wavelengths nearer than this tell nothing, nm. */
const SINGLE_MODE_FROM = 1260
const APART = 30
/** nm between which a cause's ratio holds. */
const RATIO_SPAN = 1550 - 1310

/** Losses at wavelengths of single-mode fiber, shortest first; fewer than two where they lie too close. */
function singleMode(losses: readonly SpectralLoss[]): SpectralLoss[] {
  const own = losses.filter(({ wavelength }) => wavelength >= SINGLE_MODE_FROM)
  const sorted = own.toSorted((a, b) => a.wavelength - b.wavelength)
  return sorted.length > 1 && sorted.at(-1)!.wavelength - sorted[0]!.wavelength >= APART ? sorted : []
}

/** Spread of the ratio's logarithm of a cause that says nothing of it. */
const ANY_RATIO = 1.2
/** Standard deviations to both sides over which a ratio is summed, and steps for each of them. */
const SUMMED = { sigmas: 3, steps: 8 }
/** However well a cause explains the losses, another one that nobody thought of may explain them too. */
const UNTHOUGHT = 1e-4

/**
 * Chance of losses at several wavelengths under a cause, but for a factor that is the same for all causes: its loss is
 * L·exp(k·(λ − λ₀)), of any size L, with k as the cause has it; each reading is off by its own uncertainty.
 */
function chanceOfSpectrum(losses: readonly SpectralLoss[], ratio: CauseModel['ratio']): number {
  const [middle, spread] = ratio ? [Math.log(ratio.median), ratio.spread] : [0, ANY_RATIO]
  const first = losses[0]!.wavelength
  let chance = 0
  let weights = 0
  for (let n = -SUMMED.sigmas * SUMMED.steps; n <= SUMMED.sigmas * SUMMED.steps; n++) {
    const z = n / SUMMED.steps
    const weight = Math.exp(-0.5 * z * z)
    const shape = losses.map(({ wavelength }) => Math.exp(((middle + z * spread) * (wavelength - first)) / RATIO_SPAN))
    chance += weight * Math.exp(-0.5 * misfitOf(losses, shape))
    weights += weight
  }
  return chance / weights + UNTHOUGHT
}

/** χ² of losses against a shape of the size that fits them best; a fault does not gain. */
function misfitOf(losses: readonly SpectralLoss[], shape: readonly number[]): number {
  const sum = (of: (one: SpectralLoss, part: number) => number) =>
    losses.reduce((total, one, i) => total + of(one, shape[i]!) / one.sigma ** 2, 0)
  const size = Math.max(0, sum(({ loss }, part) => loss * part) / sum((_, part) => part * part))
  return sum(({ loss }, part) => (loss - size * part) ** 2)
}

function ratioInWords(losses: readonly SpectralLoss[]): string {
  const [short, long] = [losses[0]!, losses.at(-1)!]
  const ratio = Math.max(long.loss, long.sigma) / Math.max(short.loss, short.sigma)
  const at = (one: SpectralLoss) => `${one.wavelength} nm`
  if (ratio > 1.2) return `it loses ${ratio.toFixed(1)} times as much at ${at(long)} as at ${at(short)}`
  if (ratio < 0.83) return `it loses ${(1 / ratio).toFixed(1)} times as much at ${at(short)} as at ${at(long)}`
  return `it loses about the same at ${at(short)} and ${at(long)}`
}
