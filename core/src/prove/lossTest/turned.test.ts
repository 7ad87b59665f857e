import { describe, expect, it } from 'vitest'
import type { LoggedEntry } from '../../log/standing.ts'
import { turnedReadingsOf } from './turned.ts'

const at = (id: string, entry: object) =>
  ({
    id,
    by: 'Tester',
    observedAt: `2026-01-01T0${id.length}:00:00Z`,
    entry,
    supersedes: null,
    superseded: false,
  }) as unknown as LoggedEntry
const reference = at('r', {
  kind: 'loss-reference',
  method: 'one-cord',
  wavelength: 1310,
  level: -10,
  cords: '',
  referenceGrade: true,
  encircledFlux: null,
})
const turned = (id: string, first: number, second: number, referenceId = 'r') =>
  at(id, { kind: 'turned-reading', referenceId, what: 'patch 7', first, turned: second })

describe('a cord read both ways round', () => {
  // Common practice: the connection at the launch cord is in the reading, the one at the meter is not.
  it('the end that reads higher is the bad one', () => {
    expect(turnedReadingsOf([reference, turned('aa', -11.2, -10.3)])).toMatchObject([
      { what: 'patch 7', worse: 'first', words: '1.20 dB, turned 0.30 dB: the first end is the worse one' },
    ])
    expect(turnedReadingsOf([reference, turned('aa', -10.3, -11.2)])).toMatchObject([{ worse: 'second' }])
  })

  it('alike within the uncertainty names none; the last reading of a cord stands', () => {
    const [found, ...others] = turnedReadingsOf([reference, turned('aa', -11.2, -10.3), turned('aaa', -10.32, -10.3)])
    expect(others).toEqual([])
    expect(found).toMatchObject({ worse: null, id: 'aaa' })
  })

  it('against a reference that is not there nothing is told', () => {
    expect(turnedReadingsOf([reference, turned('aa', -11, -10, 'other')])).toEqual([])
  })
})
