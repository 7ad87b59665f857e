import { describe, expect, it } from 'vitest'
import { twoCablePlant } from '../../test/plants.ts'
import { buildThread } from '../plant/index.ts'
import type { FiberSpan, Joint } from './fiberModel.ts'
import { modelOfLink, plantBehindRecords, repaired, standInSeed, type Damage } from './index.ts'

const plant = twoCablePlant()
const [ab, ba] = [buildThread(plant, 'l', 'ab'), buildThread(plant, 'l', 'ba')]
const CORDS = { launch: 150, receive: 80 }
const model = (damages: Damage[] = [], thread = ab, wavelength = 1550) =>
  modelOfLink(thread, { seed: 4 }, wavelength, CORDS, damages)
const spans = (elements: (FiberSpan | Joint)[]) => elements.filter((e): e is FiberSpan => e.kind === 'span')
const joints = (elements: (FiberSpan | Joint)[]) => elements.filter((e): e is Joint => e.kind === 'joint')
const length = (elements: (FiberSpan | Joint)[]) => spans(elements).reduce((sum, span) => sum + span.length, 0)
const loss = (elements: (FiberSpan | Joint)[]) => joints(elements).reduce((sum, joint) => sum + joint.loss, 0)

describe('the optical model of a link', () => {
  it('is as long as the records’ fiber and both cords', () => {
    expect(length(model().elements)).toBeCloseTo(ab.fiberLength + 230, 6)
  })

  it('from the other end is the same glass in the mirror', () => {
    const [there, back] = [model(), model([], ba)]
    expect(length(back.elements)).toBeCloseTo(length(there.elements), 6)
    expect(loss(back.elements)).toBeCloseTo(loss(there.elements), 9)
  })

  it('a damage in metres of fiber is at the same place from both ends', () => {
    const damage: Damage = { at: { fiber: 700 }, breaks: true, reflectance: -20 }
    const there = length(model([damage]).elements)
    const back = length(model([damage], ba).elements)
    expect(there).toBeCloseTo(150 + 700, 6)
    expect(back).toBeCloseTo(150 + ab.fiberLength - 700, 6)
  })

  it('a break ends the light with its own reflectance', () => {
    expect(model([{ at: { fiber: 700 }, breaks: true, reflectance: -31 }]).endReflectance).toBe(-31)
    expect(model([{ at: { fiber: 700 }, breaks: true }]).endReflectance).toBeNull()
  })

  it('a damage at a node worsens that joint instead of standing beside it', () => {
    const node = plant.nodes.find((candidate) => candidate.kind === 'closure')!.id
    const plain = model()
    const worse = model([{ at: { node }, breaks: false, loss: 0.7 }])
    expect(joints(worse.elements)).toHaveLength(joints(plain.elements).length)
    expect(loss(worse.elements) - loss(plain.elements)).toBeCloseTo(0.7, 9)
  })

  it('a loss by wavelength takes the nearest one given', () => {
    const bend: Damage = { at: { fiber: 900 }, breaks: false, loss: { '1310': 0.1, '1550': 0.9 } }
    const added = (wavelength: number) =>
      loss(model([bend], ab, wavelength).elements) - loss(model([], ab, wavelength).elements)
    expect(added(1550)).toBeCloseTo(0.9, 9)
    expect(added(1310)).toBeCloseTo(0.1, 9)
    expect(added(1625)).toBeCloseTo(0.9, 9)
  })

  it('a spread loss adds up to the whole and covers its stretch, from either end', () => {
    const wet: Damage = { at: { fiber: 900 }, breaks: false, loss: 0.6, extent: 200 }
    for (const thread of [ab, ba]) {
      expect(loss(model([wet], thread).elements) - loss(model([], thread).elements)).toBeCloseTo(0.6, 6)
      expect(joints(model([wet], thread).elements).length - joints(model([], thread).elements).length).toBeGreaterThan(
        20,
      )
    }
  })

  it('a damage off the link is refused', () => {
    expect(() => model([{ at: { node: 'nowhere' }, breaks: false }])).toThrow(/does not pass node/)
    expect(() => model([{ at: { fiber: 1e6 }, breaks: false }])).toThrow(/beyond the link/)
  })
})

describe('the plant behind the records', () => {
  it('differs by what records are off, and by the same each time for one seed', () => {
    const truth = plantBehindRecords(plant, 7)
    expect(plantBehindRecords(plant, 7)).toEqual(truth)
    expect(plantBehindRecords(plant, 8)).not.toEqual(truth)
    truth.cables.forEach((cable, i) =>
      expect(Math.abs(cable.sheathFactor / plant.cables[i]!.sheathFactor - 1)).toBeLessThan(0.02),
    )
  })

  it('one plant has one set of glass behind it', () => {
    expect(standInSeed(plant)).toBe(standInSeed(structuredClone(plant)))
    expect(standInSeed({ ...plant, name: 'another' })).not.toBe(standInSeed(plant))
  })

  it('a good repair leaves a fusion splice, or a joint as good as it was', () => {
    const splice = repaired({ at: { chainage: 1500 }, breaks: true, reflectance: -15 }, 1)
    expect(splice.breaks).toBe(false)
    expect(splice.loss as number).toBeGreaterThan(0)
    expect(splice.loss as number).toBeLessThan(0.06)
    expect(splice.reflectance).toBeUndefined()
    expect(Math.abs(repaired({ at: { node: 'n1' }, breaks: false, loss: 2 }, 1).loss as number)).toBeLessThan(0.03)
  })
})
