import { describe, expect, it } from 'vitest'
import { spanInWords, stepInWords } from './words.ts'

describe('lengths in words', () => {
  // Pairs of millimetres and inches: common practice, no published source.
  it.each([
    [0.051, 0.057, '51 to 57 mm (2 to 2 1/4 in)'],
    [0.025, 0.038, '25 to 38 mm (1 to 1 1/2 in)'],
    [0.075, 0.125, '75 to 125 mm (2 15/16 to 4 15/16 in)'],
    [0, 0.254, 'up to 254 mm (up to 10 in)'],
    [0.152, 0.152, '152 mm (6 in)'],
    // A bead of adhesive: no tape shows it, and it is not 0 in.
    [0.0004, 0.0006, '0.4 to 0.6 mm'],
    [0.9, 1.1, '900 mm to 1.10 m (35 7/16 to 43 5/16 in)'],
  ])('%f to %f m', (min, max, words) => {
    expect(spanInWords({ min, max }, 'metric and inches')).toBe(words)
    expect(spanInWords({ min, max }, 'metric')).toBe(words.replace(/ \(.*/, ''))
  })

  it('stand in the step’s text', () => {
    const lengths = { sheath: { min: 2, max: 2 } }
    expect(stepInWords('Mark at {sheath}.', lengths, 'metric')).toBe('Mark at 2.00 m.')
  })
})
