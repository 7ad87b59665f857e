import { describe, expect, it } from 'vitest'
import { ruleBook } from '../prove/index.ts'
import { judgeSplice } from './index.ts'

const standard = ruleBook('standard')
const attempt = (estimate: number | null, cleaveLeft: number | null = 0.3, cleaveRight: number | null = 0.3) => ({
  estimate,
  cleaveLeft,
  cleaveRight,
})

// Limits: estimate good to 0.10 dB, cleave good under 0.5°, accepted to 1.0° (common practice, from memory).
describe('judging a splice while it can still be redone', () => {
  it.each([0, 0.02, 0.1])('accepts an estimate of %f dB', (estimate) => {
    expect(judgeSplice(attempt(estimate), [], standard).advice).toBe('accept')
  })

  it('redoes a splice over the good limit, and the tight school redoes sooner', () => {
    expect(judgeSplice(attempt(0.14), [], standard).advice).toBe('redo')
    expect(judgeSplice(attempt(0.08), [], standard).advice).toBe('accept')
    expect(judgeSplice(attempt(0.08), [], ruleBook('tight')).advice).toBe('redo')
  })

  it('redoes a bad cleave whatever the estimate says, and names the side', () => {
    const { advice, reasons } = judgeSplice(attempt(0.02, 0.4, 1.3), [], standard)
    expect(advice).toBe('redo')
    expect(reasons).toEqual([expect.stringMatching(/^right cleave 1.3° is over 1.0° \(/)])
  })

  it('accepts a cleave between good and limit with a remark', () => {
    const { advice, reasons } = judgeSplice(attempt(0.02, 0.8), [], standard)
    expect(advice).toBe('accept')
    expect(reasons[0]).toMatch(/left cleave 0.8° is accepted/)
  })

  it('stops at the third try: the same loss three times is the fiber or the machine (common practice)', () => {
    const { advice, reasons } = judgeSplice(attempt(0.21), [attempt(0.2), attempt(0.2)], standard)
    expect(advice).toBe('stop')
    expect(reasons.join('; ')).toMatch(/fiber or the machine/)
  })

  it('three different losses point to grooves, cleaver and electrodes', () => {
    const { reasons } = judgeSplice(attempt(0.5), [attempt(0.2), attempt(0.9)], standard)
    expect(reasons.join('; ')).toMatch(/V-grooves/)
  })

  it('says that without an estimate only the trace will tell', () => {
    expect(judgeSplice(attempt(null), [], standard).reasons[0]).toMatch(/only the trace/)
  })

  it.each([
    ['a sleeve that was forgotten', { sleeve: false }, /sleeve was forgotten/],
    ['an end that looks bad', { gap: 'bad' as const }, /clean or cleave it again/],
    ['a proof test that broke it', { proof: 'broke' as const }, /broke in the proof test/],
    ['a sleeve that did not shrink', { heating: 'bad' as const }, /did not shrink/],
  ])('redoes %s, whatever the estimate says', (_name, some, reason) => {
    const { advice, reasons } = judgeSplice({ ...attempt(0.02), ...some }, [], standard)
    expect(advice).toBe('redo')
    expect(reasons.join('; ')).toMatch(reason)
  })

  it('a ribbon with one bad fiber is redone whole, and its angles go to 3° (from memory)', () => {
    const ribbon = (third: number, angle = 2.5) => ({
      ...attempt(null, null, null),
      ribbon: [0.03, 0.04, third].map((estimate) => attempt(estimate, angle, 0.5)),
    })
    expect(judgeSplice(ribbon(0.05), [], standard).advice).toBe('accept')
    const bad = judgeSplice(ribbon(0.4), [], standard)
    expect(bad.advice).toBe('redo')
    expect(bad.reasons.join('; ')).toMatch(/fiber 3: estimate 0.40 dB.*redone whole/)
    expect(judgeSplice(ribbon(0.05, 3.2), [], standard).reasons[0]).toMatch(/^fiber 1: left cleave 3.2°/)
  })

  it('at the third try the best may stay with a remark, where it is within the limit of 0.3 dB (TIA-568.3-D) and whole', () => {
    const [worse, worst] = [attempt(0.25), attempt(0.28)]
    expect(judgeSplice(attempt(0.2), [worse, worst], standard)).toMatchObject({ advice: 'stop', mayStay: true })
    expect(judgeSplice(attempt(0.27), [worse, worst], standard).mayStay).toBe(false)
    expect(judgeSplice(attempt(0.35), [attempt(0.5), attempt(0.6)], standard).mayStay).toBe(false)
    expect(judgeSplice({ ...attempt(0.2), proof: 'broke' }, [worse, worst], standard).mayStay).toBe(false)
    expect(judgeSplice(attempt(0.27), [worse, worst], standard).reasons.at(-1)).toBe('attempt 1 was better, 0.25 dB')
  })
})
