import { describe, expect, it } from 'vitest'
import { twoCablePlant } from '../../test/plants.ts'
import { shootThrough, type TwoCableSurvey } from '../../test/surveys.ts'
import { proveRepair, totalName } from '../prove/index.ts'
import { seesConnection } from './shots/connections.ts'
import { buildThread } from '../plant/index.ts'
import { findLinkEnds } from './shots/linkEnds.ts'
import { locateFaults } from './index.ts'

const plant = twoCablePlant()
// As cords differ in the field: other lengths, none at the far end, a jumper instead of a cord, other glass.
const SURVEYS: [string, TwoCableSurvey][] = [
  ['both cords', { launch: 300, receive: 200, seed: 1 }],
  ['no receive cord', { launch: 150, receive: 0, seed: 2 }],
  ['a jumper at the instrument', { launch: 2, receive: 300, seed: 3 }],
  ['a jumper and no receive cord', { launch: 2, receive: 0, seed: 4 }],
  ['cords of other glass', { launch: 500, receive: 300, backscatter: { launch: 0.4, receive: -0.3 }, seed: 5 }],
]
const PAIRS = SURVEYS.flatMap(([before, baseline]) =>
  SURVEYS.flatMap(([now, present]) =>
    [true, false].map(
      (told) => [before, now, told ? 'told' : 'not told', { ...baseline, told }, { ...present, told }] as const,
    ),
  ),
)
/** A survey is shot once. */
const shot = new Map<string, ReturnType<typeof shootThrough>>()
function shoot(survey: TwoCableSurvey) {
  const key = JSON.stringify(survey)
  const known = shot.get(key) ?? shootThrough(survey)
  shot.set(key, known)
  return known
}
const locate = (baseline: TwoCableSurvey, present: TwoCableSurvey) =>
  locateFaults({
    plant,
    linkId: 'l',
    baseline: shoot(baseline),
    present: shoot({ ...present, seed: present.seed! + 50 }),
  })

describe('a link that is as it was, shot through other cords', () => {
  it.each(PAIRS)(
    'baseline with %s, now with %s, lengths %s: no fault, and restored',
    (_a, _b, _c, baseline, present) => {
      expect(locate(baseline, present).faults).toEqual([])
      const after = shoot({ ...present, seed: present.seed! + 50 })
      const proof = proveRepair({ plant, linkId: 'l', baseline: shoot(baseline), after })
      expect(proof.verdict, proof.reasons.join('; ')).toMatch(/^restored/)
    },
  )

  it('from one end as well', () => {
    const { faults } = locate({ ...SURVEYS[0]![1], from: ['ab'] }, { ...SURVEYS[1]![1], from: ['ab'] })
    expect(faults).toEqual([])
  })

  it('by sources that call one wavelength otherwise', () => {
    const { faults } = locate({ ...SURVEYS[0]![1], wavelength: 1549 }, { ...SURVEYS[1]![1], wavelength: 1552 })
    expect(faults).toEqual([])
  })
})

describe('a fault is found through other cords', () => {
  const crush = [{ at: { chainage: 1500 }, breaks: false, loss: 0.5 }]
  const cut = [{ at: { chainage: 1500 }, breaks: true, reflectance: -20 }]
  it.each(PAIRS.filter(([before, now]) => before !== now))(
    'baseline with %s, now with %s, lengths %s: a loss and a break in their places',
    (_a, _b, _c, baseline, present) => {
      for (const damages of [crush, cut]) {
        const { faults } = locate(baseline, { ...present, damages })
        expect(faults).toHaveLength(1)
        expect(Math.abs(faults[0]!.chainage - 1500)).toBeLessThan(15)
      }
    },
  )

  it('however alike its loss is to what the new cord’s glass gives back at the first connection', () => {
    const glass = { ...SURVEYS[0]![1], backscatter: { launch: 0.4, receive: 0 } }
    const alike = [0.15, 0.2, 0.25, 0.3]
    for (const loss of alike) {
      const damages = [{ at: { chainage: 1500 }, breaks: false, loss }]
      for (const [baseline, present] of [
        [SURVEYS[0]![1], { ...glass, damages }],
        [glass, { ...SURVEYS[0]![1], damages }],
      ] as const) {
        const { faults } = locate(baseline, present)
        expect(faults).toHaveLength(1)
        expect(Math.abs(faults[0]!.chainage - 1500)).toBeLessThan(15)
      }
    }
  })

  it('where the cords are not told, it is said where the link was found to begin', () => {
    const { warnings } = locate({ ...SURVEYS[0]![1], told: false }, { ...SURVEYS[4]![1], told: false, from: ['ab'] })
    const begins = warnings.find(({ code }) => code === 'launch-found')!.message.match(/begin (\d+) m into/)![1]
    expect(Math.abs(Number(begins) - 500)).toBeLessThan(4)
  })

  it('one at the far panel, seen from there', () => {
    const damages = [{ at: { node: 'n2' }, breaks: true, reflectance: -40 }]
    const { faults } = locate(SURVEYS[0]![1], { ...SURVEYS[1]![1], damages })
    expect(faults.map(({ breaks, nearest }) => [breaks, nearest.node])).toEqual([[true, 'n2']])
  })

  it('a break before the far panel is not taken for an open connection', () => {
    const damages = [{ at: { chainage: 2980 }, breaks: true, reflectance: -20 }]
    const { faults } = locate(SURVEYS[0]![1], { ...SURVEYS[1]![1], damages, from: ['ab'] })
    expect(faults).toHaveLength(1)
    expect(Math.abs(faults[0]!.chainage - 2980)).toBeLessThan(10)
  })

  it('loss is told by the wavelength’s name', () => {
    const { faults } = locate(
      { ...SURVEYS[0]![1], wavelength: 1549 },
      { ...SURVEYS[0]![1], wavelength: 1551, damages: crush },
    )
    expect(Object.keys(faults[0]!.loss)).toEqual(['1550'])
  })
})

describe('what cords let be seen', () => {
  const sees = (survey: TwoCableSurvey) => {
    const [one] = shoot({ ...survey, from: ['ab'] })
    const ends = findLinkEnds(one!, buildThread(plant, 'l', 'ab'))
    return [seesConnection(one!, ends, 'near'), seesConnection(one!, ends, 'far')]
  }
  it('is each connection that has fiber on both sides', () => {
    expect(SURVEYS.map(([, survey]) => sees(survey))).toEqual([
      [true, true],
      [true, false],
      [false, true],
      [false, false],
      [true, true],
    ])
  })

  it('is left out of a total that is compared with another’s, and said', () => {
    const before = shoot(SURVEYS[0]![1])
    const totalOf = (survey: TwoCableSurvey) =>
      proveRepair({ plant, linkId: 'l', baseline: before, after: shoot({ ...survey, seed: survey.seed! + 50 }) }).total[
        '1550'
      ]!
    expect(totalOf(SURVEYS[0]![1]).without).toEqual([])
    // From each end only the connection at the instrument shows.
    const open = totalOf(SURVEYS[1]![1])
    expect(open.without).toEqual(['West panel', 'East panel'])
    expect(totalName(open)).toBe('Link without West panel and East panel')
    expect(totalName(totalOf(SURVEYS[0]![1]))).toBe('Whole link')
    expect(Math.abs(open.after! - open.before!)).toBeLessThan(0.05)
  })
})
