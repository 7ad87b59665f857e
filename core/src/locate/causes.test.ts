import { describe, expect, it } from 'vitest'
import { twoCablePlant } from '../../test/plants.ts'
import { buildThread, fiberAtChainage } from '../plant/index.ts'
import { rankCauses, type FaultSigns } from './causes.ts'
import { layPosterior } from './posterior.ts'
import { SUSPICION_RULES } from './suspicionRules.ts'

const thread = buildThread(twoCablePlant(), 'l')
const splice = thread.nodes.find((node) => node.joint === 'splice')!.fiber
const panel = thread.nodes[0]!.fiber

function signs(change: Partial<FaultSigns> & { fiber?: number } = {}): FaultSigns {
  const { fiber = fiberAtChainage(thread, 1500), ...rest } = change
  const nature = rest.breaks ? 'break' : rest.reflects ? 'reflection' : 'loss'
  return {
    breaks: false,
    reflects: false,
    losses: [],
    extent: 0,
    evidence: [],
    posterior: layPosterior(thread, { fiber, sigma: 2 }, nature),
    ...rest,
  }
}
const losses = (at1310: number, at1550: number) => [
  { wavelength: 1310, loss: at1310, sigma: 0.02 },
  { wavelength: 1550, loss: at1550, sigma: 0.02 },
]
const first = (change: Parameters<typeof signs>[0]) => rankCauses(signs(change))[0]!

describe('causes, by common practice', () => {
  it('no light between nodes, suddenly: a cut', () => {
    const cause = first({ breaks: true, reflects: true, evidence: [{ kind: 'growth', how: 'sudden' }] })
    expect(cause.cause).toBe('break')
    expect(cause.because).toContain('no light passes')
  })

  it('much more loss at 1550 than at 1310, no reflection: a bend', () => {
    const cause = first({ losses: losses(0.1, 0.8), fiber: splice })
    expect(cause.cause).toBe('macrobend')
    expect(cause.because.join()).toMatch(/8\.0 times as much at the longer wavelength/)
  })

  it('the same loss at both, at a splice: a bad splice', () => {
    expect(first({ losses: losses(0.42, 0.4), fiber: splice }).cause).toBe('bad-splice')
  })

  it('at a panel dirt first, always', () => {
    expect(first({ losses: losses(0.6, 0.6), reflects: true, fiber: panel }).cause).toBe('connector')
  })

  it('slow growth with loss over a stretch: water or pressure', () => {
    const cause = first({ losses: losses(0.2, 0.35), extent: 200, evidence: [{ kind: 'growth', how: 'slow' }] })
    expect(cause.cause).toBe('water')
    expect(cause.because.join()).toMatch(/spread over about 200 m/)
  })

  it('one fiber alone speaks against the cable and for its own joint', () => {
    const alone = rankCauses(
      signs({ losses: losses(0.4, 0.42), fiber: splice, evidence: [{ kind: 'neighbours', affected: false }] }),
    )
    const all = rankCauses(
      signs({ losses: losses(0.4, 0.42), fiber: splice, evidence: [{ kind: 'neighbours', affected: true }] }),
    )
    const of = (ranked: typeof alone, cause: string) => ranked.find((one) => one.cause === cause)?.probability ?? 0
    expect(of(alone, 'bad-splice')).toBeGreaterThan(of(all, 'bad-splice'))
    expect(of(all, 'water') + of(all, 'crush')).toBeGreaterThan(of(alone, 'water') + of(alone, 'crush'))
  })

  it('one wavelength alone leaves bend and splice both open', () => {
    const ranked = rankCauses(signs({ losses: [{ wavelength: 1550, loss: 0.5, sigma: 0.02 }], fiber: splice }))
    for (const cause of ['macrobend', 'bad-splice'])
      expect(ranked.find((one) => one.cause === cause)!.probability).toBeGreaterThan(0.05)
  })

  it('probabilities add up to one but for what is left out', () => {
    const total = rankCauses(signs()).reduce((sum, { probability }) => sum + probability, 0)
    expect(total).toBeGreaterThan(0.95)
    expect(total).toBeLessThanOrEqual(1 + 1e-9)
  })
})

it('the rule book is consistent: priors, places and growth add up, and it names its source', () => {
  expect(SUSPICION_RULES.source).not.toBe('')
  expect(SUSPICION_RULES.causes.reduce((sum, model) => sum + model.prior, 0)).toBeCloseTo(1, 6)
  for (const model of SUSPICION_RULES.causes) {
    for (const table of [model.places, model.growth])
      expect(Object.values(table).reduce((a, b) => a + b, 0)).toBeCloseTo(1, 6)
    for (const chance of [model.breaks, model.neighbours, model.reflects.passing, model.reflects.broken]) {
      expect(chance).toBeGreaterThan(0)
      expect(chance).toBeLessThan(1)
    }
  }
})
