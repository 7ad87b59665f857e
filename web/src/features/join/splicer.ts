import { CodedError } from '@cold-thread/core/errors'
import { SplicerStandIn, type Aligner, type PlantedCause } from '@cold-thread/core/sim'
import type { Conditions, FiberReading } from '@cold-thread/core/join'

/** What a splicer shows of one splice: of a ribbon each fiber. */
export interface SplicerShows {
  readings: FiberReading[]
  offset: number | null
  gap: 'good' | 'bad' | null
  proof: 'held' | 'broke' | null
}

/** A splicer that tells what it did: what a driver of a real one has to offer. Nothing that comes from it is trusted. */
export interface Splicer {
  calibrate(fiber: 'single-mode' | 'multimode'): Promise<unknown>
  splice(fibers: number): Promise<unknown>
  /** Altitude, m, temperature, °C, humidity, %, and air pressure, Pa, where it has such sensors. */
  conditions(): Promise<unknown>
}

/** Why nothing can be taken from a splicer. */
export class SplicerError extends CodedError<'splicer-unreadable'> {
  constructor(message: string) {
    super('splicer-unreadable', message)
  }
}

/** So long a splicer may take, ms. */
const PATIENCE = 15_000

async function answer(asked: Promise<unknown>, patience: number): Promise<unknown> {
  let timer: ReturnType<typeof setTimeout> | undefined
  const silence = new Promise<never>((_resolve, reject) => {
    timer = setTimeout(
      () => reject(new SplicerError('The splicer says nothing: read its screen and enter what it shows.')),
      patience,
    )
  })
  try {
    return await Promise.race([asked, silence])
  } finally {
    clearTimeout(timer)
  }
}

const NONSENSE = 'The splicer says something that can’t be'

function within(value: unknown, name: string, least: number, most: number): number | null {
  if (value === null || value === undefined) return null
  if (typeof value !== 'number' || !(value >= least && value <= most))
    throw new SplicerError(`${NONSENSE}: ${name} ${String(value)}. Read its screen and enter what it shows.`)
  return value
}

function oneOf<T extends string>(value: unknown, name: string, allowed: readonly T[]): T | null {
  if (value === null || value === undefined) return null
  const found = allowed.find((one) => one === value)
  if (found === undefined)
    throw new SplicerError(`${NONSENSE}: ${name} ${String(value)}. Read its screen and enter what it shows.`)
  return found
}

/**
 * What a splicer shows of a splice, checked.
 * @throws SplicerError when it is silent, or says what can't be
 */
export async function askSplice(splicer: Splicer, fibers: number, patience = PATIENCE): Promise<SplicerShows> {
  const told = await answer(splicer.splice(fibers), patience)
  const list = Array.isArray(told) ? (told as unknown[]) : [told]
  if (list.length !== fibers)
    throw new SplicerError(`${NONSENSE}: ${list.length} fibers of ${fibers}. Read its screen and enter what it shows.`)
  const each = list.map((one) => {
    if (typeof one !== 'object' || one === null)
      throw new SplicerError(`${NONSENSE}: ${String(one)}. Read its screen and enter what it shows.`)
    const { estimate, cleaveLeft, cleaveRight, offset, gap, proof } = one as Record<string, unknown>
    return {
      reading: {
        estimate: within(estimate, 'estimate', 0, 20),
        cleaveLeft: within(cleaveLeft, 'left cleave', 0, 20),
        cleaveRight: within(cleaveRight, 'right cleave', 0, 20),
      },
      offset: within(offset, 'offset', 0, 100),
      gap: oneOf(gap, 'picture', ['good', 'bad'] as const),
      proof: oneOf(proof, 'proof test', ['held', 'broke'] as const),
    }
  })
  const offsets = each.flatMap(({ offset }) => offset ?? [])
  return {
    readings: each.map(({ reading }) => reading),
    offset: offsets.length === 0 ? null : Math.max(...offsets),
    gap: each.some(({ gap }) => gap === 'bad') ? 'bad' : each.every(({ gap }) => gap === null) ? null : 'good',
    proof: each.some(({ proof }) => proof === 'broke')
      ? 'broke'
      : each.every(({ proof }) => proof === null)
        ? null
        : 'held',
  }
}

/** As {@link askSplice}, for an arc calibration. */
export async function askCalibration(
  splicer: Splicer,
  fiber: 'single-mode' | 'multimode',
  patience = PATIENCE,
): Promise<'accepted' | 'refused'> {
  const told = oneOf(await answer(splicer.calibrate(fiber), patience), 'calibration', ['accepted', 'refused'] as const)
  if (told === null) throw new SplicerError(`${NONSENSE}: no result of the calibration.`)
  return told
}

/** As {@link askSplice}, for the conditions that its sensors show; null for one that it does not have. */
export async function askConditions(splicer: Splicer, patience = PATIENCE): Promise<Conditions> {
  const told = await answer(splicer.conditions(), patience)
  if (typeof told !== 'object' || told === null)
    throw new SplicerError(`${NONSENSE}: ${String(told)}. Read its screen and enter what it shows.`)
  const { altitude, temperature, humidity, pressure } = told as Record<string, unknown>
  return {
    altitude: within(altitude, 'altitude', -500, 9000),
    temperature: within(temperature, 'temperature', -60, 80),
    humidity: within(humidity, 'humidity', 0, 100),
    pressure: within(pressure, 'pressure', 20_000, 120_000),
  }
}

/** A night at the practice canal. */
const PRACTICE_CONDITIONS: Conditions = { altitude: 212, temperature: 4.5, humidity: 83, pressure: 98_600 }

/** What the stand-in can be set to, beside what is wrong with a session. */
export type StandInFault = PlantedCause | 'silent' | 'nonsense'

const NOTHING_THAT_CAN_BE = [{ estimate: -4 }]

/** The stand-in: a simulated splicer that takes its time, and can be given a fault to practise on. */
export class StandInSplicer implements Splicer {
  readonly #machine: SplicerStandIn
  readonly #fault: StandInFault
  readonly #delay: number

  constructor(seed: number, aligner: Aligner, fault: StandInFault, delay = 900) {
    this.#machine = new SplicerStandIn(seed, aligner, fault === 'silent' || fault === 'nonsense' ? 'none' : fault)
    this.#fault = fault
    this.#delay = delay
  }

  calibrate(fiber: 'single-mode' | 'multimode'): Promise<unknown> {
    return this.#after(() => this.#machine.calibrate(fiber))
  }

  splice(fibers: number): Promise<unknown> {
    return this.#after(() => Array.from({ length: fibers }, () => this.#machine.splice()))
  }

  conditions(): Promise<unknown> {
    return this.#after(() => PRACTICE_CONDITIONS)
  }

  #after(make: () => unknown): Promise<unknown> {
    return new Promise((resolve) => {
      if (this.#fault === 'silent') return
      setTimeout(() => resolve(this.#fault === 'nonsense' ? NOTHING_THAT_CAN_BE : make()), this.#delay)
    })
  }
}
