import { SPEED_OF_LIGHT } from '../units/light.ts'
import type { FiberModel } from './fiberModel.ts'
import type { Random } from './random.ts'

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
 * A physical OTDR: a rectangular pulse travels the fiber, the returning light is the sum of the backscatter of the
 * stretch it covers and of the reflections it meets, each weakened twice by the way; the receiver rounds it, adds
 * noise in linear power, saturates, and shows 5·log10.
 *
 * Backscatter of a span is integrated in closed form, so that nothing depends on the spacing of the points.
 * Source: Derickson, Fiber Optic Test and Measurement; IEC 61746-1.
 */
export function shoot(model: FiberModel, instrument: Instrument, settings: ShotSettings, random: Random): Shot {
  const points = Math.max(2, Math.floor(settings.range / settings.spacing))
  const returned = returnedPower(model, settings, points)
  const rounded = roundByReceiver(returned, instrument.timeConstant, pointTime(settings))
  addNoise(rounded, instrument, settings, random)
  return { levels: toLevels(rounded, instrument), firstDistance: 0 }
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

interface Reflection {
  time: number
  power: number
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
      if (element.reflectance !== null)
        reflections.push({ time, power: transmission * 10 ** (element.reflectance / 10) })
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
  if (model.endReflectance !== null) reflections.push({ time, power: transmission * 10 ** (model.endReflectance / 10) })
  return { stretches, reflections }
}

function stretchEnergy(density: number, decay: number, duration: number): number {
  return decay * duration < 1e-9 ? density * duration : (density * -Math.expm1(-decay * duration)) / decay
}

function returnedPower(model: FiberModel, settings: ShotSettings, points: number): Float64Array {
  const { stretches, reflections } = layOut(model)
  const step = pointTime(settings)
  const energyUpTo = energyReader(stretches)
  const energyBefore = energyReader(stretches)
  const power = new Float64Array(points)
  for (let i = 0; i < points; i++) {
    const time = i * step
    power[i] = energyUpTo(time) - energyBefore(time - settings.pulseWidth)
  }
  for (const reflection of reflections) {
    const first = Math.max(0, Math.ceil(reflection.time / step))
    const last = Math.min(points - 1, Math.ceil((reflection.time + settings.pulseWidth) / step) - 1)
    for (let i = first; i <= last; i++) power[i]! += reflection.power
  }
  return power
}

/** Energy returned up to a time; times must not fall from call to call. */
function energyReader(stretches: readonly Stretch[]): (time: number) => number {
  let at = 0
  return (time) => {
    if (time <= 0 || stretches.length === 0) return 0
    while (at + 1 < stretches.length && time >= stretches[at]!.end) at++
    const { start, end, density, decay, before } = stretches[at]!
    return before + stretchEnergy(density, decay, Math.min(time, end) - start)
  }
}

function roundByReceiver(power: Float64Array, timeConstant: number, step: number): Float64Array {
  const keep = timeConstant > 0 ? Math.exp(-step / timeConstant) : 0
  let state = 0
  return power.map((value) => (state = keep * state + (1 - keep) * value))
}

/** The receiver limits the noise's bandwidth as it does the signal's: neighbouring points share some of it. */
function addNoise(power: Float64Array, instrument: Instrument, settings: ShotSettings, random: Random): void {
  const sigma = 10 ** (instrument.noisePower / 10) / Math.sqrt(settings.averages)
  const keep = instrument.timeConstant > 0 ? Math.exp(-pointTime(settings) / instrument.timeConstant) : 0
  const fresh = Math.sqrt(1 - keep * keep)
  let noise = random.normal()
  for (let i = 0; i < power.length; i++) {
    power[i]! += sigma * noise
    noise = keep * noise + fresh * random.normal()
  }
}

function toLevels(power: Float64Array, instrument: Instrument): Float64Array {
  const limit = 10 ** (instrument.saturation / 10)
  return power.map((value) => {
    const level = value > 0 ? 5 * Math.log10(Math.min(value, limit) / limit) : LOWEST_LEVEL_DB
    return Math.round(Math.max(LOWEST_LEVEL_DB, level) * 1000) / 1000
  })
}
