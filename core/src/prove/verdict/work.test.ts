import { describe, expect, it } from 'vitest'
import type { LoggedEntry } from '../../log/standing.ts'
import { newJointsIn, workOn } from '../index.ts'

let count = 0
const logged = (entry: { kind: string } & Record<string, unknown>, superseded = false): LoggedEntry => ({
  id: `${count++}`,
  by: 'a',
  observedAt: '2026-01-01T03:00:00Z',
  supersedes: null,
  superseded,
  entry,
})
const splice = (some: object) =>
  logged({ kind: 'splice', node: null, chainage: 400, cable: 'c', fiber: 5, outcome: 'accepted', ...some })
const link = { path: [{ cable: 'c', fiber: 5 }] }

describe('work in a log', () => {
  it('new joints are splices off the record that were accepted, each place once', () => {
    const log = [
      splice({}),
      splice({}),
      splice({ chainage: 500, outcome: 'redo' }),
      splice({ node: 'n1', chainage: 600 }),
    ]
    expect(newJointsIn(log)).toEqual([400])
  })

  it('a link’s own joints are told from those of other fibers', () => {
    const log = [
      splice({ fiber: 6 }),
      splice({ node: 'n1' }),
      splice({ node: 'n1', fiber: 6 }),
      splice({ node: 'n2', fiber: 17, ribbon: Array(12).fill({}) }),
      logged({ kind: 'cleaning', node: 'panel', outcome: 'clean' }),
    ]
    expect(workOn(link, log)).toEqual({
      newJoints: [],
      redone: ['n1', 'panel'],
      others: [
        { node: null, chainage: 400, words: 'fiber 6 of cable c' },
        { node: 'n2', chainage: 400, words: 'fiber 17 to 28 of cable c' },
      ],
    })
  })

  it('a fiber of a ribbon is joined with it; what was taken back is none', () => {
    expect(workOn(link, [splice({ fiber: 1, ribbon: Array(12).fill({}) })]).newJoints).toEqual([400])
    expect(workOn(link, [logged({ kind: 'cleaning', node: 'panel' }, true)]).redone).toEqual([])
  })
})
