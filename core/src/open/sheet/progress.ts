import { cautionsOf, type RunSheet, type SheetField, type SheetStep } from './compile.ts'
import { judgePressure, type PressureTest } from './pressure.ts'
import type { Exposure } from '../procedures/procedure.ts'

/** What was entered for a step. */
export interface StepOutcome {
  step: string
  outcome: 'done' | 'failed' | 'skipped'
  values: Record<string, number | string>
  /** Ids of cautions that the person said. */
  said: readonly string[]
  /** Why it is left out, outside its tolerance, or done although the record says otherwise. */
  reason: string
  /** Photos kept with it. */
  photos: readonly string[]
  watch: { added: number; sigma: number; flagged: boolean } | null
  pressure: PressureTest | null
  /** Minutes from when the step was shown until it was entered; null where nobody timed it. */
  minutes: number | null
}

/** Something that happened to a sheet, in order. */
export type SheetEvent =
  | { kind: 'step'; id: string; by: string; at: string; entry: StepOutcome }
  | { kind: 'release'; id: string; by: string; at: string; step: string; remark: string }

export interface StepState {
  step: SheetStep
  state: 'open' | 'done' | 'skipped'
  /** The entry that counts. */
  by: { by: string; at: string; entry: StepOutcome; id: string } | null
  /** Entries that do not count, with the reason: tests that failed, steps out of their order, a second person's. */
  others: { by: string; at: string; entry: StepOutcome; id: string; why: string }[]
  released: { by: string; at: string; remark: string } | null
  /** What stands against doing it now; empty where nothing does. */
  obstacles: string[]
}

export interface Progress {
  steps: StepState[]
  /** The first step that is neither done nor left out; null when there is none. */
  next: StepState | null
  done: number
  complete: boolean
  /** What lies open now. */
  exposed: Exposure[]
}

const NOTHING: StepOutcome = {
  step: '',
  outcome: 'done',
  values: {},
  said: [],
  reason: '',
  photos: [],
  watch: null,
  pressure: null,
  minutes: null,
}

/** An entry with nothing in it yet. */
export function emptyOutcome(step: string): StepOutcome {
  return { ...NOTHING, step, values: {} }
}

/** Why a step can't be begun: what must come before it, or a lead's word. */
export function locksOn(
  sheet: RunSheet,
  step: SheetStep,
  done: ReadonlySet<string>,
  released: ReadonlySet<string>,
): string[] {
  const locks = (step.locks ?? [])
    .filter((lock) => !done.has(lock.step))
    .map((lock) => `${titleOf(sheet, lock.step)} comes first: ${lock.why}`)
  const hold = step.hold !== undefined && !released.has(step.id) ? [`a lead’s word is needed: ${step.hold}`] : []
  return [...locks, ...hold]
}

/** Why a step may not be left out; null where it may, with a reason. */
export function whyNotSkipped(sheet: RunSheet, step: SheetStep): string | null {
  if (cautionsOf(step).some(({ say }) => say !== null)) return 'life is at stake in this step: it can’t be left out'
  if (step.hold !== undefined) return 'a lead’s word can’t be left out'
  if (step.test === 'pressure' && sheet.closure?.pressure === null) return null
  const waiting = sheet.steps.filter(({ locks }) => locks?.some((lock) => lock.step === step.id))
  return waiting.length > 0 ? `${titleOf(sheet, waiting[0]!.id)} waits for it: it can’t be left out` : null
}

/**
 * What is wrong with an entry as it stands, locks aside; empty when it can be taken.
 * Refused are a caution not said, a missing photo or value, a count that differs and was not made twice with a reason, a
 * figure outside its tolerance without a reason, an added loss that is flagged, a pressure test that does not hold.
 */
export function faultsOf(sheet: RunSheet, step: SheetStep, entry: StepOutcome): string[] {
  const reason = entry.reason.trim() !== ''
  if (entry.outcome === 'skipped') {
    const why = whyNotSkipped(sheet, step)
    return [...(why === null ? [] : [why]), ...(reason ? [] : ['a step that is left out needs a reason'])]
  }
  // A try that failed says so, and is kept.
  if (entry.outcome === 'failed') return reason ? [] : ['say what failed']
  const faults: string[] = []
  for (const { id, say } of cautionsOf(step))
    if (say !== null && !entry.said.includes(id)) faults.push(`to be confirmed: “${say}”`)
  if (step.photo === true && entry.photos.length === 0 && !reason)
    faults.push('a photo is wanted here, or the reason why there is none')
  for (const field of step.fields) faults.push(...faultsOfField(field, entry, reason))
  if (step.watch === true) {
    if (entry.watch?.flagged)
      faults.push(`${entry.watch.added.toFixed(2)} dB were added: release, look, and watch again`)
    else if (!entry.watch && !reason) faults.push('the loss is watched here, or say why it can’t be')
  }
  if (step.test === 'pressure') faults.push(...faultsOfPressure(sheet, entry, reason))
  return faults
}

function faultsOfField(field: SheetField, entry: StepOutcome, reason: boolean): string[] {
  const value = entry.values[field.id]
  if (value === undefined || value === '') return [`${field.label}: not filled in`]
  if (field.kind === 'text') return []
  if (typeof value !== 'number' || !Number.isFinite(value)) return [`${field.label}: not a number`]
  if (field.kind === 'count' && (!Number.isInteger(value) || value < 0)) return [`${field.label}: not a whole number`]
  if (field.least === null || field.most === null || (value >= field.least && value <= field.most)) return []
  const unit = field.unit === '' ? '' : ` ${field.unit}`
  const expected = field.least === field.most ? `${field.least}${unit}` : `${field.least} to ${field.most}${unit}`
  if (field.kind !== 'count')
    return reason ? [] : [`${field.label}: ${value}${unit}, expected ${expected}. Do it again, or give the reason`]
  const again = entry.values[`${field.id}-again`]
  if (again === undefined || again === '')
    return [`${field.label}: ${value}, the record has ${expected}. Stop and count again`]
  if (again !== value) return [`${field.label}: ${value} and ${again} differ. Count until two counts agree`]
  return reason
    ? []
    : [
        `${field.label}: ${value} twice, the record has ${expected}. Give the reason: it goes to whoever keeps the record`,
      ]
}

function faultsOfPressure(sheet: RunSheet, entry: StepOutcome, reason: boolean): string[] {
  const limit = sheet.closure?.pressure ?? null
  if (limit === null) return ['no figure is on record for this closure: no pressure test. Leave it out with the reason']
  if (!entry.pressure) return ['the readings of the test are missing']
  const { outcome, reasons } = judgePressure(entry.pressure, limit)
  if (outcome === 'holds' || (outcome === 'close' && reason)) return []
  if (outcome === 'close') return [`close: ${reasons.at(-1)}. Test again, or give the reason`]
  return [outcome === 'leaks' ? `it leaks: ${reasons.join('; ')}` : `not a test: ${reasons.join('; ')}`]
}

/**
 * How far a sheet is, by what was entered, in order. An entry counts when nothing stood against it at that time; one that
 * was made while a lock was unmet is kept and shown, and the step is still to do: no sheet is complete with a lock broken.
 * Of two people's entries for one step the first that counts stands; the other is kept beside it.
 */
export function progressOf(sheet: RunSheet, events: readonly SheetEvent[]): Progress {
  const done = new Set<string>()
  const released = new Set<string>()
  const states = new Map<string, StepState>(
    sheet.steps.map((step) => [step.id, { step, state: 'open', by: null, others: [], released: null, obstacles: [] }]),
  )
  for (const event of events) {
    if (event.kind === 'release') {
      const state = states.get(event.step)
      if (!state || state.released) continue
      // A word given too early counts for nothing: what the lead agrees to must be there.
      const early = locksOn(sheet, { ...state.step, hold: undefined }, done, released)
      if (early.length > 0) continue
      state.released = { by: event.by, at: event.at, remark: event.remark }
      released.add(event.step)
      continue
    }
    const state = states.get(event.entry.step)
    if (!state) continue
    const { by, at, id, entry } = event
    const set = (why: string) => state.others.push({ by, at, id, entry, why })
    const faults = faultsOf(sheet, state.step, entry)
    if (entry.outcome === 'failed') set(entry.reason)
    else if (state.state !== 'open') set(`${state.by!.by} had settled it before`)
    else if (faults.length > 0) set(faults.join('; '))
    else if (entry.outcome === 'skipped') {
      state.state = 'skipped'
      state.by = { by, at, entry, id }
      // Nothing waits for a step that may be left out, but for one that can't be done here.
      done.add(entry.step)
    } else {
      const locks = locksOn(sheet, state.step, done, released)
      if (locks.length > 0) set(`out of order: ${locks.join('; ')}`)
      else {
        state.state = 'done'
        state.by = { by, at, entry, id }
        done.add(entry.step)
      }
    }
  }
  const steps = [...states.values()]
  for (const state of steps) if (state.state === 'open') state.obstacles = locksOn(sheet, state.step, done, released)
  const open = steps.filter(({ state }) => state === 'open')
  const exposed = new Set<Exposure>()
  for (const { step, state, others } of steps) {
    const touched = state === 'done' || others.some(({ entry }) => entry.outcome !== 'skipped')
    // What a step opens is open once it was tried; what it covers is covered once it counts.
    if (touched) for (const what of step.exposes ?? []) exposed.add(what)
    if (state === 'done') for (const what of step.covers ?? []) exposed.delete(what)
  }
  return {
    steps,
    next: open[0] ?? null,
    done: steps.length - open.length,
    complete: open.length === 0,
    exposed: [...exposed],
  }
}

/** A step by what it says first. */
export function titleOf(sheet: RunSheet, id: string): string {
  const words = sheet.steps.find((step) => step.id === id)?.do ?? id
  const first = words.split(/[.:;]/)[0]!
  return `“${first}”`
}
