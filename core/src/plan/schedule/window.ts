import { DateTime } from 'luxon'
import { CodedError } from '../../errors/index.ts'
import type { RecurringTime, ShiftRule, WorkingHours } from '../../kit/kit.ts'

/** One window as it comes. */
export interface Window<Rule extends RecurringTime = RecurringTime> {
  rule: Rule
  start: Date
  end: Date
  /** Real length: on the days when clocks change it is not what the clock says. */
  minutes: number
  clockChanges: boolean
}

const WEEK = 7

/**
 * The next windows that end after a time, in order. Local times that a clock change leaves out begin when the clock has
 * been put forward.
 * @throws CodedError when a rule's zone or time is none
 */
export function nextWindows<Rule extends RecurringTime>(
  rules: readonly Rule[],
  after: Date,
  count: number,
): Window<Rule>[] {
  const out: Window<Rule>[] = []
  for (const rule of rules) {
    const now = DateTime.fromJSDate(after, { zone: rule.zone })
    if (!now.isValid) throw new CodedError('not-found', `"${rule.zone}" is no time zone`)
    const first = now.minus({ days: 1 }).startOf('day')
    for (let day = 0, found = 0; found < count && day <= count * WEEK + WEEK; day++) {
      const date = first.plus({ days: day })
      if (!rule.weekdays.includes(date.weekday)) continue
      const window = windowOn(rule, date)
      if (window.end <= after) continue
      out.push(window)
      found++
    }
  }
  return out.sort((a, b) => a.start.getTime() - b.start.getTime()).slice(0, count)
}

function windowOn<Rule extends RecurringTime>(rule: Rule, date: DateTime): Window<Rule> {
  const start = at(date, rule.from)
  const end = at(minutesOf(rule.to) > minutesOf(rule.from) ? date : date.plus({ days: 1 }), rule.to)
  return {
    rule,
    start: start.toJSDate(),
    end: end.toJSDate(),
    minutes: end.diff(start, 'minutes').minutes,
    clockChanges: start.offset !== end.offset,
  }
}

function minutesOf(clock: string): number {
  const match = /^(\d{2}):(\d{2})$/.exec(clock)
  if (!match || Number(match[1]) > 23 || Number(match[2]) > 59)
    throw new CodedError('not-found', `"${clock}" is no time of day`)
  return 60 * Number(match[1]) + Number(match[2])
}

function at(date: DateTime, clock: string): DateTime {
  const minutes = minutesOf(clock)
  return date.startOf('day').set({ hour: Math.floor(minutes / 60), minute: minutes % 60 })
}

/** What a plan asks of a window, minutes. */
export interface WindowNeed {
  /** From leaving to the first touch of a working fiber. */
  before: number
  /** From the first touch until all links are back: half and nine of ten of the runs. */
  outage: { p50: number; p90: number }
  /** Putting everything back as found. */
  rollBack: number
  /** What touches the fiber first. */
  firstTouch: string
  /** From leaving to the last step, nine of ten of the runs. */
  whole: number
}

export interface WindowJudgement {
  fits: 'yes' | 'tight' | 'no'
  /** When to leave, so that the first touch falls on the window's begin. */
  leave: Date
  /** When nine of ten runs have all links back, begun at the window's begin. */
  back90: Date
  /** After this the first touch must not begin any more: nine of ten runs would pass the end. null: no such time in it. */
  noReturn: Date | null
  /** What speaks against a crew: not on shift, not rested. */
  crews: string[]
  words: string[]
}

const MINUTE = 60_000
const later = (date: Date, minutes: number) => new Date(date.getTime() + minutes * MINUTE)

/**
 * Holds a plan against a window: only what touches working fibers must lie in it; travel and digging come before.
 * @param crews names of those who would work
 */
export function judgeWindow(
  window: Window,
  need: WindowNeed,
  hours: WorkingHours,
  crews: readonly string[],
): WindowJudgement {
  const leave = later(window.start, -need.before)
  const back90 = later(window.start, need.outage.p90)
  const over = (back90.getTime() - window.end.getTime()) / MINUTE
  const fits = over <= 0 ? 'yes' : later(window.start, need.outage.p50) <= window.end ? 'tight' : 'no'
  const latest = later(window.end, -need.outage.p90)
  const noReturn = latest >= window.start ? latest : null
  const against = crews.flatMap((crew) => againstCrew(crew, hours, leave, later(leave, need.whole)))
  const words = [
    over <= 0
      ? `nine of ten runs have every link back ${Math.round(-over)} min before the window ends`
      : `the 90 % finish passes the window's end by ${Math.round(over)} min`,
    noReturn
      ? `last point of no return: "${need.firstTouch}" begins by ${clock(noReturn, window.rule.zone)}; until then all is closed as found in ${Math.round(need.rollBack)} min`
      : `there is no moment in it at which "${need.firstTouch}" may begin: take a longer window, fewer fibers at a time, or a second splicer`,
    ...(window.clockChanges ? [`the clocks change in this window: it lasts ${Math.round(window.minutes)} min`] : []),
    ...against,
  ]
  return { fits, leave, back90, noReturn, crews: against, words }
}

function clock(date: Date, zone: string): string {
  return DateTime.fromJSDate(date, { zone }).toFormat('HH:mm')
}

/** Off shift, or called again before the rest after the last shift is over. A crew without shifts is not judged. */
function againstCrew(crew: string, { shifts, restHours }: WorkingHours, from: Date, to: Date): string[] {
  const own: ShiftRule[] = shifts.filter((shift) => shift.crew === crew)
  if (own.length === 0) return []
  const around = nextWindows(own, later(from, -7 * 24 * 60), 30)
  if (around.some(({ start, end }) => start <= from && end >= to)) return []
  const last = around.filter(({ end }) => end <= from).at(-1)
  const rested = last && restHours !== null ? (from.getTime() - last.end.getTime()) / (60 * MINUTE) : null
  return [
    `${crew} is not on shift from leaving to the last step`,
    ...(rested !== null && rested < restHours!
      ? [`${crew} has rested ${rested.toFixed(1)} h then, ${restHours} h are the rule`]
      : []),
  ]
}
