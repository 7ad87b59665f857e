import { describe, expect, it } from 'vitest'
import type { LoggedEntry } from '../log/standing.ts'
import { matingsOf } from './matings.ts'

const at = (id: string, entry: object) => ({ id, entry }) as unknown as LoggedEntry
const reference = at('r', { kind: 'loss-reference', cords: 'launch 3, receive 4' })
const reading = (id: string, referenceId = 'r') => at(id, { kind: 'loss-reading', referenceId })
const look = { kind: 'reference-look', referenceId: 'r' }

describe('matings of test cords (common practice)', () => {
  it('setting a reference plugs each of its cords once, the daily check its cord twice', () => {
    expect(matingsOf({ kind: 'loss-reference', cords: 'launch 3, receive 4' }, [])).toEqual([
      { cord: 'launch 3', count: 1 },
      { cord: 'receive 4', count: 1 },
    ])
    expect(matingsOf({ kind: 'source-check', check: { cord: 'launch 3' } }, [])).toEqual([
      { cord: 'launch 3', count: 2 },
    ])
    const check = { cord: 'launch 3', third: 0.2, thirdCord: 'LC 5', sleeve: 'sleeve 2' }
    expect(matingsOf({ kind: 'source-check', check }, [])).toEqual([
      { cord: 'launch 3', count: 2 },
      { cord: 'LC 5', count: 2 },
      { cord: 'sleeve 2', count: 1 },
    ])
    // Not put in, not mated.
    expect(matingsOf({ kind: 'source-check', check: { ...check, third: null } }, [])).toHaveLength(1)
  })

  it('a look at the reference counts the readings since the last one, of this reference alone', () => {
    const log = [reference, reading('1'), reading('2'), reading('x', 'other')]
    expect(matingsOf(look, log)).toEqual([
      { cord: 'launch 3', count: 3 },
      { cord: 'receive 4', count: 3 },
    ])
    expect(matingsOf(look, [...log, at('l', look), reading('3')])[0]).toEqual({ cord: 'launch 3', count: 2 })
  })

  it('cords that nobody named, and other entries, count nothing', () => {
    expect(matingsOf(look, [at('r', { kind: 'loss-reference', cords: '' })])).toEqual([])
    expect(matingsOf({ kind: 'note' }, [])).toEqual([])
  })
})
