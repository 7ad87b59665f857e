import { gaussianOverlapLoss } from './gaussianOverlap.ts'
import { seededRandom, type Random } from '../../math/random.ts'

/** How a splicer brings fibers in line: grooves alone, cladding seen and moved, cores seen and moved. */
export type Aligner = 'fixed' | 'active' | 'core'

/** What can be wrong with a session of the stand-in, one at a time. */
export const PLANTED_CAUSES = [
  'none',
  'dirty groove',
  'worn blade',
  'old electrodes',
  'mode fields',
  'careless hand',
] as const
export type PlantedCause = (typeof PLANTED_CAUSES)[number]

/**
 * How large each is. Written down before anything was made that looks for them, and not changed since: invented, with no
 * claim to any real machine.
 */
export const SIZES = {
  /** A particle under one fiber, µm, drawn evenly; the fiber sits on it in so many of the loads. */
  groove: { least: 1.5, most: 4, seats: 0.85 },
  /** A worn blade: angles scatter so many times as much, and stand off by so many degrees. */
  blade: { scatter: 2.2, off: 0.25 },
  /** Scatter of the arc's power around what was calibrated, and how often a calibration or a proof test fails. */
  electrodes: {
    healthyArc: 0.02,
    oldArc: 0.14,
    healthyRefused: 0.1,
    oldRefused: 0.5,
    healthyBroken: 0.004,
    oldBroken: 0.06,
  },
  /** Mode field diameters, µm. */
  modeFields: { usual: 9.2, odd: 7.5 },
  /** An end that was handled badly: how often, how much angle it adds on average, how often dirt is seen on it. */
  hand: { often: 0.3, angle: 1.2, seen: 0.7, healthyOften: 0.01 },
} as const

/** How a day, an operator or a reel differs from the machine's usual: factors of angles, seat and what a joint loses anyway. */
export interface Day {
  angles: number
  seat: number
  loss: number
}

const USUAL_DAY: Day = { angles: 1, seat: 1, loss: 1 }

/** One fiber pair as the machine reports it. */
export interface SplicerReport {
  /** dB, two digits; null where the joint could not be judged. */
  estimate: number | null
  /** Angles of both ends, degrees. */
  cleaveLeft: number
  cleaveRight: number
  /** Between the claddings before they are moved, µm. */
  offset: number
  gap: 'good' | 'bad'
  proof: 'held' | 'broke'
}

const WAVELENGTH = 1.31
/** What is left of an offset by the surface of the melt, or by moving what is seen. */
const LEFT: Record<Aligner, number> = { fixed: 0.45, active: 0.12, core: 0.08 }
/** How well fibers sit, µm, one axis. */
const SEAT: Record<Aligner, number> = { fixed: 0.3, active: 0.35, core: 0.35 }
/** Core in its cladding, µm, one axis of one fiber; seen and taken out only where cores are looked at. */
const ECCENTRICITY = 0.18

/**
 * A simulated splicer: cleaved ends with angles, fibers that sit beside each other, an arc that is never quite right; loss
 * by the overlap of the fields, and an estimate from the picture, which sees less than all of it.
 */
export class SplicerStandIn {
  readonly #random: Random
  /** What is wrong from now on, and what today is like. */
  causes: readonly PlantedCause[]
  day: Day = USUAL_DAY
  readonly #aligner: Aligner
  /** Of this machine: how much of the loss its picture shows. */
  readonly #sees: number
  readonly #particle: number
  readonly #dirtySide: 'left' | 'right'

  constructor(seed: number, aligner: Aligner, ...causes: readonly PlantedCause[]) {
    this.#random = seededRandom(seed)
    this.#aligner = aligner
    this.causes = causes
    this.#sees = 0.8 + 0.35 * this.#random.uniform()
    const { least, most } = SIZES.groove
    this.#particle = least + (most - least) * this.#random.uniform()
    this.#dirtySide = this.#random.uniform() < 0.5 ? 'left' : 'right'
  }

  #has(cause: PlantedCause): boolean {
    return this.causes.includes(cause)
  }

  /** An arc calibration; multimode fiber is refused as it should be, and so are ends with too much angle. */
  calibrate(fiber: 'single-mode' | 'multimode' = 'single-mode'): 'accepted' | 'refused' {
    if (fiber !== 'single-mode') return 'refused'
    const ends = [this.#cleave().angle, this.#cleave().angle]
    const { oldRefused, healthyRefused } = SIZES.electrodes
    const unsteady = this.#random.uniform() < (this.#has('old electrodes') ? oldRefused : healthyRefused)
    return unsteady || Math.max(...ends) > 2 ? 'refused' : 'accepted'
  }

  /** One pair, spliced and proof-tested. */
  splice(): SplicerReport {
    const [left, right] = [this.#cleave(), this.#cleave()]
    const bad = left.dirty || right.dirty || Math.max(left.angle, right.angle) > 3
    const offset = this.#offset()
    const { loss, broke } = this.#melt(left.angle, right.angle, offset)
    const dirt = left.dirty || right.dirty ? 0.12 * -Math.log(1 - this.#random.uniform()) : 0
    const seen = this.#sees * (loss + dirt) + 0.006 * this.#random.normal()
    return {
      estimate: Math.max(0, Math.round(seen * 100) / 100),
      cleaveLeft: Math.round(left.angle * 10) / 10,
      cleaveRight: Math.round(right.angle * 10) / 10,
      offset: Math.round(offset * 10) / 10,
      gap: bad ? 'bad' : 'good',
      proof: broke ? 'broke' : 'held',
    }
  }

  /** Angle of a cleaved end, degrees, and whether dirt is to be seen on it. */
  #cleave(): { angle: number; dirty: boolean } {
    const worn = this.#has('worn blade')
    const scatter = 0.21 * this.day.angles * (worn ? SIZES.blade.scatter : 1)
    let angle = scatter * Math.hypot(this.#random.normal(), this.#random.normal()) + (worn ? SIZES.blade.off : 0)
    const { often, healthyOften, seen } = SIZES.hand
    const badly = this.#random.uniform() < (this.#has('careless hand') ? often : healthyOften)
    if (badly) angle += SIZES.hand.angle * -Math.log(1 - this.#random.uniform())
    return { angle, dirty: badly && this.#random.uniform() < seen }
  }

  /** Between the claddings as the fibers lie, µm. */
  #offset(): number {
    const seat = SEAT[this.#aligner] * this.day.seat
    let x = seat * this.#random.normal()
    const y = seat * this.#random.normal()
    if (this.#has('dirty groove') && this.#random.uniform() < SIZES.groove.seats)
      x += (this.#dirtySide === 'left' ? 1 : -1) * this.#particle * (0.7 + 0.3 * this.#random.uniform())
    return Math.hypot(x, y)
  }

  /** The loss of the joint, dB, and whether it broke in the proof test. */
  #melt(leftAngle: number, rightAngle: number, offset: number): { loss: number; broke: boolean } {
    const [a, b] = this.#has('mode fields')
      ? [SIZES.modeFields.usual, SIZES.modeFields.odd]
      : [SIZES.modeFields.usual, SIZES.modeFields.usual]
    const cores = this.#aligner === 'core' ? 0.03 : ECCENTRICITY * Math.SQRT2
    const lateral = Math.hypot(
      LEFT[this.#aligner] * offset + cores * this.#random.normal(),
      cores * this.#random.normal(),
    )
    // Ends at an angle shrink unevenly: the axes stand at part of it.
    const tilt = 0.3 * Math.hypot(leftAngle, rightAngle)
    const { oldArc, healthyArc, oldBroken, healthyBroken } = SIZES.electrodes
    const old = this.#has('old electrodes')
    const arc = (old ? oldArc : healthyArc) * this.#random.normal()
    return {
      loss: 0.005 + this.day.loss * gaussianOverlapLoss(a / 2, b / 2, lateral, tilt, WAVELENGTH) + 4 * arc ** 2,
      broke: this.#random.uniform() < (old ? oldBroken : healthyBroken),
    }
  }
}
