import { holdsAgainst, type RuleBook } from '../ruleBook/rules.ts'
import { backscatterDifference, twoWayLoss } from '../trace/twoWay.ts'
import { oneWayBias } from './modeField.ts'

/** A splice's step on a trace, as read off the instrument. */
export interface TraceReading {
  /** `ab`: the light came through the splice's first fiber into its second. */
  way: 'ab' | 'ba'
  /** nm */
  wavelength: number
  /** dB; negative: the trace seems to gain. */
  loss: number
}

export type TraceAdvice = 'wait' | 'accept' | 'close' | 'redo' | 'doubt'

export interface TraceJudgement {
  advice: TraceAdvice
  /** One for each wavelength. */
  reasons: string[]
  /** True loss, worst wavelength, dB; null until both ways of one are there. */
  loss: number | null
}

/** What the records say of the two fibers. */
export interface SplicedFibers {
  /** Mode field diameters of both, m; null where a record has none. */
  modeFields: readonly [number, number] | null
  /** Both are by ITU-T G.652, which bounds their mode fields. */
  g652: boolean
}

/** Standard uncertainty of one step read off a quiet trace, dB (judgement). */
const READING_SIGMA = 0.02
/** Mode field diameters of G.652 fibers at 1310 nm: nominal 8.6 to 9.2 µm, each ± 0.4 µm (ITU-T G.652, 2016). */
const G652 = { least: 8.2e-6, most: 9.6e-6, tolerance: 0.4e-6 }
/** From here on the two fibers are said to differ, dB of one way. */
const DIFFER = 0.05

/** Worst first. */
const ORDER: readonly TraceAdvice[] = ['redo', 'doubt', 'wait', 'close', 'accept']

/**
 * What a splice's trace readings say. One way alone is never a verdict: fibers scatter differently, so that a good splice
 * may look bad, or seem to gain, from one end; the mean of both ways is free of it (IEC 61280-4-2). Only what no difference
 * of single-mode fibers can explain is redone at once, or doubted. A later reading of a way and wavelength takes an
 * earlier one's place.
 * @returns null without readings
 */
export function judgeTraceReadings(
  readings: readonly TraceReading[],
  fibers: SplicedFibers,
  rules: RuleBook,
): TraceJudgement | null {
  const latest = new Map(readings.map((one) => [`${one.wavelength} ${one.way}`, one]))
  const wavelengths = [...new Set(readings.map(({ wavelength }) => wavelength))].sort((a, b) => a - b)
  const judged = wavelengths.map((wavelength) => {
    const [ab, ba] = [latest.get(`${wavelength} ab`), latest.get(`${wavelength} ba`)]
    const { advice, words, loss } =
      ab && ba ? bothWays(ab.loss, ba.loss, fibers, rules) : oneWay((ab ?? ba)!, fibers, rules)
    return { advice, reason: `${wavelength} nm: ${words}`, loss }
  })
  if (judged.length === 0) return null
  const told = judged.flatMap(({ loss }) => loss ?? [])
  return {
    advice: ORDER.find((advice) => judged.some((one) => one.advice === advice))!,
    reasons: judged.map(({ reason }) => reason),
    loss: told.length === 0 ? null : Math.max(...told),
  }
}

interface Judged {
  advice: TraceAdvice
  words: string
  loss: number | null
}

interface Bias {
  /** What the difference of the fibers may add to this way's reading, dB. */
  least: number
  most: number
  words: string
}

/** What one way may be off by, from fields that differ within their tolerance; null where nothing bounds it. */
function biasOf(way: TraceReading['way'], { modeFields: fields, g652 }: SplicedFibers): Bias | null {
  if (fields === null) {
    if (!g652) return null
    const most = oneWayBias(G652.least, G652.most)
    return {
      least: -most,
      most,
      words: `fibers within G.652 (mode fields of 8.2 to 9.6 µm) put up to ± ${dB(most)} on one way`,
    }
  }
  const [from, into] = way === 'ab' ? fields : [fields[1], fields[0]]
  const least = oneWayBias(from + G652.tolerance, into - G652.tolerance)
  const most = oneWayBias(from - G652.tolerance, into + G652.tolerance)
  return {
    least,
    most,
    words:
      `by the records mode fields of ${um(from)} into ${um(into)} put ${signed(oneWayBias(from, into))} on this way, ` +
      `with ± 0.4 µm of tolerance ${signed(least)} to ${signed(most)}`,
  }
}

function oneWay({ way, loss }: TraceReading, fibers: SplicedFibers, { splice }: RuleBook): Judged {
  const bias = biasOf(way, fibers)
  const read = `${signed(loss)} one way`
  const gain = loss < -2 * READING_SIGMA
  if (bias === null)
    return {
      advice: 'wait',
      words:
        `${read}${gain ? ' looks like a gain: no splice gains, the fiber beyond throws back more' : ''}; ` +
        'what fibers of this kind put on one way is not known: wait for the other way',
      loss: null,
    }
  const slack = 2 * READING_SIGMA
  const [least, most] = [Math.max(0, loss - bias.most - slack), loss - bias.least + slack]
  if (most < 0)
    return {
      advice: 'doubt',
      words: `${read}, and ${bias.words}: no splice of such fibers shows that; look at marker, ghost and place, and shoot again`,
      loss: null,
    }
  const between = `the true loss lies between ${dB(least)} and ${dB(most)}`
  if (least > splice.limit.value)
    return {
      advice: 'redo',
      words: `${read}; ${bias.words}, so ${between}: over ${dB(splice.limit.value)} (${splice.limit.source}) from whichever end`,
      loss: null,
    }
  const looks = gain
    ? ' looks like a gain: no splice gains, the fiber beyond throws back more light and hides the loss'
    : loss > splice.good.value
      ? ' looks bad, but may be the fibers and not the splice'
      : ' looks good, but one way can hide a loss'
  return { advice: 'wait', words: `${read}${looks}; ${bias.words}, so ${between}: wait for the other way`, loss: null }
}

function bothWays(ab: number, ba: number, { modeFields, g652 }: SplicedFibers, { splice }: RuleBook): Judged {
  const readings = [ab, ba].map((loss) => ({ loss, sigma: READING_SIGMA })) as [OneWay, OneWay]
  const { loss, sigma } = twoWayLoss(...readings)!
  const off = backscatterDifference(...readings) / 2
  const mean = `(${signed(ab)} and ${signed(ba)}) / 2 = ${signed(loss)} ± ${dB(2 * sigma)}`
  const differ =
    Math.abs(off) < DIFFER
      ? ''
      : `; each way is off by ${dB(Math.abs(off))}: the fibers differ${modeFields || g652 ? `, as mode fields do that are ${(100 * (10 ** (Math.abs(off) / 10) - 1)).toFixed(0)} % apart` : ''}`
  if (loss < -2 * sigma)
    return {
      advice: 'doubt',
      words: `${mean}: no splice gains both ways; look at markers and place, and shoot both ways again`,
      loss: null,
    }
  const limit = holdsAgainst(loss, sigma, splice.limit.value)
  const good = holdsAgainst(loss, sigma, splice.good.value)
  const against = (word: string, { value, source }: RuleBook['splice']['good']) => `${word} ${dB(value)} (${source})`
  if (limit === 'no') return { advice: 'redo', words: `${mean}, ${against('over', splice.limit)}${differ}`, loss }
  if (limit === 'close')
    return { advice: 'close', words: `${mean}, ${against('close to', splice.limit)}${differ}`, loss }
  if (good === 'yes') return { advice: 'accept', words: `${mean}, ${against('within', splice.good)}${differ}`, loss }
  return {
    advice: 'close',
    words: `${mean}, within ${dB(splice.limit.value)} (${splice.limit.source}), ${against(good === 'no' ? 'over the good' : 'close to the good', splice.good)}${differ}`,
    loss,
  }
}

type OneWay = Parameters<typeof twoWayLoss>[0] & object

const dB = (value: number) => `${value.toFixed(2)} dB`
const signed = (value: number) => `${value < -0.004 ? '−' : ''}${Math.abs(value).toFixed(2)} dB`
const um = (metres: number) => `${(metres * 1e6).toFixed(1)} µm`
