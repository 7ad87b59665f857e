import { describe, expect, it } from 'vitest'
import { loggedAt, REFERENCE } from '../../test/lossLog.ts'
import { againstBaseline, lossBaselinesOf, type LossBaseline } from './baseline.ts'
import type { LoggedReading } from './log.ts'
import { TYPICAL_PAIR, type ReferenceMethod } from './reference.ts'

const reading = (method: ReferenceMethod) =>
  ({ link: 'l', way: 'ab', reference: { wavelength: 1310, method } }) as unknown as LoggedReading
const base = (change: Partial<LossBaseline> = {}): LossBaseline => ({
  link: 'l',
  way: 'ab',
  wavelength: 1310,
  method: 'one-cord',
  loss: 8,
  sigma: 0.1,
  at: '2025-06-01T10:00:00Z',
  ...change,
})
const now = (loss: number, sigma = 0.1) => ({ loss, sigma })
const held = (
  loss: number,
  baselines: LossBaseline[],
  splices = 0,
  sigma = 0.1,
  method: ReferenceMethod = 'one-cord',
) => againstBaseline(now(loss, sigma), reading(method), baselines, splices, 0.3)

describe('a loss against its baseline', () => {
  it('holds within the root of squares of both uncertainties and what the repair adds (JCGM 100)', () => {
    // By hand: √(0.1² + 0.1²) = 0.141; twice 0.283, three times 0.424; 0.3 dB a splice.
    expect(held(7.9, [base()])).toMatchObject({
      holds: 'yes',
      words: '0.10 ± 0.28 dB less than the baseline of 2025-06-01, 8.00 dB by one-cord reference',
    })
    expect([8.28, 8.29, 8.42, 8.43].map((loss) => held(loss, [base()])!.holds)).toEqual(['yes', 'close', 'close', 'no'])
    expect([8.88, 8.89, 9.02, 9.03].map((loss) => held(loss, [base()], 2)!.holds)).toEqual([
      'yes',
      'close',
      'close',
      'no',
    ])
    expect(held(9.1, [base()], 2)!.words).toMatch(/^1\.10 ± 0\.28 dB more .*, of which the repair explains 0\.60 dB$/)
  })

  it('another reference is converted with the pairs between them, and that is said', () => {
    // Two-cord leaves one pair out: 8 dB by one-cord are 8 less a typical pair.
    const told = held(8 - TYPICAL_PAIR.loss, [base()], 0, 0.1, 'two-cord')!
    expect(told.words).toMatch(
      /0\.00 ± 0\.41 dB (less|more) than .* by one-cord reference, as two-cord 7\.70 ± 0\.36 dB by typical pairs/,
    )
    expect(held(8, [base({ method: 'two-cord' })], 0)!.words).toMatch(/as one-cord 8\.30 ±/)
  })

  it('what could hide a mated pair is refused, never silently compared', () => {
    expect(held(9.5, [base({ sigma: 0.3 })], 0, 0.3)).toMatchObject({
      holds: 'refused',
      words: expect.stringMatching(/^not compared with .*± 0\.85 dB could hide a mated pair/) as string,
    })
  })

  it('counts the latest of the same link, way and wavelength', () => {
    const older = base({ loss: 5, at: '2024-01-01T00:00:00Z' })
    expect(held(8, [base(), older])!.holds).toBe('yes')
    expect(held(8, [base({ way: 'ba' }), base({ wavelength: 1550 }), base({ link: 'm' })])).toBeNull()
  })

  it('comes from readings that may stand as proof', () => {
    const read = (id: string, link: string, level: number) =>
      loggedAt(id, { kind: 'loss-reading', referenceId: 'r', link, way: 'ab', level } as { kind: string })
    const found = lossBaselinesOf([REFERENCE, read('aa', 'l', -18), read('aaa', 'bright', -8)])
    expect(found.map(({ link, loss }) => [link, loss])).toEqual([['l', 8]])
  })
})
