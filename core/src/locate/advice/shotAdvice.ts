import { typicalFiber } from '../../fiber/backscatter.ts'
import { fiberAtChainage, type Thread } from '../../plant/thread.ts'
import { pulseLength } from '../../units/light.ts'

/** What an instrument can do, from its data sheet. */
export interface InstrumentFacts {
  name: string
  /** One-way dynamic range at `ratedPulse` and `ratedMinutes`, SNR = 1, dB. */
  dynamicRange: number
  /** s */
  ratedPulse: number
  ratedMinutes: number
  /** s, the pulses that can be chosen */
  pulses: readonly number[]
}

/** A middling instrument, where the kit's own is not known (common practice figures). */
export const TYPICAL_INSTRUMENT: InstrumentFacts = {
  name: 'typical instrument',
  dynamicRange: 38,
  ratedPulse: 10e-6,
  ratedMinutes: 3,
  pulses: [5e-9, 10e-9, 30e-9, 100e-9, 300e-9, 1e-6, 3e-6, 10e-6],
}

/** Settings for a question about one place of a link, with what they will show. */
export interface ShotAdvice {
  /** m */
  range: number
  /** s */
  pulse: number
  minutes: number
  wavelengths: number[]
  /** m of fiber that launch and receive cord need to have at least */
  cords: number
  /** Predicted: m, dB. */
  eventDeadZone: number
  attenuationDeadZone: number
  /** dB left between the fiber's level at the place and the noise of one point */
  headroom: number
  smallestStep: number
  /** In words, for what can't be had. */
  remarks: string[]
}

const RANGES = [500, 1000, 2000, 5000, 10_000, 20_000, 40_000, 80_000, 160_000, 260_000]
const MINUTES = [0.5, 1, 3, 10]
const GROUP_INDEX = 1.468
/** Typical losses on the way, dB: a splice every few km, a connection at each end (common practice). */
const SPLICE_DB = 0.1
const CONNECTION_DB = 0.5
/** A step of this size should still be seen at the place, dB. */
const WANTED_STEP_DB = 0.05
/** Events are read where the fiber stands at least so far over the noise (common practice). */
const LEAST_HEADROOM_DB = 10
/** An attenuation dead zone is a few pulses long. */
const ATTENUATION_DEAD_ZONE_PULSES = 3

/**
 * The shortest pulse that still shows a small step at the place asked about, with the averaging it takes.
 * Headroom: dynamic range, for each halving of the pulse 1.5 dB less light and 0.75 dB more noise (twice the bandwidth),
 * 0.75 dB more for each doubling of the averaging, minus the loss on the way. A line over a window of n independent points sees steps √(2/n) times a point's noise.
 * @param chainage place of the question; null for the whole link
 * @param from end that is shot from
 */
export function adviseShot(
  thread: Thread,
  chainage: number | null,
  wavelength: number,
  instrument: InstrumentFacts = TYPICAL_INSTRUMENT,
): ShotAdvice {
  const length = thread.fiberLength
  const place = chainage === null ? length : fiberAtChainage(thread, chainage)
  const joints = thread.nodes.filter((node) => node.joint !== 'through' && node.fiber < place).length
  const loss =
    (place / 1000) * typicalFiber(wavelength).attenuation + CONNECTION_DB + SPLICE_DB * Math.max(0, joints - 1)
  const free = spaceAround(thread, place)
  const choices = instrument.pulses.flatMap((pulse) =>
    MINUTES.map((minutes) => ({ pulse, minutes, ...predict(instrument, pulse, minutes, loss, free) })),
  )
  const good = choices.filter((choice) => choice.smallestStep <= WANTED_STEP_DB && choice.headroom >= LEAST_HEADROOM_DB)
  const chosen =
    good.sort((a, b) => a.pulse - b.pulse || a.minutes - b.minutes)[0] ??
    choices.sort((a, b) => a.smallestStep - b.smallestStep)[0]!
  const metres = pulseLength(chosen.pulse, GROUP_INDEX)
  const cords = Math.max(20, Math.ceil((ATTENUATION_DEAD_ZONE_PULSES * metres) / 10) * 10)
  const whole = length + 2 * cords
  const remarks: string[] = []
  if (good.length === 0)
    remarks.push(
      `no setting of this instrument shows ${WANTED_STEP_DB} dB there: the smallest step is ${chosen.smallestStep.toFixed(2)} dB; shoot from the other end`,
    )
  if (free < ATTENUATION_DEAD_ZONE_PULSES * metres)
    remarks.push('a neighbouring joint lies within the dead zone of this pulse: a shorter one needs longer averaging')
  return {
    range: RANGES.find((range) => range >= 1.25 * whole) ?? RANGES.at(-1)!,
    pulse: chosen.pulse,
    minutes: chosen.minutes,
    wavelengths: [1310, 1550],
    cords,
    eventDeadZone: metres,
    attenuationDeadZone: ATTENUATION_DEAD_ZONE_PULSES * metres,
    headroom: chosen.headroom,
    smallestStep: chosen.smallestStep,
    remarks,
  }
}

function predict(instrument: InstrumentFacts, pulse: number, minutes: number, loss: number, free: number) {
  const headroom =
    instrument.dynamicRange +
    (5 + 2.5) * Math.log10(pulse / instrument.ratedPulse) +
    2.5 * Math.log10(minutes / instrument.ratedMinutes) -
    loss
  // One point's noise against the fiber's level, as dB: 5/ln 10 times the ratio of powers.
  const pointNoise = (5 / Math.LN10) * 10 ** (-headroom / 5)
  const independent = Math.max(1, free / pulseLength(pulse, GROUP_INDEX))
  return { headroom, smallestStep: 4 * pointNoise * Math.sqrt(2 / independent) }
}

/** m of fiber to the nearest joint on the narrower side; a window never crosses it. */
function spaceAround(thread: Thread, place: number): number {
  const away = thread.nodes
    .filter((node) => node.joint !== 'through')
    .map((node) => Math.abs(node.fiber - place))
    .filter((metres) => metres > 1)
  return Math.min(2000, ...away)
}
