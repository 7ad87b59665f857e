import { describe, expect, it } from 'vitest'
import type { Kit, KitItem } from '../../kit/kit.ts'
import { EMPTY_KIT } from '../../kit/kit.ts'
import type { LoggedEntry } from '../../log/standing.ts'
import { followUps, type FollowUpInput } from './followUps.ts'

const item = (change: Partial<KitItem>): KitItem => ({
  id: change.kind ?? 'x',
  kind: 'cleaver',
  name: 'no. 1',
  count: 1,
  place: 'van',
  fits: [],
  fibers: null,
  wear: null,
  calibratedUntil: null,
  ...change,
})
const kit = (...items: KitItem[]): Kit => ({ ...EMPTY_KIT, items })
const splice = (id: string, fiber: number, outcome: string, more: object = {}) =>
  ({
    id,
    by: 'x',
    observedAt: id,
    supersedes: null,
    superseded: false,
    entry: { kind: 'splice', node: null, chainage: 100, cable: 'C', fiber, outcome, ...more },
  }) as unknown as LoggedEntry
const left = (change: Partial<FollowUpInput>) =>
  followUps({
    proof: { verdict: 'restored', reasons: [], next: [] },
    log: [],
    optionIds: [],
    kit: EMPTY_KIT,
    now: '2026-03-01T06:00:00Z',
    ...change,
  })

describe('what is left when a callout is closed', () => {
  it('is nothing where all is as it was', () => {
    expect(left({})).toEqual([])
    expect(left({ optionIds: ['temporary', 'one-closure'] })).toEqual([])
  })

  it('tells what was remarked on, with why', () => {
    const proof = {
      verdict: 'restored-with-remarks' as const,
      reasons: ['W at 1550 nm: 0.28 ± 0.04 dB is close to 0.30 dB'],
      next: ['measure W again with longer averaging'],
    }
    expect(left({ proof })).toEqual([
      { kind: 'link', what: 'measure W again with longer averaging', because: proof.reasons[0] },
    ])
  })

  it('what is not restored is no rest of it', () => {
    expect(left({ proof: { verdict: 'not-restored', reasons: ['open'], next: ['splice it'] } })).toEqual([])
  })

  it('a temporary repair that nothing follows is to be made permanent', () => {
    expect(left({ optionIds: ['temporary'] })).toMatchObject([{ kind: 'permanent' }])
  })

  it('a joint that was given up stays open, one that was made later does not', () => {
    const log = [splice('1', 3, 'stopped'), splice('2', 4, 'stopped'), splice('3', 4, 'accepted')]
    expect(left({ log })).toEqual([
      { kind: 'splice', what: 'join fiber 3 of cable C', because: 'its splice was stopped' },
    ])
  })

  it('names worn tools and calibrations that end of what was used, and no others', () => {
    const tools = kit(
      item({ id: 'c1', wear: { used: 38_400, due: 48_000, unit: 'cleaves' } }),
      item({ id: 'c2', name: 'no. 2', wear: { used: 38_399, due: 48_000, unit: 'cleaves' } }),
      item({ id: 'm', kind: 'power meter', calibratedUntil: '2026-03-20' }),
      item({ id: 's', kind: 'light source', calibratedUntil: '2026-02-20' }),
      item({ id: 'f', kind: 'splicer', calibratedUntil: '2026-06-20' }),
      item({ id: 'other', kind: 'OTDR', calibratedUntil: '2026-01-01' }),
      item({ id: 't', kind: 'test cord', name: 'LC 1', wear: { used: 290, due: 300, unit: 'matings' } }),
    )
    const begun = (id: string, entry: object) => ({ ...splice(id, 1, 'accepted'), entry }) as unknown as LoggedEntry
    const log = [
      begun('1', { kind: 'splice-session', setup: { splicer: 'f', cleaver: 'c1' } }),
      begun('2', { kind: 'splice-session', setup: { splicer: 'f', cleaver: 'c2' } }),
      begun('3', { kind: 'loss-reference', source: 's', meter: 'm', cords: 'LC 1' }),
    ]
    expect(left({ kit: tools, log }).map(({ kind, because }) => [kind, because])).toEqual([
      ['wear', '38400 of 48000 cleaves'],
      ['wear', '290 of 300 matings'],
      ['calibration', 'its calibration ends on 2026-03-20'],
      ['calibration', 'its calibration ended on 2026-02-20'],
    ])
  })

  it('sleeves are short when the rest is too few for another repair like it; a redone splice took none', () => {
    const log = [
      splice('1', 1, 'redo'),
      splice('2', 1, 'accepted'),
      splice('3', 2, 'accepted'),
      splice('4', 3, 'accepted'),
    ]
    const sleeves = (count: number) => kit(item({ kind: 'splice sleeve', count }))
    expect(left({ log, kit: sleeves(6) })).toEqual([])
    expect(left({ log, kit: sleeves(5) })).toMatchObject([
      { kind: 'stock', because: expect.stringMatching(/^3 were used of 5: 2/) as string },
    ])
    const ribbon = [splice('1', 1, 'accepted', { ribbon: [{}, {}] })]
    expect(left({ log: ribbon, kit: kit(item({ kind: 'ribbon sleeve', count: 1 })) })).toMatchObject([
      { what: 'reorder ribbon splice sleeves' },
    ])
  })

  it('closures are counted by place: two for a section, one for joints that are metres apart', () => {
    const at = (chainage: number, id: string) => ({
      ...splice(id, 1, 'accepted'),
      entry: { kind: 'splice', node: null, chainage, cable: 'C', fiber: 1, outcome: 'accepted' },
    })
    const closures = (log: LoggedEntry[]) => left({ log, kit: kit(item({ kind: 'closure', count: 2 })) })
    expect(closures([at(100, '1'), at(140, '2')])).toMatchObject([
      { what: 'reorder closures', because: '2 were used of 2: 0 are left, another repair like this takes 2' },
    ])
    expect(closures([at(100, '1'), at(102, '2')])).toEqual([])
  })

  it('what the daily check told to replace is on the list: the third cord and the sleeve, not the first cord', () => {
    const cords = { cord: 'LC 1', thirdCord: 'LC 3', sleeve: 'sleeve 2' }
    const check = { source: 's', meter: 'm', ...cords, wavelength: 1310, kind: 'laser', level: -10, third: 0.8 }
    const log = ['1', '2', '3'].map((id) => ({ ...splice(id, 0, ''), entry: { kind: 'source-check', check } }))
    expect(left({ log })).toEqual([
      {
        kind: 'wear',
        what: 'replace LC 3',
        because: 'the daily check: adapter and third cord lose 0.80 dB, at most 0.5 dB, cleaned and reseated',
      },
      {
        kind: 'wear',
        what: 'replace sleeve 2',
        because: 'the daily check: adapter and third cord lose 0.80 dB, at most 0.5 dB, cleaned and reseated',
      },
    ])
  })
})
