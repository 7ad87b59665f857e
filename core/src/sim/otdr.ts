import { SPEED_OF_LIGHT } from '../units/light.ts'
import { echoesOf, type Reflection } from './echoes.ts'
import type { FiberModel } from './fiberModel.ts'
import { pulseSlabs, type PulseShape } from './pulse.ts'
import { seededRandom, type Random } from '../math/random.ts'
import { interference, type Coherence } from './roughness.ts'

/** What makes one instrument differ from another. */
export interface Instrument {
  name: string
  /** Noise of one measurement without averaging, as power relative to the pulse sent, dB (10·log10). */
  noisePower: number
  /** Received power at which the receiver saturates, relative to the pulse sent, dB (10·log10). */
  saturation: number
  /** Time constant of the receiver, s. */
  timeConstant: number
  /** Backscatter coefficient it is set to, dB for 1 ns; null to leave the field empty. */
  backscatterSetting: number | null
  /** Rectangular when absent. */
  pulseShape?: PulseShape
  /** After light over its limit the receiver recovers slowly: this part of the excess fades with this time constant. */
  recovery?: { part: number; timeConstant: number }
  /** So much of all light comes through the receiver more slowly than the rest, with this time constant in s. */
  slowPole?: { part: number; timeConstant: number }
  /** Interference makes the backscatter rough; even when absent. */
  coherence?: Coherence
  /** Relative error of the time base: a place shows at this much more than its distance. */
  clockError?: number
  /** The port shows here instead of at 0, m. */
  zeroError?: number
  /** What becomes of a reading that noise made negative. */
  negative?: 'clipped' | 'folded'
}

export interface ShotSettings {
  /** nm */
  wavelength: number
  /** s */
  pulseWidth: number
  /** m between points */
  spacing: number
  /** m */
  range: number
  averages: number
  /** Group index setting. */
  groupIndex: number
}

/** Levels that an instrument would show. */
export interface Shot {
  /** One-way dB, 0 at the receiver's limit; rounded to 0.001 dB, never below −65.535. */
  levels: Float64Array
  firstDistance: number
}

export const DEFAULT_INSTRUMENT: Instrument = {
  name: 'Simulated OTDR',
  noisePower: -66,
  saturation: -37,
  timeConstant: 2e-9,
  backscatterSetting: null,
}

const LOWEST_LEVEL_DB = -65.535

/**
 * A physical OTDR: a pulse travels the fiber, the returning light is the sum of the backscatter of the stretch it
 * covers, of the reflections it meets, each weakened twice by the way, and of their echoes (ghosts); the receiver
 * rounds it, recovers slowly from too much light, adds noise in linear power, saturates, and shows 5·log10.
 *
 * Backscatter of a span is integrated in closed form, so that nothing depends on the spacing of the points.
 * Source: Derickson, Fiber Optic Test and Measurement; IEC 61746-1.
 */
export function shoot(model: FiberModel, instrument: Instrument, settings: ShotSettings, random: Random): Shot {
  const power = noiselessPower(model, instrument, settings)
  const sigma = noiseOfOne(instrument) / Math.sqrt(settings.averages)
  addNoise(power, sigma, noiseSeries(power.length, instrument, settings, random))
  return { levels: toLevels(power, instrument), firstDistance: 0 }
}

/** What the display shows after so many averages. */
export interface Stage extends Shot {
  averages: number
}

/** Averages of the first stage that is shown; each further one doubles. */
const FIRST_STAGE = 1024

/**
 * How a shot comes about: the display at averages that double, the last being the shot that {@link shoot} takes with
 * the same random numbers. Noise that adds up is a random walk; with its end known, earlier stages are those of a
 * Brownian bridge.
 */
export function averagingStages(
  model: FiberModel,
  instrument: Instrument,
  settings: ShotSettings,
  random: Random,
): Stage[] {
  const clean = noiselessPower(model, instrument, settings)
  const single = noiseOfOne(instrument)
  const series = () => noiseSeries(clean.length, instrument, settings, random)
  let averages = settings.averages
  let walked = series().map((noise) => noise * Math.sqrt(averages))
  const stages: Stage[] = []
  for (;;) {
    const power = clean.slice()
    addNoise(power, single / averages, walked)
    stages.unshift({ averages, levels: toLevels(power, instrument), firstDistance: 0 })
    if (averages <= FIRST_STAGE) return stages
    const earlier = FIRST_STAGE * 2 ** (Math.ceil(Math.log2(averages / FIRST_STAGE)) - 1)
    const part = earlier / averages
    const spread = Math.sqrt(earlier * (1 - part))
    const fresh = series()
    walked = walked.map((noise, i) => part * noise + spread * fresh[i]!)
    averages = earlier
  }
}

function noiselessPower(model: FiberModel, instrument: Instrument, settings: ShotSettings): Float64Array {
  const points = Math.max(2, Math.floor(settings.range / settings.spacing))
  const returned = returnedPower(model, instrument, settings, points)
  const rounded = roundByReceiver(returned, instrument.timeConstant, pointTime(settings))
  if (instrument.slowPole) throughSlowPole(rounded, instrument.slowPole, pointTime(settings))
  if (instrument.recovery) recoverSlowly(rounded, instrument, instrument.recovery, pointTime(settings))
  return rounded
}

/** Noise of one measurement, as power relative to the pulse sent. */
function noiseOfOne(instrument: Instrument): number {
  return 10 ** (instrument.noisePower / 10)
}

/** Round-trip time between points, s. */
function pointTime(settings: ShotSettings): number {
  return (2 * settings.spacing * settings.groupIndex) / SPEED_OF_LIGHT
}

interface Stretch {
  /** Round-trip times, s. */
  start: number
  end: number
  /** Power per second of pulse at the start, and its decay per second of round trip. */
  density: number
  decay: number
  /** Energy returned before this stretch. */
  before: number
}

/** Lays the fiber out in round-trip time. */
function layOut(model: FiberModel): { stretches: Stretch[]; reflections: Reflection[] } {
  const stretches: Stretch[] = []
  const reflections: Reflection[] = []
  let time = 0
  let transmission = 1 // two-way
  let energy = 0
  for (const element of model.elements) {
    if (element.kind === 'joint') {
      if (element.reflectance !== null) reflections.push(reflectionAt(time, transmission, element.reflectance))
      transmission *= 10 ** (-element.loss / 5)
      continue
    }
    const duration = (2 * element.length * element.groupIndex) / SPEED_OF_LIGHT
    if (duration === 0) continue
    const passed = 10 ** ((-element.attenuation * element.length) / 5)
    const decay = -Math.log(passed) / duration
    const density = transmission * 10 ** (element.backscatter / 10) * 1e9
    stretches.push({ start: time, end: time + duration, density, decay, before: energy })
    energy += stretchEnergy(density, decay, duration)
    time += duration
    transmission *= passed
  }
  if (model.endReflectance !== null) reflections.push(reflectionAt(time, transmission, model.endReflectance))
  return { stretches, reflections }
}

function reflectionAt(time: number, transmission: number, reflectanceDb: number): Reflection {
  const reflectance = 10 ** (reflectanceDb / 10)
  return { time, power: transmission * reflectance, reflectance }
}

function stretchEnergy(density: number, decay: number, duration: number): number {
  return decay * duration < 1e-9 ? density * duration : (density * -Math.expm1(-decay * duration)) / decay
}

function returnedPower(
  model: FiberModel,
  instrument: Instrument,
  settings: ShotSettings,
  points: number,
): Float64Array {
  const { stretches, reflections } = layOut(model)
  const step = pointTime(settings) / (1 + (instrument.clockError ?? 0))
  const zero = (2 * (instrument.zeroError ?? 0) * settings.groupIndex) / SPEED_OF_LIGHT
  const faintest = 10 ** (instrument.noisePower / 10) / Math.sqrt(settings.averages) / 10
  const returns = [...reflections, ...echoesOf(reflections, faintest)]
  const power = new Float64Array(points)
  const rough = instrument.coherence
    ? interference(
        densityOf(stretches),
        { first: -zero, step, points, pulse: settings.pulseWidth },
        instrument.coherence,
        seededRandom(instrument.coherence.seed),
      )
    : null
  for (const slab of pulseSlabs(instrument.pulseShape ?? 'rectangular', settings.pulseWidth)) {
    // A slab's height over that of a rectangular pulse of the same energy.
    const height = (slab.share * settings.pulseWidth) / slab.width
    addBackscatter(power, stretches, { first: -zero - slab.start, step, width: slab.width, height })
    if (rough)
      for (let i = 0; i < points; i++) {
        const time = i * step - zero - slab.start
        power[i]! += height * (rough(time) - rough(time - slab.width))
      }
    for (const reflection of returns) {
      const begins = reflection.time + zero + slab.start
      const first = Math.max(0, Math.ceil(begins / step))
      const last = Math.min(points - 1, Math.ceil((begins + slab.width) / step) - 1)
      for (let i = first; i <= last; i++) power[i]! += height * reflection.power
    }
  }
  return power
}

/** Points after which a decay that is multiplied on from point to point is computed anew. */
const COMPUTED_ANEW = 256

/** Adds, times a height, the energy that comes back in a window before each point: its end moves by `step`, s. */
function addBackscatter(
  power: Float64Array,
  stretches: readonly Stretch[],
  { first, step, width, height }: { first: number; step: number; width: number; height: number },
): void {
  if (stretches.length === 0) return
  let [front, back] = [0, 0]
  for (let i = 0; i < power.length; i++) {
    const time = first + i * step
    if (time <= 0) continue
    while (front + 1 < stretches.length && time >= stretches[front]!.end) front++
    while (back + 1 < stretches.length && time - width >= stretches[back]!.end) back++
    const { start, end, density, decay } = stretches[front]!
    if (front !== back || time - width < start || time > end) {
      power[i]! += height * (energyUpTo(stretches[front]!, time) - energyUpTo(stretches[back]!, time - width))
      continue
    }
    // While the whole window lies in one stretch its energy falls by the same factor from point to point.
    const last = Math.min(power.length, i + COMPUTED_ANEW, i + 1 + Math.floor((end - time) / step))
    const factor = Math.exp(-decay * step)
    let energy = height * Math.exp(-decay * (time - width - start)) * stretchEnergy(density, decay, width)
    for (; i < last; i++) {
      power[i]! += energy
      energy *= factor
    }
    i--
  }
}

/** Energy per second of round trip at times that are asked for in order. */
function densityOf(stretches: readonly Stretch[]): (time: number) => number {
  let k = 0
  return (time) => {
    while (k < stretches.length && time >= stretches[k]!.end) k++
    const at = stretches[k]
    return at && time > at.start ? at.density * Math.exp(-at.decay * (time - at.start)) : 0
  }
}

/** Energy returned up to a time that lies in a stretch, or after the last one. */
function energyUpTo({ start, end, density, decay, before }: Stretch, time: number): number {
  return time <= 0 ? 0 : before + stretchEnergy(density, decay, Math.min(time, end) - start)
}

function roundByReceiver(power: Float64Array, timeConstant: number, step: number): Float64Array {
  const keep = timeConstant > 0 ? Math.exp(-step / timeConstant) : 0
  let state = 0
  return power.map((value) => (state = keep * state + (1 - keep) * value))
}

/** What a receiver passes on late: as so many circuits have, a weak pole far below its bandwidth (common practice). */
function throughSlowPole(
  power: Float64Array,
  { part, timeConstant }: NonNullable<Instrument['slowPole']>,
  step: number,
): void {
  const keep = Math.exp(-step / timeConstant)
  let late = 0
  for (let i = 0; i < power.length; i++) {
    late = keep * late + (1 - keep) * power[i]!
    power[i] = (1 - part) * power[i]! + part * late
  }
}

/** Light over the limit leaves a tail that fades slowly: what makes the dead zone after a strong reflection long. */
function recoverSlowly(
  power: Float64Array,
  instrument: Instrument,
  recovery: NonNullable<Instrument['recovery']>,
  step: number,
): void {
  const limit = 10 ** (instrument.saturation / 10)
  const keep = Math.exp(-step / recovery.timeConstant)
  let tail = 0
  for (let i = 0; i < power.length; i++) {
    const excess = Math.max(0, power[i]! - limit)
    tail = Math.max(keep * tail, recovery.part * Math.min(excess, 10 * limit))
    if (excess === 0) power[i]! += tail
  }
}

/**
 * Noise of variance 1 at each point. The receiver limits its bandwidth as it does the signal's: neighbouring points share
 * some of it.
 */
function noiseSeries(points: number, instrument: Instrument, settings: ShotSettings, random: Random): Float64Array {
  const keep = instrument.timeConstant > 0 ? Math.exp(-pointTime(settings) / instrument.timeConstant) : 0
  const fresh = Math.sqrt(1 - keep * keep)
  const out = new Float64Array(points)
  let noise = random.normal()
  for (let i = 0; i < points; i++) {
    out[i] = noise
    noise = keep * noise + fresh * random.normal()
  }
  return out
}

function addNoise(power: Float64Array, sigma: number, noise: Float64Array): void {
  for (let i = 0; i < power.length; i++) power[i]! += sigma * noise[i]!
}

function toLevels(power: Float64Array, instrument: Instrument): Float64Array {
  const limit = 10 ** (instrument.saturation / 10)
  return power.map((value) => {
    const shown = instrument.negative === 'folded' ? Math.abs(value) : value
    const level = shown > 0 ? 5 * Math.log10(Math.min(shown, limit) / limit) : LOWEST_LEVEL_DB
    return Math.round(Math.max(LOWEST_LEVEL_DB, level) * 1000) / 1000
  })
}
