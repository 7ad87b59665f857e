import { describe, expect, it } from 'vitest'
import { LINK } from '../../../test/randomFault.ts'
import { repairCase, shootRepair } from '../../../test/repairCases.ts'
import { isCableStep } from '../../plant/check.ts'
import type { Cable } from '../../plant/types.ts'
import { fiberProofOf, linkOfFiber, proveCable, recordedLinks, type FiberProof } from './cableProof.ts'
import { amongNeighbours } from '../../lossTest/neighbours.ts'
import { proveRepair } from '../prove.ts'

const cable: Cable = {
  id: 'C-1',
  fiberCount: 24,
  tubeSize: 12,
  construction: 'loose-tube',
  colorOrder: 'TIA-598',
} as Cable

const fiber = (number: number, after: number, verdict: FiberProof['verdict'] = 'restored'): FiberProof => ({
  fiber: number,
  link: null,
  verdict,
  reasons: ['every joint and the total read as in the baseline, within limits'],
  next: [],
  totals: [
    {
      wavelength: 1550,
      before: 2,
      after,
      afterSigma: 0.01,
      change: after - 2,
      allowed: 3,
      holds: 'yes',
      worst: null,
      standsOff: null,
    },
  ],
})

describe('all fibers of a cable', () => {
  it('one that stands off its tube is remarked on, though it is within its limits', () => {
    // By hand: median 2.02, the others within 0.02 of it.
    const tube = [2.01, 2.02, 2.03, 2.0, 2.04, 2.02, 2.6].map((after, k) => fiber(k + 1, after))
    const { fibers, missing } = proveCable(cable, tube)
    expect(fibers.slice(0, 6).map(({ verdict }) => verdict)).toEqual(Array.from({ length: 6 }, () => 'restored'))
    expect(fibers[6]).toMatchObject({
      verdict: 'restored-with-remarks',
      reasons: ['the total at 1550 nm is 2.60 dB, its neighbours’ in the tube 2.02 dB in the middle'],
      next: ['look at this fiber’s joints and connectors: the others do better'],
    })
    expect(fibers[6]!.totals[0]!.standsOff).toBeCloseTo(2.02, 9)
    expect(missing).toEqual(Array.from({ length: 17 }, (_, k) => k + 8))
  })

  it('another tube is no neighbour, and a fiber that is not restored stays so', () => {
    const first = [2.01, 2.02, 2.03, 2.0, 2.04, 2.02].map((after, k) => fiber(k + 1, after))
    const second = [3.0, 3.01, 2.99, 3.02, 3.0, 3.6].map((after, k) => fiber(k + 13, after))
    const bad = { ...second[5]!, verdict: 'not-restored' as const, reasons: ['open'], next: ['splice it'] }
    const { fibers } = proveCable(cable, [...first, ...second.slice(0, 5), bad])
    expect(fibers.slice(0, 11).every(({ verdict }) => verdict === 'restored')).toBe(true)
    expect(fibers[11]).toMatchObject({ verdict: 'not-restored', next: ['splice it'] })
    expect(fibers[11]!.reasons).toEqual(['open', expect.stringContaining('its neighbours’ in the tube 3.00 dB')])
  })

  it('few neighbours tell nothing', () => {
    const { fibers } = proveCable(cable, [fiber(1, 2), fiber(2, 2.01), fiber(3, 4)])
    expect(fibers.map(({ verdict }) => verdict)).toEqual(['restored', 'restored', 'restored'])
  })

  // B. Iglewicz, D. Hoaglin, How to Detect and Handle Outliers, ASQC 1993: modified z-score over 3.5 (from memory).
  it('an outlier is one by the modified z-score of its neighbours', () => {
    const others = [2.0, 2.1, 2.2, 2.3, 2.4]
    // Median 2.2, median absolute deviation 0.1: 3.5 of 0.14826 are 0.519 dB.
    expect(amongNeighbours(2.71, others, 0.01)).toMatchObject({ stands: false })
    expect(amongNeighbours(2.73, others, 0.01)).toMatchObject({ stands: true })
  })
})

describe('a fiber of the cable', () => {
  const one = repairCase(4242, 'poor joint')
  const shots = shootRepair(one)
  const proof = proveRepair({ plant: one.records, linkId: LINK, baseline: shots.baseline, after: shots.after })

  it('tells the joint with the least left to its limit, and the total against what is allowed', () => {
    const { totals, verdict } = fiberProofOf(3, null, proof)
    expect(verdict).toBe(proof.verdict)
    expect(totals.map(({ wavelength }) => wavelength)).toEqual([1310, 1550])
    for (const total of totals) {
      const events = proof.events.filter(({ wavelength, lossAfter }) => wavelength === total.wavelength && lossAfter)
      const most = Math.max(...events.map(({ lossAfter, limit }) => lossAfter! - limit))
      expect(total.worst!.is - total.worst!.allowed).toBeCloseTo(most, 9)
      expect(total.change).toBeCloseTo(total.after! - total.before!, 9)
    }
    expect(totals.some(({ holds }) => holds === 'no')).toBe(true)
  })

  it('is its own link where the record knows one, and else one along the same path', () => {
    const link = one.records.links.find(({ id }) => id === LINK)!
    const own = link.path.find(isCableStep)!.fiber
    expect(linkOfFiber(one.records, link, own)).toEqual({ link, recorded: true })
    // A repair made a closure in it, and laid a section: the link of the next fiber is the same as before.
    const beside = {
      ...link,
      id: 'beside',
      name: 'Beside it',
      path: link.path.map((step) => ('cable' in step ? { ...step, fiber: own + 1 } : step)),
    }
    const repaired = {
      ...link,
      path: link.path.flatMap((step, i) =>
        i === 0 && 'cable' in step
          ? [
              step,
              { node: 'a', joint: 'splice' as const },
              { ...step, cable: 'section' },
              { node: 'b', joint: 'splice' as const },
              step,
            ]
          : [step],
      ),
    }
    const plant = { ...one.records, links: [repaired, beside] }
    expect(linkOfFiber(plant, repaired, own + 1)).toEqual({ link: beside, recorded: true })
    expect([...recordedLinks(plant, repaired, [own, own + 1, own + 2])]).toEqual([
      [own, repaired],
      [own + 1, beside],
    ])
    const other = linkOfFiber(one.records, link, own + 1)
    expect(other.recorded).toBe(false)
    expect(other.link.path.filter(isCableStep).map(({ fiber }) => fiber)).toEqual(
      link.path.filter(isCableStep).map(() => own + 1),
    )
    expect(other.link.circuits).toEqual([])
  })
})
