/** What an arc depends on. Null where nobody read it. */
export interface Conditions {
  /** m above the sea */
  altitude: number | null
  /** °C */
  temperature: number | null
  /** % of saturation */
  humidity: number | null
  /** Pa */
  pressure: number | null
}

export const NO_CONDITIONS: Conditions = { altitude: null, temperature: null, humidity: null, pressure: null }

/** A change of conditions that asks for a new calibration: judgement, no published source. */
export const CALIBRATE_AFTER = { altitude: 300, temperature: 10, humidity: 25, pressure: 3000 } as const

/** Heater programs and sleeves, mm (common practice). */
export const SLEEVES = [40, 45, 60] as const
export type Sleeve = (typeof SLEEVES)[number]

/** Programs of the arc, by the fiber that is spliced. */
export const FIBER_MODES = ['single-mode', 'bend-insensitive', 'dispersion-shifted', 'multimode'] as const
export type FiberMode = (typeof FIBER_MODES)[number]

/** How a session is set up: which tools, which programs. */
export interface SessionSetup {
  /** Kit ids; null for one that is not in the kit. */
  splicer: string | null
  cleaver: string | null
  ribbon: boolean
  mode: FiberMode
  heater: Sleeve
  sleeve: Sleeve
  conditions: Conditions
  /** Name of the rule book that its splices are judged by; the standard one where nobody said. */
  rules?: 'standard' | 'tight' | undefined
}

/** What was done to the tools in a session. */
export const CARE = ['grooves', 'blade', 'electrodes', 'moved', 'switched on'] as const
export type Care = (typeof CARE)[number]

export type SessionEvent =
  | { kind: 'calibration'; fiber: 'single-mode' | 'multimode'; outcome: 'accepted' | 'refused'; conditions: Conditions }
  | { kind: 'care'; what: Care; conditions: Conditions }
  | { kind: 'splice' }
  | { kind: 'ended' }

export interface SessionState {
  /** Why the arc must be calibrated before the next splice; empty where it need not. */
  demands: string[]
  /** Calibrations refused in a row, and in the session. */
  refusedInRow: number
  refused: number
  /** What to do after refusals; null before. */
  advice: string | null
  splices: number
  ended: boolean
  /** As last read. */
  conditions: Conditions
}

const CONDITION_WORDS: Record<keyof Conditions, { name: string; words: (by: number) => string }> = {
  altitude: { name: 'altitude', words: (by) => `${Math.round(by)} m` },
  temperature: { name: 'temperature', words: (by) => `${Math.round(by)} °C` },
  humidity: { name: 'humidity', words: (by) => `${Math.round(by)} %` },
  pressure: { name: 'air pressure', words: (by) => `${(by / 1000).toFixed(1)} kPa` },
}

/** What changed enough since the arc was calibrated, in words. */
export function changedConditions(then: Conditions, now: Conditions): string[] {
  return (Object.keys(CALIBRATE_AFTER) as (keyof Conditions)[]).flatMap((key) => {
    const [a, b] = [then[key], now[key]]
    if (a === null || b === null || Math.abs(b - a) < CALIBRATE_AFTER[key]) return []
    const { name, words } = CONDITION_WORDS[key]
    return [`${name} changed by ${words(Math.abs(b - a))} since the arc was calibrated`]
  })
}

/**
 * Where a session stands, from what happened in it, in order. An arc is calibrated each time after the splicer was
 * switched on, moved or given electrodes, and when conditions change; always with single-mode fiber (common practice).
 */
export function sessionState(setup: SessionSetup, events: readonly SessionEvent[]): SessionState {
  let calibratedAt: Conditions | null = null
  let conditions = setup.conditions
  let why: string[] = ['the splicer was switched on: calibrate the arc']
  let [refusedInRow, refused, splices, ended] = [0, 0, 0, false]
  for (const event of events) {
    if (event.kind === 'splice') splices++
    else if (event.kind === 'ended') ended = true
    else {
      conditions = filledFrom(event.conditions, conditions)
      if (event.kind === 'calibration') {
        if (event.outcome === 'accepted' && event.fiber === 'single-mode') {
          ;[calibratedAt, why, refusedInRow] = [conditions, [], 0]
        } else {
          refusedInRow++
          refused++
          calibratedAt = null
          why = [
            event.fiber === 'multimode'
              ? 'an arc is calibrated with single-mode fiber, also where multimode will be spliced'
              : 'the last calibration was refused',
          ]
        }
      } else if (event.what === 'moved' || event.what === 'switched on' || event.what === 'electrodes') {
        calibratedAt = null
        why = [CARE_DEMANDS[event.what]]
      }
    }
  }
  const demands = calibratedAt === null ? why : changedConditions(calibratedAt, conditions)
  return { demands, refusedInRow, refused, advice: refusalAdvice(refusedInRow), splices, ended, conditions }
}

const CARE_DEMANDS = {
  moved: 'the splicer was moved: calibrate the arc',
  'switched on': 'the splicer was switched on: calibrate the arc',
  electrodes: 'new electrodes: calibrate the arc',
} as const

function filledFrom(read: Conditions, before: Conditions): Conditions {
  return {
    altitude: read.altitude ?? before.altitude,
    temperature: read.temperature ?? before.temperature,
    humidity: read.humidity ?? before.humidity,
    pressure: read.pressure ?? before.pressure,
  }
}

/** A calibration may fail and want fresh ends; again and again it is the machine (common practice; the steps judgement). */
function refusalAdvice(inRow: number): string | null {
  if (inRow === 0) return null
  if (inRow < 3) return 'Fresh ends: strip, clean and cleave both again, then calibrate'
  if (inRow < 5) return `Refused ${inRow} times: clean V-grooves and lenses, look at the cleaver, then calibrate`
  return `Refused ${inRow} times: new electrodes, or another splicer`
}

/** What does not fit together in a setup; empty where all does. */
export function setupFaults({ heater, sleeve }: SessionSetup): string[] {
  return heater === sleeve ? [] : [`the heater is set for ${heater} mm, the sleeve is ${sleeve} mm`]
}
