import { describe, expect, it } from 'vitest'
import type { LocateView } from '../../worker/view.ts'
import { noFaultWords } from './noFaultWords.ts'

/** As much of a view of 20 km as the words depend on. */
function viewSeeing(limits: { from: number; to: number; loss: number }[][], present = limits.length): LocateView {
  return {
    groundLength: 20_000,
    traces: Array.from({ length: present }, () => ({ role: 'present' })),
    differences: limits.map((stretch) => ({ limits: stretch })),
  } as unknown as LocateView
}

describe('what traces without a fault clear', () => {
  it('the whole link, when one trace or two together look at all of it', () => {
    const whole = noFaultWords(viewSeeing([[{ from: 0, to: 20_000, loss: 0.02 }]]))
    expect(whole).toMatchObject({ title: 'No fault seen', unseen: [] })
    expect(whole.text).toContain('0.02 dB or more would have been seen')
    const together = [[{ from: 0, to: 12_000, loss: 0.02 }], [{ from: 9000, to: 20_000, loss: 0.09 }]]
    expect(noFaultWords(viewSeeing(together)).unseen).toEqual([])
    expect(noFaultWords(viewSeeing(together)).text).toContain(
      '0.02 dB or more would have been seen at the best, 0.09 dB',
    )
  })

  it('dead zones of events are no gaps', () => {
    const stretches = [
      { from: 20, to: 8000, loss: 0.02 },
      { from: 8060, to: 19_950, loss: 0.02 },
    ]
    expect(noFaultWords(viewSeeing([stretches])).title).toBe('No fault seen')
  })

  it('only as far as they reach: the rest is named, and what to do', () => {
    const ends = [[{ from: 0, to: 5480, loss: 0.02 }], [{ from: 14_500, to: 20_000, loss: 0.02 }]]
    const { title, text, unseen } = noFaultWords(viewSeeing(ends))
    expect(title).toBe('No fault seen as far as the traces reach')
    expect(unseen).toEqual([[5480, 14_500]])
    expect(text).toMatch(/Not looked at: 5\s480\sm to 14\s500\sm from the near end\./)
    expect(text).toContain('Shoot with a range past the end')
  })

  it('to the far end too', () => {
    expect(noFaultWords(viewSeeing([[{ from: 0, to: 15_000, loss: 0.02 }]])).unseen).toEqual([[15_000, 20_000]])
  })

  it('nothing, when no trace could be used', () => {
    expect(noFaultWords(viewSeeing([], 0)).title).toBe('No verdict')
    // Only the launch cord is seen.
    expect(noFaultWords(viewSeeing([[{ from: -490, to: -10, loss: 0.05 }]])).title).toBe('No verdict')
  })

  it('little, when there is no baseline', () => {
    expect(noFaultWords(viewSeeing([], 2)).title).toBe('No fault seen, with no baseline to compare')
  })
})
