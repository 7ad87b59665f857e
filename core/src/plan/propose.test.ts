import { describe, expect, it } from 'vitest'
import { breakAt, lossAt } from '../../test/faults.ts'
import { fullKit } from '../../test/kit.ts'
import { twoCablePlant } from '../../test/plants.ts'
import { EMPTY_KIT, type Kit } from '../kit/index.ts'
import { FIRST_SCENARIO, unitsOf } from './logistics/crews.ts'
import { hitFibers, inCircuitOrder } from './repairs/hit.ts'
import type { PlacedFault } from './repairs/placed.ts'
import { SITE_DEFAULTS, type RepairKind } from './planRules.ts'
import { lossBudget } from '../lossTest/budget.ts'
import { estimatedLoss, projectLoss } from './repairs/projectLoss.ts'
import { proposeRepairs, type ProposeInput } from './propose.ts'
import { proposeSwaps, spareFibers } from './repairs/spareFibers.ts'

const plant = twoCablePlant()
const link = plant.links[0]!
const NEAR = { ...SITE_DEFAULTS, toBench: 1, preparation: 1, lost: 1 }

const propose = (fault: PlacedFault, more: Partial<ProposeInput> = {}) =>
  proposeRepairs({ plant, linkId: link.id, fault, hit: null, kit: fullKit(), site: NEAR, ...more })
const find = (proposal: ReturnType<typeof propose>, kind: RepairKind) =>
  proposal.options.find((option) => option.kind === kind)!

describe('repairs that can’t be done', () => {
  it('say how much slack is missing, and the section takes its place', () => {
    const proposal = propose(breakAt('b', 2000), { site: { ...SITE_DEFAULTS, toBench: 40 } })
    expect(find(proposal, 'one-closure').whyNot[0]).toMatch(/^slack is \d+(\.\d)? m short: needed 88 m/)
    expect(proposal.lasting!.kind).toBe('section')
  })

  it('say that no fiber is spare', () => {
    const proposal = propose(breakAt('b', 2000))
    expect(find(proposal, 'spare-fibers').whyNot[0]).toMatch(/all 12 fibers of cable b are taken to be hit/)
    const own = hitFibers(plant, plant.cables[1]!, link.id, breakAt('b', 2000), [1])
    const full = { ...plant, cables: plant.cables.map((cable) => ({ ...cable, fiberCount: 1 })) }
    expect(proposeSwaps({ plant: full, cable: full.cables[1]!, hit: own })).toEqual([])
  })

  it('say which skill or tool nobody has', () => {
    const kit = fullKit()
    kit.people.forEach((person) => (person.skills = ['testing', 'cabling', 'confined space', 'digging']))
    const proposal = propose(breakAt('b', 2000), { kit })
    expect(find(proposal, 'one-closure').whyNot[0]).toMatch(/needs splicing, and nothing at hand is that/)
    expect(find(propose(breakAt('b', 2000), { kit: fullKit(['sheath tools']) }), 'one-closure').whyNot[0]).toMatch(
      /needs sheath tools/,
    )
  })

  it('say why they would not help', () => {
    const proposal = propose(lossAt('n1', 'b', 1000, 'bad-splice', 0.9))
    expect(find(proposal, 're-dress').whyNot[0]).toMatch(
      /probability of 0 % only: .*splice 100 %, most likely bad-splice/,
    )
    expect(find(proposal, 'clean').whyNot[0]).toBe('no connector stands where the fault may be')
    expect(proposal.lasting!.kind).toBe('re-splice')
  })
})

describe('without a kit', () => {
  it('repairs are still drawn up, what is missing is named, and a warning says whose minutes these are', () => {
    const proposal = propose(breakAt('b', 2000), { kit: EMPTY_KIT })
    expect(proposal.lasting!.kind).toBe('one-closure')
    expect(proposal.lasting!.lacks.map(({ what }) => what)).toContain('closure for 12 fibers')
    expect(proposal.warnings[0]).toMatch(/Nobody is in the kit/)
  })

  it('a second crew is refused by name', () => {
    expect(() => unitsOf(fullKit(), { ...FIRST_SCENARIO, crews: 2 })).toThrow('the kit has 1 crew, the plan asks for 2')
    expect(() => unitsOf(EMPTY_KIT, FIRST_SCENARIO)).toThrow(/nobody is in the kit/)
  })
})

describe('what is hit', () => {
  const cable = plant.cables[1]!
  it('is the whole cable for a break in the run, the link’s own fiber at a joint, or what a survey found', () => {
    expect(hitFibers(plant, cable, link.id, breakAt('b', 2000), null)).toHaveLength(12)
    const own = hitFibers(plant, cable, link.id, lossAt('n1', 'b', 1000, 'bad-splice', 1), null)
    expect(own.map((fiber) => fiber.link?.id)).toEqual([link.id])
    expect(hitFibers(plant, cable, link.id, breakAt('b', 2000), [2, 3]).map(({ fiber }) => fiber)).toEqual([2, 3])
  })

  it('is ordered by circuits: their tube first, in it their fibers; dark tubes last', () => {
    const fiber = (number: number, priority = Infinity) => ({ fiber: number, link: null, circuits: [], priority })
    const order = inCircuitOrder([fiber(1), fiber(14, 2), fiber(15, 1), fiber(26, 1), fiber(37)], 12)
    expect(order.map(({ tube }) => tube)).toEqual([2, 3, 1, 4])
    expect(order[0]!.fibers.map((one) => one.fiber)).toEqual([15, 14])
  })

  it('a link that the record has on two fibers is named', () => {
    const twice = structuredClone(plant)
    twice.links.push({ ...structuredClone(link), id: 'x' })
    const at = twice.links.at(-1)!.path.find((step) => 'cable' in step && step.cable === 'b') as { fiber: number }
    at.fiber = 9
    twice.links.at(-1)!.id = link.id
    const proposal = proposeRepairs({
      plant: twice,
      linkId: link.id,
      fault: breakAt('b', 2000),
      hit: null,
      kit: fullKit(),
      site: NEAR,
    })
    expect(proposal.warnings.join()).toMatch(/on fibers .* and 9 of cable b: mend the record/)
  })
})

describe('spare fibers', () => {
  it('are those that no link rides and that are not hit, from a tube that is whole first', () => {
    const cable = { ...plant.cables[1]!, fiberCount: 24 }
    const wide = { ...plant, cables: [plant.cables[0]!, cable] }
    const hit = hitFibers(wide, cable, link.id, breakAt('b', 2000), [1, 2, 3])
    const ridden = hit.find((fiber) => fiber.link)
    expect(spareFibers({ plant: wide, cable, hit })).not.toContain(2)
    if (ridden) expect(proposeSwaps({ plant: wide, cable, hit })[0]).toMatchObject({ from: ridden.fiber, to: 13 })
    expect(hit.some((fiber) => fiber.link)).toBe(true)
  })
})

describe('projected losses', () => {
  it('are measured where a baseline is, else estimated; a break lets no light pass now', () => {
    const change = { splices: 1, added: { loss: 0.05, sigma: 0.03 } }
    const measured = { [link.id]: { '1310': { loss: 2, sigma: 0.1 } } }
    const [at1310, at1550] = projectLoss(plant, link, breakAt('b', 2000), change, measured)
    expect(at1310).toMatchObject({ before: { loss: 2, from: 'measured' }, now: null, after: { loss: 2.05 } })
    expect(at1310!.after.sigma).toBeCloseTo(Math.hypot(0.1, 0.03), 12)
    expect(at1310!.margin).toBeCloseTo(lossBudget(plant, link, 1310, 'one-cord', 1).allowed! - 2.05, 12)
    expect(at1550!.before).toMatchObject({ from: 'estimated', ...estimatedLoss(plant, link, 1550) })
    const [bent] = projectLoss(plant, link, lossAt('n1', 'b', 1000, 'macrobend', 0.8), change, measured)
    expect(bent!.now).toBeCloseTo(2.8, 12)
  })
})

describe('a lead’s wishes', () => {
  it('change the order: where only the first circuit counts, a quick try comes before the sure one', () => {
    const fault = lossAt('n0', 'a', 0, 'connector', 1)
    const order = (weights: Partial<ProposeInput['weights']>) =>
      propose(fault, {
        weights: { firstCircuit: 0, allCircuits: 0, cost: 0, margin: 0, permanence: 0, intervention: 0, ...weights },
      })
        .options.filter(({ possible }) => possible)
        .map(({ id }) => id)
    expect(order({ intervention: 1 })[0]).toBe('clean')
    expect(order({ margin: 1 }).at(-1)).toBe('re-terminate/mechanical')
    const scores = propose(fault).options.flatMap(({ score }) => (score === null ? [] : [score]))
    expect(scores).toEqual([...scores].sort((a, b) => a - b))
    expect(Math.max(...scores)).toBeLessThanOrEqual(1)
  })

  it('a part that is not at hand counts against a repair', () => {
    const without: Kit = fullKit(['cable', 'surface cable'])
    const cost = (kit: Kit) => find(propose(breakAt('b', 2000), { kit }), 'section')
    expect(cost(without).lacks[0]).toMatchObject({ there: 0, substitute: null })
    expect(cost(fullKit()).lacks).toEqual([])
  })
})
