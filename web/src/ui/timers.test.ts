import { afterEach, beforeEach, expect, it, vi } from 'vitest'
import { endTimer, hearTimer, leftOf, minutesAndSeconds, startTimer, timers, watchClock } from './timers.ts'

beforeEach(() => {
  vi.useFakeTimers()
  localStorage.clear()
  watchClock()
})
afterEach(() => {
  vi.useRealTimers()
  watchClock()
})

it('several run beside each other, each by its own begin', () => {
  startTimer('a', 'cure', 10)
  vi.advanceTimersByTime(120_000)
  startTimer('b', 'cool', 3)
  vi.advanceTimersByTime(60_000)
  expect(timers().map((one) => [one.label, minutesAndSeconds(leftOf(one))])).toEqual([
    ['cure', '7:00'],
    ['cool', '2:00'],
  ])
  endTimer('a')
  expect(timers().map(({ name }) => name)).toEqual(['b'])
})

it('one that is over stays until it is ended; its alarm is put out once', () => {
  startTimer('a', 'cure', 1)
  vi.advanceTimersByTime(90_000)
  expect(leftOf(timers()[0]!)).toBe(-30_000)
  expect(minutesAndSeconds(leftOf(timers()[0]!))).toBe('0:00')
  hearTimer('a')
  expect(timers()).toMatchObject([{ name: 'a', heard: true }])
  startTimer('a', 'cure', 1)
  expect(timers()).toMatchObject([{ heard: false }])
})

it('a clock that is set, forward or back, changes nothing of what is left, and is told', () => {
  startTimer('a', 'cure', 10)
  vi.advanceTimersByTime(60_000)
  for (const by of [3_600_000, -7_200_000]) {
    vi.setSystemTime(Date.now() + by)
    // The page's own clock and the faked one may be seconds apart at the begin of a test.
    expect(Math.abs(watchClock()! - by)).toBeLessThan(5000)
    expect(Math.abs(leftOf(timers()[0]!) - 9 * 60_000)).toBeLessThan(5000)
  }
  endTimer('a')
  expect(watchClock()).toBeNull()
})

it('what is kept outlives the page; what is no list of timers is none', () => {
  startTimer('a', 'cure', 10)
  expect(JSON.parse(localStorage.getItem('cold-thread.timers')!)).toMatchObject([{ name: 'a', minutes: 10 }])
  localStorage.setItem('cold-thread.timers', '{broken')
  expect(timers()).toEqual([])
})
