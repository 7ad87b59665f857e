import { dbmFromMilliwatts } from '../units/index.ts'

/** A figure as a meter shows it, told apart by its unit. */
export type MeterFigure = { level: number } | { loss: number }

/** Milliwatts in one of these. */
const UNITS: Record<string, number> = { w: 1e3, mw: 1, µw: 1e-3, uw: 1e-3, nw: 1e-6, pw: 1e-9 }

/**
 * Reads a meter's figure: dBm, or a power in W, mW, µW, nW or pW, is a level; dB is a loss. Decimal comma or point, a minus of any
 * kind; without a unit it is what was asked for.
 * @returns null for anything else
 */
export function readMeter(text: string, asked: 'level' | 'loss'): MeterFigure | null {
  const match = /^([+\-−–]?)\s*(\d+(?:[.,]\d+)?|[.,]\d+)\s*([a-zµμ]*)$/iu.exec(text.trim().replaceAll('\u00a0', ' '))
  if (!match) return null
  const [, sign, digits, unitText] = match as unknown as [string, string, string, string]
  const value = Number(digits.replace(',', '.')) * (sign === '' || sign === '+' ? 1 : -1)
  const unit = unitText.replace('μ', 'µ').toLowerCase()
  if (unit === 'dbm') return { level: value }
  if (unit === 'db') return { loss: value }
  if (unit === '') return asked === 'level' ? { level: value } : { loss: value }
  const scale = UNITS[unit]
  return scale === undefined || value <= 0 ? null : { level: dbmFromMilliwatts(value * scale) }
}

/** A stream of readings is steady when the last so many stay within so much, dB (judgement). */
const STEADY = { readings: 5, within: 0.03 }
/** One that swings by more than this is not noise: a cord is bent, twisted or leaned on (common practice: up to 0.5 dB). */
const SWINGS = 0.1

export interface Steadiness {
  steady: boolean
  /** Mean of the last readings, dB or dBm. */
  value: number
  /** Why it is not taken yet; null when steady. */
  reason: string | null
}

/** Whether what a meter streams has come to rest. @returns null before anything was read */
export function steadiness(stream: readonly number[]): Steadiness | null {
  if (stream.length === 0) return null
  const last = stream.slice(-STEADY.readings)
  const value = last.reduce((sum, one) => sum + one, 0) / last.length
  const swing = Math.max(...last) - Math.min(...last)
  if (last.length === STEADY.readings && swing <= STEADY.within) return { steady: true, value, reason: null }
  const reason =
    swing > SWINGS
      ? `it swings by ${swing.toFixed(2)} dB: lay the cords out loose, touch no boot, and wait`
      : last.length < STEADY.readings
        ? 'wait: it has just begun'
        : `it still moves by ${swing.toFixed(2)} dB`
  return { steady: false, value, reason }
}
