import { besselk } from 'bessel'
import { describe, expect, it } from 'vitest'
import { twoCablePlant } from '../../../test/plants.ts'
import { buildThread, fiberAtChainage } from '../../plant/index.ts'
import { rankCauses, whyNotTold, type FaultSigns } from './causes.ts'
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
    reflectance: null,
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
/**
 * Bend loss of a step-index fiber's fundamental mode per metre, relative: D. Marcuse, “Curvature loss formula for optical
 * fibers”, J. Opt. Soc. Am. 66 (1976) 216, with W ≈ 1.1428·V − 0.996 (H.-D. Rudolph and E.-G. Neumann, 1976); both from
 * memory. Fiber: core radius 4.1 µm, cladding 1.4468, relative index difference 0.36 %, as G.652 fibers have.
 */
function marcuseBendLoss(wavelength: number, radius: number): number {
  const [core, cladding, difference] = [4.1e-6, 1.4468, 0.0036]
  const index = cladding / Math.sqrt(1 - 2 * difference)
  const k = (2 * Math.PI) / (wavelength * 1e-9)
  const v = k * core * Math.sqrt(index ** 2 - cladding ** 2)
  const w = 1.1428 * v - 0.996
  const [kappa, gamma] = [Math.sqrt(v * v - w * w) / core, w / core]
  const beta = Math.sqrt((index * k) ** 2 - kappa ** 2)
  const tunnelling = Math.exp((-2 / 3) * (gamma ** 3 / beta ** 2) * radius)
  return (
    (Math.sqrt(Math.PI) * kappa ** 2 * tunnelling) /
    (2 * gamma ** 1.5 * v ** 2 * Math.sqrt(radius) * besselk(w, 1) ** 2)
  )
}
const first = (change: Parameters<typeof signs>[0]) => rankCauses(signs(change))[0]!

describe('causes, by common practice', () => {
  it('no light between nodes, suddenly: a cut', () => {
    const cause = first({ breaks: true, reflectance: -30, evidence: [{ kind: 'growth', how: 'sudden' }] })
    expect(cause.cause).toBe('break')
    expect(cause.because).toContain('no light passes')
  })

  it('much more loss at 1550 than at 1310, no reflection: a bend', () => {
    const cause = first({ losses: losses(0.1, 0.8), fiber: splice })
    expect(cause.cause).toBe('macrobend')
    expect(cause.because.join()).toMatch(/8\.0 times as much at 1550 nm as at 1310 nm/)
  })

  it.each([8, 10, 12.5])('a bend of %f mm radius by the published model is taken for one', (millimetres) => {
    const [at1310, at1550] = [1310, 1550].map((nm) => marcuseBendLoss(nm, millimetres / 1000))
    expect(at1550! / at1310!).toBeGreaterThan(3)
    const { cause } = first({ losses: losses((0.8 * at1310!) / at1550!, 0.8) })
    expect(cause).toBe('macrobend')
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

  it('one wavelength alone says so, and asks for the other; two don’t', () => {
    const of = (change: Parameters<typeof signs>[0]) => whyNotTold(signs(change), rankCauses(signs(change)))
    const alone = { losses: [{ wavelength: 1550, loss: 0.5, sigma: 0.02 }], fiber: splice }
    expect(of(alone)).toMatch(/1550 nm alone.*shoot at 1310 nm/)
    expect(of({ losses: losses(0.05, 0.5), fiber: splice })).toBeNull()
    expect(of({ breaks: true })).toBeNull()
  })

  it('60 nm apart a bend still tells itself from a splice: by 2^(60/75) = 1.74 as against 1', () => {
    const near = (ratio: number) => [
      { wavelength: 1490, loss: 0.7, sigma: 0.02 },
      { wavelength: 1550, loss: 0.7 * ratio, sigma: 0.02 },
    ]
    expect(first({ losses: near(1.74), fiber: splice }).cause).toBe('macrobend')
    expect(first({ losses: near(0.98), fiber: splice }).cause).toBe('bad-splice')
  })

  it('multimode wavelengths tell no bend: it loses about the same at both', () => {
    const ranked = rankCauses(
      signs({ losses: [850, 1300].map((wavelength) => ({ wavelength, loss: 1.5, sigma: 0.02 })) }),
    )
    expect(ranked.every(({ because }) => !because.join().includes('nm'))).toBe(true)
  })

  it('how a broken end reflects counts: flat at a panel is a connector left open, rough or dark in the run is a cut', () => {
    const at = (fiber: number, reflectance: number | null) => first({ breaks: true, fiber, reflectance })
    expect(at(panel, -14.7).cause).toBe('wrong-patch')
    expect(at(panel, -14.7).because.join()).toMatch(/flat glass/)
    expect(at(fiberAtChainage(thread, 1500), -41.8).because.join()).not.toMatch(/does not reflect/)
    const share = (reflectance: number | null) =>
      rankCauses(signs({ breaks: true, reflectance })).find(({ cause }) => cause === 'crush')?.probability ?? 0
    expect(share(null)).toBeGreaterThan(3 * share(-16))
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
    for (const table of [model.places, model.growth, model.reflects.broken])
      expect(Object.values(table).reduce((a, b) => a + b, 0)).toBeCloseTo(1, 6)
    for (const chance of [model.breaks, model.neighbours, model.reflects.passing]) {
      expect(chance).toBeGreaterThan(0)
      expect(chance).toBeLessThan(1)
    }
  }
})
