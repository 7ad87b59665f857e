import { describe, expect, it } from 'vitest'
import { loggedAt, REFERENCE } from '../../test/lossLog.ts'
import { turnedReadingsOf } from './turned.ts'

const turned = (id: string, first: number, second: number, referenceId = 'r') =>
  loggedAt(id, { kind: 'turned-reading', referenceId, what: 'patch 7', first, turned: second } as { kind: string })

describe('a cord read both ways round', () => {
  // Common practice: the connection at the launch cord is in the reading, the one at the meter is not.
  it('the end that reads higher is the bad one', () => {
    expect(turnedReadingsOf([REFERENCE, turned('aa', -11.2, -10.3)])).toMatchObject([
      { what: 'patch 7', worse: 'first', words: '1.20 dB, turned 0.30 dB: the first end is the worse one' },
    ])
    expect(turnedReadingsOf([REFERENCE, turned('aa', -10.3, -11.2)])).toMatchObject([{ worse: 'second' }])
  })

  it('alike within the uncertainty names none; the last reading of a cord stands', () => {
    const [found, ...others] = turnedReadingsOf([REFERENCE, turned('aa', -11.2, -10.3), turned('aaa', -10.32, -10.3)])
    expect(others).toEqual([])
    expect(found).toMatchObject({ worse: null, id: 'aaa' })
  })

  it('against a reference that is not there nothing is told', () => {
    expect(turnedReadingsOf([REFERENCE, turned('aa', -11, -10, 'other')])).toEqual([])
  })
})
