import { describe, expect, it } from 'vitest'
import { twoCablePlant } from '../../../test/plants.ts'
import { LINK } from '../../../test/randomFault.ts'
import { REPAIR_KINDS, repairCase, shootRepair, type RepairKind } from '../../../test/repairCases.ts'
import { shootTwoCables } from '../../../test/shootTwoCables.ts'
import type { Shot } from '../../locate/index.ts'
import type { Damage } from '../../sim/index.ts'
import { proveRepair, type Proof, type Work } from '../index.ts'

/** What has to be named first, of a repair that is not well. */
const NAMED: Record<RepairKind, string | null> = {
  good: null,
  'poor joint': 'poor-joint',
  'wrong fiber': 'wrong-fiber',
  'fault left': 'fault-left',
  'second fault': 'second-fault',
  'closing bend': 'closing-bend',
  'dirty connector': 'connector-worse',
  'length inserted': null,
  'no baseline': 'poor-joint',
}

describe('what is wrong after a repair on links by chance', () => {
  it.each(REPAIR_KINDS)('%s', (kind) => {
    const one = repairCase(4242, kind)
    const proof = proveRepair({
      plant: one.records,
      linkId: LINK,
      ...shootRepair(one),
      work: { newJoints: one.newJoints, redone: one.redone, others: [] },
    })
    expect(proof.causes[0]?.cause ?? null).toBe(one.wrong ? NAMED[kind] : null)
    expect(proof.verdict === 'not-restored').toBe(one.wrong !== null)
    // What is done about it is said first.
    if (one.wrong) expect(proof.next[0]).toBe(proof.causes[0]!.next)
  })
})

it('much fiber spliced into a short link moves its far end, and is no second break', () => {
  const one = repairCase(90286, 'length inserted')
  const work = { newJoints: one.newJoints, redone: [], others: [] }
  const proof = proveRepair({ plant: one.records, linkId: LINK, ...shootRepair(one), work })
  expect(proof.added).toBeGreaterThan(50)
  expect(proof.verdict).toMatch(/^restored/)
  expect(proof.causes).toEqual([])
})

describe('by the log', () => {
  const plant = twoCablePlant()
  const baseline = shootTwoCables([])
  const crush: Damage = { at: { chainage: 1500 }, breaks: false, loss: 1.4 }
  const nothing: Work = { newJoints: [], redone: [], others: [] }
  const faultsShot = new Map<string, Shot[]>()
  /** The same fault is shot once. */
  const shotOf = (fault: Damage[]) => {
    const key = JSON.stringify(fault)
    const shots = faultsShot.get(key) ?? shootTwoCables(fault, 30)
    faultsShot.set(key, shots)
    return shots
  }
  const prove = (left: Damage[], work: Partial<Work>, fault: Damage[] = [crush]): Proof =>
    proveRepair({
      plant,
      linkId: 'l',
      baseline,
      present: shotOf(fault),
      after: shootTwoCables(left, 50),
      work: { ...nothing, ...work },
    })
  const joint: Damage = { at: { chainage: 1500 }, breaks: false, loss: 0.04 }

  it('a joint of another fiber where the fault still is: the wrong fiber, and which', () => {
    const others = [{ node: null, chainage: 1503, words: 'fiber 6 of cable a' }]
    const [first] = prove([crush], { others }).causes
    expect(first).toMatchObject({ cause: 'wrong-fiber', refutes: true })
    expect(first!.reason).toMatch(/fiber 6 of cable a/)
  })

  it('a break that is still where it was is left, or on the wrong fiber where a joint is told of', () => {
    const cut: Damage = { at: { chainage: 1500 }, breaks: true }
    expect(prove([cut], {}, [cut]).causes).toMatchObject([{ cause: 'fault-left', excess: null }])
    expect(prove([cut], { newJoints: [1495] }, [cut]).causes).toMatchObject([{ cause: 'wrong-fiber' }])
    const elsewhere: Damage = { at: { chainage: 700 }, breaks: true }
    expect(prove([joint, elsewhere], { newJoints: [1495] }, [cut]).causes).toMatchObject([{ cause: 'second-fault' }])
  })

  it('a joint that lets no light through is a poor joint', () => {
    const broken: Damage = { at: { chainage: 1500 }, breaks: true }
    expect(prove([broken], { newJoints: [1503] }).causes).toMatchObject([{ cause: 'poor-joint' }])
  })

  it('loss that came where nobody worked is a remark while its joint’s limit holds, and refutes beyond it', () => {
    const disturbed = (loss: number) =>
      prove([joint, { at: { node: 'n1' }, breaks: false, loss }], { newJoints: [1503] })
    const little = disturbed(0.12)
    expect(little.causes).toMatchObject([{ node: 'n1', refutes: false }])
    expect(little.verdict).toBe('restored-with-remarks')
    expect(disturbed(0.6).verdict).toBe('not-restored')
  })

  it('a joint redone within its limit is not asked about', () => {
    const { causes, verdict } = prove([joint, { at: { node: 'n1' }, breaks: false, loss: 0.03 }], {
      newJoints: [1503],
      redone: ['n1'],
    })
    expect([causes, verdict]).toEqual([[], 'restored'])
  })

  it('what gives most per minute is first: a connector before a splice of the same loss', () => {
    const panel = plant.links[0]!.to
    const { causes } = prove(
      [
        { at: { chainage: 1500 }, breaks: false, loss: 0.9 },
        { at: { node: panel }, breaks: false, loss: 0.9, reflectance: -25 },
      ],
      { newJoints: [1503] },
    )
    expect(causes.map(({ cause }) => cause)).toEqual(['connector-worse', 'poor-joint'])
    expect(causes[0]!.minutes).toBeLessThan(causes[1]!.minutes)
  })

  it('two joints that the pulse does not tell apart are held to two limits, and no more', () => {
    const close = (loss: number) =>
      prove(
        [
          { at: { chainage: 1500 }, breaks: false, loss },
          { at: { chainage: 1503 }, breaks: false, loss },
        ],
        { newJoints: [1500, 1503] },
      ).events.filter((event) => event.node === null)
    const [event, ...others] = close(0.2)
    expect(others).toEqual([])
    expect(event).toMatchObject({ joints: 2, holds: 'yes', limit: 0.6 })
    expect(close(0.4)[0]!.holds).toBe('no')
  })
})
