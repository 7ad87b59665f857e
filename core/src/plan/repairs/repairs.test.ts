import { describe, expect, it } from 'vitest'
import { breakAt, lossAt } from '../../../test/faults.ts'
import { fullKit } from '../../../test/kit.ts'
import { twoCablePlant } from '../../../test/plants.ts'
import { buildThread } from '../../plant/index.ts'
import type { PlacedFault } from './placed.ts'
import { PLAN_RULES, SITE_DEFAULTS, type RepairKind, type SiteFacts } from '../planRules.ts'
import { proposeRepairs, type ProposeInput } from '../propose.ts'
import { groundAt } from '../schedule/steps.ts'

const NEAR: SiteFacts = { ...SITE_DEFAULTS, toBench: 1, preparation: 1, lost: 1 }

function optionOf(kind: RepairKind, fault: PlacedFault, more: Partial<ProposeInput> = {}) {
  const plant = more.plant ?? twoCablePlant()
  const { options } = proposeRepairs({
    plant,
    linkId: plant.links[0]!.id,
    fault,
    hit: null,
    kit: fullKit(),
    site: NEAR,
    ...more,
  })
  return options.find((option) => option.kind === kind)!
}
const kinds = (option: ReturnType<typeof optionOf>) => option.steps.map(({ kind }) => kind)
const before = (option: ReturnType<typeof optionOf>, id: string): Set<string> => {
  const step = option.steps.find((candidate) => candidate.id === id)!
  return new Set(step.after.flatMap((other) => [other, ...before(option, other)]))
}

describe('the way to the cable', () => {
  const cable = twoCablePlant().cables[0]!
  it.each([
    ['towpath duct', 'dig'],
    ['aerial over the weir', 'aerial'],
    ['building and basin wall', 'indoor'],
    ['swing bridge crossing', 'structure'],
    ['ploughed in', 'dig'],
  ])('through %s is %s', (environment, ground) => {
    expect(groundAt({ ...cable, spans: [{ from: 0, to: 1000, environment }] }, 500)).toBe(ground)
  })

  it('through ground locates services before anybody digs, and makes the ground good again', () => {
    const option = optionOf('one-closure', breakAt('b', 2000))
    expect(before(option, 'dig@fault')).toContain('locate-services@fault')
    expect(before(option, 'identify@fault')).toContain('dig@fault')
    expect(before(option, 'reinstate@fault')).toContain('close@fault')
    expect(option.hazards.join()).toMatch(/locate them on site before digging, by local code/)
  })

  it('into a chamber tests the air first; not where closures lie above ground', () => {
    const fault = lossAt('n1', 'b', 1000, 'bad-splice', 0.9)
    const option = optionOf('re-splice', fault)
    expect(before(option, 'open@n1')).toContain('gas-test@n1')
    expect(option.hazards.join()).toMatch(/confined space/)
    expect(kinds(optionOf('re-splice', fault, { site: { ...NEAR, belowGround: false } }))).not.toContain('gas-test')
  })

  it('in the air takes a ladder or platform, and nobody digs', () => {
    const plant = twoCablePlant()
    plant.cables[1]!.spans = [{ from: 1000, to: 3000, environment: 'aerial' }]
    const option = optionOf('one-closure', breakAt('b', 2000), { plant })
    expect(kinds(option)).toContain('access')
    expect(kinds(option)).not.toContain('dig')
    expect(option.hazards.join()).toMatch(/height and power lines/)
  })

  it('on a road waits for its permit and puts signs up', () => {
    const option = optionOf('one-closure', breakAt('b', 2000), { site: { ...NEAR, traffic: true } })
    expect(before(option, 'set-up@fault')).toContain('permit@fault')
    expect(option.steps.find(({ kind }) => kind === 'set-up')!.needs).toContain('traffic control')
  })
})

describe('each repair', () => {
  it('on a link that is not recorded as dark begins with the caution about its light', () => {
    const plant = twoCablePlant()
    plant.links[0]!.state = 'live'
    expect(optionOf('one-closure', breakAt('b', 2000), { plant }).hazards[0]).toMatch(/not recorded as dark/)
    plant.links[0]!.state = 'dark'
    expect(optionOf('one-closure', breakAt('b', 2000), { plant }).hazards.join()).not.toMatch(/not recorded as dark/)
  })

  it('ends with loss and reflectance from both ends, but for a temporary one', () => {
    const ends = optionOf('one-closure', breakAt('b', 2000)).steps.filter(({ kind }) => kind === 'final-test')
    expect(ends.map(({ site }) => site)).toEqual(['West panel', 'East panel'])
    expect(kinds(optionOf('temporary', breakAt('b', 2000)))).not.toContain('final-test')
  })

  it('has ids that are each there once, and waits for none that is not', () => {
    const faults = [breakAt('b', 2000), lossAt('n1', 'b', 1000, 'macrobend', 1), lossAt('n0', 'a', 0, 'connector', 1)]
    for (const fault of faults) {
      const plant = twoCablePlant()
      const input = { plant, linkId: plant.links[0]!.id, fault, hit: null, kit: fullKit([], 2), site: NEAR }
      for (const crews of [1, 2] as const) {
        const scenario = { crews, splicers: 2, ribbon: false, haulFromBothEnds: crews === 2 }
        for (const { steps } of proposeRepairs({ ...input, scenario }).options) {
          const ids = new Set(steps.map(({ id }) => id))
          expect(ids.size).toBe(steps.length)
          for (const { after } of steps) for (const id of after) expect(ids).toContain(id)
        }
      }
    }
  })

  it('with slack counts one closure, one splice a fiber, and says what remains', () => {
    const option = optionOf('one-closure', breakAt('b', 2000))
    expect(option.parts.find(({ kind }) => kind === 'closure')).toMatchObject({ count: 1, fibers: 12 })
    expect(option.parts.find(({ kind }) => kind === 'splice sleeve')!.count).toBe(12)
    expect(option.reasons.join()).toMatch(/is enough for 5 m; .* remain for next time/)
    expect(option.projected[0]!.after.loss - option.projected[0]!.before.loss).toBeCloseTo(0.05, 12)
  })

  it('with a new section counts two closures, two splices a fiber, and cable to reach both benches', () => {
    const option = optionOf('section', breakAt('b', 2000), { site: { ...SITE_DEFAULTS, toBench: 30 } })
    expect(option.parts.find(({ kind }) => kind === 'closure')!.count).toBe(2)
    expect(option.parts.find(({ kind }) => kind === 'splice sleeve')!.count).toBe(24)
    // 40 m of ground and twice 30 m to the bench and 3 m to prepare.
    expect(option.parts.find(({ kind }) => kind === 'cable')).toMatchObject({ count: 106, fibers: 12, unit: 'm' })
    expect(option.projected[0]!.after.loss - option.projected[0]!.before.loss).toBeCloseTo(0.1, 12)
    // The desk confirms a link when both of its splices are stored.
    const confirm = option.steps.find(({ kind }) => kind === 'confirm')!
    expect(confirm.after.map((id) => id.split('@')[1])).toEqual(['low', 'high'])
  })

  it('as a ribbon counts ribbon sleeves, and says that a loose cable has no ribbons', () => {
    const scenario = { crews: 1 as const, splicers: 1, ribbon: true, haulFromBothEnds: false }
    const option = optionOf('one-closure', breakAt('b', 2000), { scenario })
    expect(option.parts.find(({ kind }) => kind === 'ribbon sleeve')!.count).toBe(1)
    expect(option.reasons.join()).toMatch(/the cable has no ribbons/)
    const without = optionOf('one-closure', breakAt('b', 2000), { scenario, kit: fullKit(['ribbon splicer']) })
    expect(without.lacks.map(({ what }) => what)).toContain('ribbon fusion splicer')
  })

  it('that moves circuits to spares splices at both closures of the cable, or patches at panels', () => {
    const plant = twoCablePlant()
    plant.cables[1]!.fiberCount = 24
    const own = plant.links[0]!.path.find((step) => 'cable' in step && step.cable === 'b') as { fiber: number }
    const option = optionOf('spare-fibers', breakAt('b', 2000), { plant, hit: [own.fiber] })
    expect(option.possible).toBe(true)
    // The cable begins in a closure and ends at a panel.
    expect(kinds(option).filter((kind) => kind === 'open')).toHaveLength(1)
    expect(kinds(option).filter((kind) => kind === 'patch')).toHaveLength(1)
    expect(option.permanence).toBe('interim')
    expect(option.reasons.join()).toMatch(/from fiber \d+ to 13/)
    // Another fiber of the same cable loses as much on average; by how much it may differ (judgement): 0.02 dB a km, a
    // splice by 0.04, a pair by 0.15 dB, once for what goes and once for what comes.
    const b = buildThread(plant, plant.links[0]!.id).pieces.filter(({ cable }) => cable === 'b')
    const kilometres = (b.at(-1)!.fiberTo - b[0]!.fiberFrom) / 1000
    for (const { before, after } of option.projected) {
      expect(after.loss).toBe(before.loss)
      const added = 2 * ((0.02 * kilometres) ** 2 + 0.04 ** 2 + 0.15 ** 2)
      expect(after.sigma ** 2 - before.sigma ** 2).toBeCloseTo(added, 6)
    }
  })

  it('in a tray without fiber left is refused with the figure', () => {
    const plant = twoCablePlant()
    plant.nodes.find(({ id }) => id === 'n1')!.trayFiber = [{ cable: 'b', fiber: 0.1 }]
    const option = optionOf('re-splice', lossAt('n1', 'b', 1000, 'bad-splice', 0.9), { plant })
    expect(option.whyNot[0]).toBe('0.1 m of fiber are left in the tray, 0.3 m are needed')
  })

  it('of a connector is offered each way that the kit allows, the quick one with more loss', () => {
    const plant = twoCablePlant()
    const fault = lossAt('n0', 'a', 0, 'connector', 1)
    const input = { plant, linkId: plant.links[0]!.id, fault, hit: null, site: NEAR }
    const ways = (kit = fullKit()) =>
      proposeRepairs({ ...input, kit }).options.filter(({ kind, possible }) => kind === 're-terminate' && possible)
    expect(
      ways()
        .map(({ way }) => way)
        .sort(),
    ).toEqual(Object.keys(PLAN_RULES.terminations).sort())
    const loss = (way: string) => ways().find((option) => option.way === way)!.projected[0]!.after.loss
    expect(loss('mechanical')).toBeGreaterThan(loss('pigtail') + 0.15)
    expect(ways(fullKit(['splicer'])).map(({ way }) => way)).not.toContain('pigtail')
  })
})
