import { describe, expect, it } from 'vitest'
import { twoCablePlant } from '../../../test/plants.ts'
import { drawTrace, type Drawn } from '../../../test/straightTrace.ts'
import { analyzeTrace } from '../../trace/analyze.ts'
import { calibrate, locateFaults, matchBothWays, type Shot } from '../index.ts'
import { buildThread } from '../../plant/index.ts'
import { delayToFiber } from '../../plant/thread.ts'

const PLANT = twoCablePlant()
const LINK = PLANT.links[0]!.id
const THREAD = buildThread(PLANT, LINK)
const INDEX = 1.468
/** m on a trace's scale with no launch cord. */
const shown = (fiber: number) => (delayToFiber(THREAD, fiber, 1550) * 299_792_458) / INDEX
const LENGTH = shown(THREAD.fiberLength)
const JOINT = shown(THREAD.nodes.find((node) => node.joint === 'splice')!.fiber)
const CORD = 300

/**
 * A splice of 0.06 dB between fibers whose backscatter differs by 0.2 dB reads 0.16 dB from one end and −0.04 dB from the
 * other (the mean of the two is true: IEC 61280-4-2).
 */
function shot(direction: 'ab' | 'ba', loss: number, change: Drawn & { stretched?: number } = {}): Shot {
  const { stretched = 1, ...drawn } = change
  const joint = CORD + (direction === 'ab' ? JOINT : LENGTH - JOINT) * stretched
  const end = CORD + LENGTH * stretched
  const trace = drawTrace({
    points: Math.ceil((end + 1500) * 2),
    spacing: 0.5,
    noise: 0.004,
    seed: direction === 'ab' ? 3 : 4,
    steps: [{ at: joint, rise: -loss }],
    peaks: [
      { at: CORD, height: 6 },
      { at: end, height: 6 },
      { at: end + CORD, height: 12 },
    ],
    end: end + CORD + 5,
    ...drawn,
  })
  return {
    name: direction,
    direction,
    launch: CORD,
    receive: CORD,
    analysis: analyzeTrace({ ...trace, groupIndex: INDEX }),
  }
}

describe('events seen from both ends', () => {
  it('give the true loss of a joint and the difference of its fibers', () => {
    const { events } = matchBothWays(calibrate(PLANT, LINK, []), shot('ab', 0.16), shot('ba', -0.04))
    const joint = events.find((event) => Math.abs(event.difference) > 0.1)!
    expect(joint.loss).toBeCloseTo(0.06, 2)
    expect(Math.abs(joint.loss - 0.06)).toBeLessThan(4 * joint.lossSigma)
    expect(joint.difference).toBeCloseTo(0.2, 2)
    expect(joint.fibersDiffer).toBe(true)
  })

  it('of like fibers say nothing of a difference', () => {
    const { events } = matchBothWays(calibrate(PLANT, LINK, []), shot('ab', 0.3), shot('ba', 0.3))
    expect(events.length).toBeGreaterThan(0)
    expect(events.map((event) => event.fibersDiffer)).toEqual(events.map(() => false))
  })

  it('agree on the length within their uncertainty', () => {
    const { disagreement } = matchBothWays(calibrate(PLANT, LINK, []), shot('ab', 0.3), shot('ba', 0.3))
    expect(Math.abs(disagreement!.value)).toBeLessThan(4 * disagreement!.sigma)
  })

  it('whose lengths disagree by 1 % are warned of: an index of 1.468 noted where 1.4827 was set', () => {
    const shots = [shot('ab', 0.3), shot('ba', 0.3, { stretched: 1.01 })]
    const { warnings } = locateFaults({ plant: PLANT, linkId: LINK, baseline: [], present: shots })
    const warning = warnings.find(({ code }) => code === 'lengths-disagree')
    expect(warning?.message).toMatch(/by (0\.9\d|1\.0\d) %/)
    const agreeing = [shot('ab', 0.3), shot('ba', 0.3)]
    const sound = locateFaults({ plant: PLANT, linkId: LINK, baseline: [], present: agreeing })
    expect(sound.warnings.map(({ code }) => code)).not.toContain('lengths-disagree')
  })
})
