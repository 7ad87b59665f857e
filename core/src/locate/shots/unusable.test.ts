import { describe, expect, it } from 'vitest'
import { shootThrough } from '../../../test/surveys.ts'
import { twoCablePlant } from '../../../test/plants.ts'
import { seededRandom } from '../../math/index.ts'
import { analyzeTrace } from '../../trace/index.ts'
import { proveRepair } from '../../prove/index.ts'
import { locateFaults } from '../index.ts'
import type { Shot } from './shot.ts'

const [ab, ba] = shootThrough({ launch: 300, receive: 200, seed: 70 }) as [Shot, Shot]
const [now] = shootThrough({ launch: 300, receive: 200, seed: 71, from: ['ab'] }) as [Shot]

function withLevels(shot: Shot, levelOf: (i: number) => number): Shot {
  const { trace } = shot.analysis
  const levels = Float64Array.from(trace.levels, (_, i) => levelOf(i))
  return { ...shot, analysis: analyzeTrace({ ...trace, levels }) }
}
function said(present: readonly Shot[], baseline: readonly Shot[] = [ab, ba]) {
  const { faults, pairings, warnings } = locateFaults({ plant: twoCablePlant(), linkId: 'l', baseline, present })
  return {
    faults,
    compared: pairings.length,
    words: warnings.map(({ code, message }) => `${code}: ${message}`).join('\n'),
  }
}

describe('what nothing can be computed from is named and left out', () => {
  const random = seededRandom(8)
  it.each<[string, Shot, RegExp]>([
    [
      'noise alone',
      withLevels(now, () => 5 * Math.log10(Math.abs(1e-6 * random.normal()) + 1e-12)),
      /nothing-shown: ab 71 shows noise and no fiber/,
    ],
    [
      'a receiver at its limit throughout',
      withLevels(now, () => 0),
      /nothing-shown: ab 71 is at one level from end to end/,
    ],
    [
      'the baseline’s own file',
      { ...ab, name: 'ab again' },
      /same-file: ab again is the same measurement as the baseline ab 70/,
    ],
  ])('%s', (_, shot, words) => {
    const of = said([shot])
    expect([of.faults, of.compared]).toEqual([[], 0])
    expect(of.words).toMatch(words)
  })

  it('a cord that is longer than all that the trace shows is not known, and the rest is compared', () => {
    const of = said([{ ...now, launch: 30_000 }])
    expect(of.words).toMatch(/cord-too-long: ab 71: its launch cord of 30000 m is longer than/)
    expect([of.faults, of.compared]).toEqual([[], 1])
  })

  it('a repair is not proved by the baseline’s own file', () => {
    const { verdict, reasons, warnings } = proveRepair({
      plant: twoCablePlant(),
      linkId: 'l',
      baseline: [ab, ba],
      after: [{ ...ab, name: 'ab again' }],
    })
    expect(verdict).toBe('cannot-tell')
    expect(reasons.join()).toMatch(/ab again is the same measurement as the baseline ab 70/)
    expect(warnings).toEqual([expect.objectContaining({ code: 'same-file' })])
  })

  it('beside good traces it is remarked on, and the rest is judged', () => {
    const after = [now, { ...ab, name: 'ab again' }]
    const { verdict, reasons } = proveRepair({ plant: twoCablePlant(), linkId: 'l', baseline: [ab, ba], after })
    expect(verdict).toBe('restored-with-remarks')
    expect(reasons.join()).toMatch(/ab again is the same measurement as the baseline ab 70/)
  })

  it('a good trace is used as it is', () => {
    expect(said([now])).toMatchObject({ faults: [], compared: 1 })
    expect(said([now]).words).not.toMatch(/nothing-shown|same-file|cord-too-long/)
  })
})
