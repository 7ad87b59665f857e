import ICAL from 'ical.js'
import { describe, expect, it } from 'vitest'
import type { WindowRule } from '../../kit/index.ts'
import { writeCalendar } from './calendar.ts'
import { judgeWindow, nextWindows, type WindowNeed } from './window.ts'

const nightly: WindowRule = {
  id: 'n',
  name: 'nights',
  zone: 'CET',
  weekdays: [1, 2, 3, 4, 5, 6, 7],
  from: '01:00',
  to: '05:00',
  traffic: 'light',
}
const NO_SHIFTS = { windows: [], shifts: [], restHours: null }
const iso = (date: Date) => date.toISOString()

describe('maintenance windows', () => {
  it('come on their days in local time, over midnight too', () => {
    const late = { ...nightly, weekdays: [5], from: '23:30', to: '03:00' }
    // 2026-11-26 is a Thursday; CET is one hour ahead of UTC in winter.
    const windows = nextWindows([late], new Date('2026-11-26T12:00:00Z'), 2)
    expect(windows.map(({ start, end }) => [iso(start), iso(end)])).toEqual([
      ['2026-11-27T22:30:00.000Z', '2026-11-28T02:00:00.000Z'],
      ['2026-12-04T22:30:00.000Z', '2026-12-05T02:00:00.000Z'],
    ])
    expect(windows[0]!.minutes).toBe(210)
  })

  it('that one is in is the first, and those of several rules come in order', () => {
    const noon = { ...nightly, id: 'd', from: '12:00', to: '13:00' }
    const windows = nextWindows([nightly, noon], new Date('2026-11-26T02:00:00Z'), 3)
    expect(windows.map(({ rule }) => rule.id)).toEqual(['n', 'd', 'n'])
  })

  it.each([
    // Clocks go forward on the last Sunday of March and back on that of October at 01:00 UTC (Directive 2000/84/EC).
    ['loses an hour in spring', '2026-03-28T12:00:00Z', 180, '2026-03-29T00:00:00.000Z', '2026-03-29T03:00:00.000Z'],
    ['gains one in autumn', '2026-10-24T12:00:00Z', 300, '2026-10-24T23:00:00.000Z', '2026-10-25T04:00:00.000Z'],
  ])('%s, and says so', (_, after, minutes, start, end) => {
    const window = nextWindows([nightly], new Date(after), 1)[0]!
    expect([window.minutes, iso(window.start), iso(window.end), window.clockChanges]).toEqual([
      minutes,
      start,
      end,
      true,
    ])
  })

  it('with a zone or time that does not exist are refused by name', () => {
    expect(() => nextWindows([{ ...nightly, zone: 'Nowhere/Land' }], new Date(), 1)).toThrow('"Nowhere/Land"')
    expect(() => nextWindows([{ ...nightly, from: '25:00' }], new Date(), 1)).toThrow('"25:00"')
  })

  const need: WindowNeed = {
    before: 60,
    outage: { p50: 100, p90: 200 },
    rollBack: 40,
    firstTouch: 'open tube 1',
    whole: 400,
  }
  const window = nextWindows([nightly], new Date('2026-11-26T12:00:00Z'), 1)[0]!

  it('hold only what touches working fibers: the way there and the digging come before', () => {
    const judged = judgeWindow(window, need, NO_SHIFTS, [])
    expect(judged.fits).toBe('yes')
    expect(iso(judged.leave)).toBe('2026-11-26T23:00:00.000Z')
    // 240 min of window less 200 min: the first touch by 40 min after its begin, 01:40 local.
    expect(iso(judged.noReturn!)).toBe('2026-11-27T00:40:00.000Z')
    expect(judged.words.join(' ')).toMatch(/"open tube 1" begins by 01:40; until then all is closed as found in 40 min/)
  })

  it('too short for nine runs of ten are warned of, too short for half of them refused', () => {
    const tight = judgeWindow(window, { ...need, outage: { p50: 200, p90: 255 } }, NO_SHIFTS, [])
    expect([tight.fits, tight.noReturn]).toEqual(['tight', null])
    expect(tight.words[0]).toBe("the 90 % finish passes the window's end by 15 min")
    expect(judgeWindow(window, { ...need, outage: { p50: 241, p90: 300 } }, NO_SHIFTS, []).fits).toBe('no')
  })

  it('name a crew that is off shift or has not rested', () => {
    const shift = { id: 's', crew: 'Van', zone: 'CET', weekdays: [4], from: '08:00', to: '18:00' }
    const hours = { windows: [], shifts: [shift], restHours: 11 }
    // Off at 18:00 on Thursday, leaving at midnight: six hours.
    expect(judgeWindow(window, need, hours, ['Van']).crews).toEqual([
      'Van is not on shift from leaving to the last step',
      'Van has rested 6.0 h then, 11 h are the rule',
    ])
    const nights = { ...hours, shifts: [{ ...shift, from: '22:00', to: '07:00' }] }
    expect(judgeWindow(window, need, nights, ['Van']).crews).toEqual([])
    expect(judgeWindow(window, need, hours, ['others']).crews).toEqual([])
  })
})

describe('the calendar', () => {
  it('is read again by a general-purpose parser as it was meant', () => {
    const start = new Date('2026-03-29T00:00:00Z')
    const end = new Date('2026-03-29T03:00:00Z')
    const text = writeCalendar(
      'Plan',
      [
        {
          id: 'plan-1',
          title: 'Splice; close, test',
          start,
          end,
          place: 'Lock 9, north',
          text: 'Line 1\nLine 2',
          remind: 90,
        },
      ],
      new Date('2026-03-01T00:00:00Z'),
    )
    const event = new ICAL.Event(new ICAL.Component(ICAL.parse(text)).getFirstSubcomponent('vevent')!)
    expect(event.uid).toBe('plan-1')
    expect(event.summary).toBe('Splice; close, test')
    expect(event.location).toBe('Lock 9, north')
    expect(event.description).toBe('Line 1\nLine 2')
    expect(event.startDate.toJSDate()).toEqual(start)
    expect(event.endDate.toJSDate()).toEqual(end)
    const alarm = event.component.getFirstSubcomponent('valarm')!
    expect(String(alarm.getFirstPropertyValue('trigger'))).toBe('-PT1H30M')
  })
})
