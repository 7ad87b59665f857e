import { describe, expect, it } from 'vitest'
import { mismatchLoss } from '../modeField.ts'
import { sessionPatterns, type WatchedAttempt } from '../index.ts'

const NOTHING: WatchedAttempt = {
  estimate: null,
  cleaveLeft: null,
  cleaveRight: null,
  offset: null,
  gap: null,
  proof: null,
  modeFields: null,
}

// Figures made by hand, without the simulated splicer: healthy work that goes round and round.
const LOSSES = [0.02, 0.03, 0.01, 0.04, 0.02, 0.03, 0.05, 0.02, 0.01, 0.03]
const ANGLES = [0.3, 0.2, 0.5, 0.1, 0.4, 0.3, 0.2, 0.6, 0.3]
const OFFSETS = [0.4, 0.7, 0.2, 0.5, 0.3, 0.8, 0.6]
const healthy = (i: number): WatchedAttempt => ({
  estimate: LOSSES[i % 10]!,
  cleaveLeft: ANGLES[i % 9]!,
  cleaveRight: ANGLES[(i + 4) % 9]!,
  offset: OFFSETS[i % 7]!,
  gap: 'good',
  proof: 'held',
  modeFields: [9.2e-6, 9.2e-6],
})
const REFERENCE = Array.from({ length: 60 }, (_, i) => healthy(i))
const session = (count: number, change: (one: WatchedAttempt, i: number) => Partial<WatchedAttempt> = () => ({})) =>
  Array.from({ length: count }, (_, i) => ({ ...healthy(i + 3), ...change(healthy(i + 3), i) }))

describe('what a session’s splices show together', () => {
  it('nothing in healthy work, whole session long, nor in an empty one', () => {
    expect(sessionPatterns(session(24), REFERENCE).pattern).toBeNull()
    expect(sessionPatterns([], REFERENCE).pattern).toBeNull()
  })

  it('a single bad joint is no pattern: it is judged by itself', () => {
    const one = session(24, (_, i) => (i === 5 ? { estimate: 0.9, cleaveLeft: 4, gap: 'bad' } : {}))
    expect(sessionPatterns(one, REFERENCE).pattern).toBeNull()
  })

  it.each<[string, string, (one: WatchedAttempt, i: number) => Partial<WatchedAttempt>]>([
    ['fibers that lie beside each other', 'grooves', () => ({ offset: 2.6, estimate: 0.09 })],
    [
      'angles that are all larger',
      'blade',
      ({ cleaveLeft, cleaveRight }) => ({ cleaveLeft: cleaveLeft! + 0.6, cleaveRight: cleaveRight! + 0.6 }),
    ],
    [
      'losses that are large, angles and alignment as ever',
      'electrodes',
      ({ estimate }) => ({ estimate: estimate! + 0.12 }),
    ],
    [
      'the loss that the records’ mode fields make',
      'mode fields',
      ({ estimate }) => ({ estimate: estimate! + mismatchLoss(9.2, 7.5), modeFields: [9.2e-6, 7.5e-6] }),
    ],
    ['some ends spoiled, most as ever', 'hand', (_, i) => (i % 2 === 0 ? { gap: 'bad', cleaveLeft: 2.4 } : {})],
  ])('%s: %s', (_name, cause, change) => {
    const { pattern } = sessionPatterns(session(12, change), REFERENCE)
    expect(pattern?.causes).toEqual([cause])
    expect(pattern!.evidence.length).toBeGreaterThan(0)
    expect(pattern!.since).toBeLessThan(4)
  })

  it('what begins in the middle of a session is weighed on what came after it', () => {
    const late = session(22, (_, i) => (i >= 10 ? { offset: 2.6 } : {}))
    const { pattern } = sessionPatterns(late, REFERENCE)
    expect(pattern?.causes).toEqual(['grooves'])
    expect(Math.abs(pattern!.since - 10)).toBeLessThanOrEqual(1)
    expect(pattern!.evidence.join()).toMatch(/by 2\.6 µm/)
  })

  it('two things wrong at once are both said', () => {
    const both = session(16, ({ cleaveLeft, cleaveRight }) => ({
      offset: 2.6,
      cleaveLeft: cleaveLeft! + 0.9,
      cleaveRight: cleaveRight! + 0.9,
    }))
    expect(sessionPatterns(both, REFERENCE).pattern?.causes.toSorted()).toEqual(['blade', 'grooves'])
  })

  it('what is not read is never named: not a groove without offsets, nor a hand by pictures alone', () => {
    const blind = REFERENCE.map((one) => ({ ...one, offset: null }))
    const lossy = session(16, ({ estimate }) => ({ offset: null, estimate: estimate! + 0.12 }))
    const found = sessionPatterns(lossy, blind)
    expect(found.pattern?.causes ?? []).not.toContain('grooves')
    const noAngles = { cleaveLeft: null, cleaveRight: null }
    const pictures = session(16, (_, i) => (i % 2 === 0 ? { ...noAngles, gap: 'bad' as const } : noAngles))
    const without = REFERENCE.map((one) => ({ ...one, ...noAngles }))
    expect(sessionPatterns(pictures, without).pattern?.causes ?? []).not.toContain('hand')
  })

  it('what stands out and can’t be named says which reading is missing', () => {
    const only = { cleaveLeft: null, cleaveRight: null, offset: null }
    const found = sessionPatterns(
      session(16, ({ estimate }) => ({ ...only, estimate: estimate! + 0.05 })),
      REFERENCE.map((one) => ({ ...one, ...only })),
    )
    expect(found.pattern).toBeNull()
    expect(found.unnamed).toMatch(/estimates in the middle at .* dB.*offset and the cleave angles are not read/)
  })

  it('a machine that shows less from the middle of a session on says nothing by that, and is named only by what it showed', () => {
    // Another splicer was fetched: it shows no offset and no angles.
    const less = { offset: null, cleaveLeft: null, cleaveRight: null }
    const fetched = session(20, (_, i) => (i >= 10 ? less : {}))
    expect(sessionPatterns(fetched, REFERENCE)).toMatchObject({ pattern: null, unnamed: null })
    const lossy = session(20, ({ estimate }, i) => (i >= 10 ? { ...less, estimate: estimate! + 0.12 } : {}))
    const { pattern, unnamed } = sessionPatterns(lossy, REFERENCE)
    expect(pattern).toBeNull()
    expect(unnamed).toMatch(
      /dB.*the fibers’ offset and the cleave angles are not read: what it comes from can’t be told/,
    )
  })

  it('what a loss is more than is said as far as it was read', () => {
    const without = { offset: null }
    const lossy = session(16, ({ estimate }) => ({ ...without, estimate: estimate! + 0.12 }))
    const reference = REFERENCE.map((one) => ({ ...one, ...without }))
    expect(sessionPatterns(lossy, reference).unnamed).toMatch(/the fibers’ offset is not read/)
    const signs = { calibrationsRefused: 6, arcsOver: true, bladeOver: false }
    const found = sessionPatterns(lossy, reference, signs)
    expect(found.pattern!.evidence).toContain('more than angles and mode fields explain')
    const all = sessionPatterns(
      session(16, ({ estimate }) => ({ estimate: estimate! + 0.12 })),
      REFERENCE,
    )
    expect(all.pattern!.evidence).toContain('more than offset, angles and mode fields explain')
  })

  it('one splice, and splices without any reading, are no session to judge', () => {
    for (const attempts of [
      session(1),
      session(1, () => ({ offset: 2.6, estimate: 0.3 })),
      [NOTHING, NOTHING, NOTHING],
    ])
      expect(sessionPatterns(attempts, REFERENCE)).toMatchObject({ pattern: null, unnamed: null })
  })

  it('a session that stands off as sessions do, and changes a little with another operator, is healthy', () => {
    const other = session(24, ({ cleaveLeft, cleaveRight, offset }, i) => {
      const by = i < 12 ? 1.1 : 0.92
      return { cleaveLeft: cleaveLeft! * by, cleaveRight: cleaveRight! * by, offset: offset! * 1.1 }
    })
    expect(sessionPatterns(other, REFERENCE).pattern).toBeNull()
  })

  it('a ribbon’s splice counts once for what its fibers share: twelve of them are not twelve moved loads', () => {
    const ribbonOf = (one: WatchedAttempt): WatchedAttempt => ({
      ...one,
      ribbon: Array.from({ length: 12 }, () => one),
    })
    const reference = REFERENCE.map(ribbonOf)
    const once = session(6).map(ribbonOf)
    once[2] = { ...once[2]!, offset: 2.6 }
    expect(sessionPatterns(once, reference).pattern).toBeNull()
    const moved = session(12, () => ({ offset: 2.6 })).map(ribbonOf)
    expect(sessionPatterns(moved, reference).pattern?.causes).toEqual(['grooves'])
  })

  it('what is no larger than usual is no reason', () => {
    const good = session(12, () => ({ offset: 2.6, estimate: 0.01 }))
    expect(sessionPatterns(good, REFERENCE).pattern).toMatchObject({
      causes: ['grooves'],
      evidence: [expect.stringMatching(/^fibers lie beside each other by 2\.6 µm/)],
    })
  })

  it('angles of one side alone: which side is said', () => {
    const right = session(12, ({ cleaveRight }) => ({ cleaveRight: cleaveRight! + 1.2 }))
    expect(sessionPatterns(right, REFERENCE).pattern!.evidence.join()).toMatch(/look at how the right side is cleaved/)
    const both = session(12, (one) => ({ cleaveLeft: one.cleaveLeft! + 0.9, cleaveRight: one.cleaveRight! + 0.9 }))
    expect(sessionPatterns(both, REFERENCE).pattern!.evidence.join()).not.toMatch(/side is cleaved/)
  })

  it('angles of another cleaver, left out of the reference, leave the loss to be judged by it', () => {
    const other = REFERENCE.map((one) => ({ ...one, cleaveLeft: null, cleaveRight: null }))
    expect(sessionPatterns(session(24), other)).toMatchObject({ pattern: null, reference: 'own splices' })
    expect(
      sessionPatterns(
        session(12, () => ({ cleaveLeft: 3, cleaveRight: 3 })),
        other,
      ).pattern?.causes,
    ).toEqual(['blade'])
  })

  it('the same loss without mode fields on record is not put down to them', () => {
    const odd = session(12, ({ estimate }) => ({ estimate: estimate! + 0.18, modeFields: null }))
    expect(sessionPatterns(odd, REFERENCE).pattern?.causes).toEqual(['electrodes'])
  })

  it('refused calibrations and broken joints are told, and make a loss stand out sooner', () => {
    const drift = (count: number) => session(count, ({ estimate }) => ({ estimate: estimate! + 0.03 }))
    const signs = { calibrationsRefused: 3, arcsOver: true, bladeOver: false }
    const first = (care?: typeof signs) =>
      Array.from({ length: 24 }, (_, i) => i + 1).find((n) => sessionPatterns(drift(n), REFERENCE, care).pattern) ?? 25
    expect(first(signs)).toBeLessThan(first())
    const { pattern } = sessionPatterns(drift(24), REFERENCE, signs)
    expect(pattern!.evidence.join(' ')).toMatch(/3 calibrations were refused.*count of arcs is used up/)
  })

  it('a splicer without a history is held against usual figures, and says so', () => {
    const bad = session(12, () => ({ offset: 4 }))
    expect(sessionPatterns(bad, REFERENCE.slice(0, 10))).toMatchObject({
      reference: 'usual figures',
      pattern: { causes: ['grooves'] },
    })
    expect(sessionPatterns(session(24), []).pattern).toBeNull()
  })

  it('a machine that shows nothing but an estimate tells that something is wrong, not what', () => {
    const bare = Array.from({ length: 12 }, () => ({ ...NOTHING, estimate: 0.4 }))
    const found = sessionPatterns(bare, [])
    expect(found.pattern).toBeNull()
    expect(found.unnamed).toMatch(/0\.40 dB, usual 0\.03 dB.*are not read/)
    expect(sessionPatterns([NOTHING, NOTHING], [])).toMatchObject({ pattern: null, unnamed: null })
  })
})
