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
    expect(reasons).toEqual(['right cleave 1.3° is over 1.0°'])
  })

  it('accepts a cleave between good and limit with a remark', () => {
    const { advice, reasons } = judgeSplice(attempt(0.02, 0.8), [], standard)
    expect(advice).toBe('accept')
    expect(reasons[0]).toMatch(/left cleave 0.8° is accepted/)
  })

  it('stops at the third try: the same loss three times is the fiber or the machine (common practice)', () => {
    const { advice, reasons } = judgeSplice(attempt(0.21), [attempt(0.2), attempt(0.2)], standard)
    expect(advice).toBe('stop')
    expect(reasons.at(-1)).toMatch(/fiber or the machine/)
  })

  it('three different losses point to grooves, cleaver and electrodes', () => {
    const { reasons } = judgeSplice(attempt(0.5), [attempt(0.2), attempt(0.9)], standard)
    expect(reasons.at(-1)).toMatch(/V-grooves/)
  })

  it('says that without an estimate only the trace will tell', () => {
    expect(judgeSplice(attempt(null), [], standard).reasons[0]).toMatch(/only the trace/)
  })
})
