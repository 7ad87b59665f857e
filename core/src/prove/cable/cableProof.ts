import { groupsOf, type FiberGroup } from '../../survey/groups.ts'
import { isCableStep } from '../../plant/check.ts'
import type { Cable, Link, PlantBundle } from '../../plant/types.ts'
import { amongNeighbours } from '../../lossTest/neighbours.ts'
import type { Proof, ProofEvent, Verdict } from '../verdict/proof.ts'
import { totalHolds } from '../verdict/judgeTotal.ts'
import type { Holds } from '../../ruleBook/rules.ts'

/** The joint of a fiber that is nearest to its limit, or furthest beyond it. */
export interface WorstJoint {
  place: string
  chainage: number
  was: number | null
  is: number
  allowed: number
  holds: Holds
}

/** One fiber at one wavelength, before and after; losses in dB. */
export interface FiberTotal {
  wavelength: number
  before: number | null
  after: number | null
  afterSigma: number | null
  /** After less before; null without a baseline. */
  change: number | null
  allowed: number | null
  /** Of the total and all joints together. */
  holds: Holds
  worst: WorstJoint | null
  /** Median of the other fibers of its tube, where it stands off them; else null. */
  standsOff: number | null
}

/** What is known of one fiber of a cable after the repair. */
export interface FiberProof {
  /** Number in the cable, from 1. */
  fiber: number
  /** The link that it carries; null where the record knows none. */
  link: string | null
  verdict: Verdict
  reasons: string[]
  next: string[]
  totals: FiberTotal[]
}

/** All fibers of a cable that were shot after the repair. */
export interface CableProof {
  cable: string
  groups: FiberGroup[]
  fibers: FiberProof[]
  /** Fibers that were not shot. */
  missing: number[]
}

/** Fibers of the cable that were shot beside a callout's link. */
export interface OtherFibers {
  cable: string
  shot: number
  /** Whether all of them are judged. */
  judged: boolean
  notRestored: readonly number[]
  cannotTell: readonly number[]
}

const ORDER: readonly Holds[] = ['no', 'close', 'unknown', 'yes']

/** Cables that a link runs in, one after the other; a joint within a cable changes nothing. */
function wayOf({ path }: Link): string {
  const cables = path.filter(isCableStep).map(({ cable }) => cable)
  return cables.filter((cable, i) => cable !== cables[i - 1]).join(' ')
}

/**
 * The link that a fiber of the cable carries along the path of another one; where the record knows none, one that is like it
 * in all but its fiber. @returns it, and whether it is on record
 */
export function linkOfFiber(plant: PlantBundle, link: Link, fiber: number): { link: Link; recorded: boolean } {
  const first = link.path.find(isCableStep)?.cable
  const along = wayOf(link)
  const own = plant.links.find((one) => {
    const step = one.path.find(isCableStep)
    if (step?.fiber !== fiber || step.cable !== first) return false
    return wayOf(one) === along || (one.from === link.from && one.to === link.to)
  })
  if (own) return { link: own, recorded: true }
  const alike = {
    ...link,
    id: `${link.id} fiber ${fiber}`,
    name: `fiber ${fiber}`,
    circuits: [],
    path: link.path.map((step) => (isCableStep(step) ? { ...step, fiber } : step)),
  }
  return { link: alike, recorded: false }
}

/** Links on record that fibers carry along the path of another one, by fiber. */
export function recordedLinks(plant: PlantBundle, link: Link, fibers: Iterable<number>): Map<number, Link> {
  return new Map(
    [...fibers].flatMap((fiber): [number, Link][] => {
      const own = linkOfFiber(plant, link, fiber)
      return own.recorded ? [[fiber, own.link]] : []
    }),
  )
}

/** A fiber's proof in what a table of many can show. */
export function fiberProofOf(fiber: number, link: string | null, proof: Proof): FiberProof {
  const totals = Object.entries(proof.total).map(([key, figures]): FiberTotal => {
    const { before, after, afterSigma, allowed } = figures
    const wavelength = Number(key)
    const events = proof.events.filter((event) => event.wavelength === wavelength)
    const total = totalHolds(figures)
    const held = [total, ...events.map(({ holds }) => holds)]
    return {
      wavelength,
      before,
      after,
      afterSigma,
      change: before === null || after === null ? null : after - before,
      allowed,
      holds: ORDER.find((word) => held.includes(word) && (word !== 'unknown' || total === 'unknown')) ?? 'unknown',
      worst: worstOf(events),
      standsOff: null,
    }
  })
  return { fiber, link, verdict: proof.verdict, reasons: proof.reasons, next: proof.next, totals }
}

/** Of joints that were measured, the one with the least left to its limit. */
function worstOf(events: readonly ProofEvent[]): WorstJoint | null {
  const measured = events.flatMap(({ place, chainage, lossBefore, lossAfter, limit, holds }) =>
    lossAfter === null ? [] : [{ place, chainage, was: lossBefore, is: lossAfter, allowed: limit, holds }],
  )
  return measured.sort((a, b) => b.is - b.allowed - (a.is - a.allowed))[0] ?? null
}

/**
 * All fibers of a cable together: each against its own limits, and against the others of its tube. One that stands off them is
 * remarked on though it is within its limits.
 */
export function proveCable(cable: Cable, proofs: readonly FiberProof[]): CableProof {
  const groups = groupsOf(cable)
  const shot = new Set(proofs.map(({ fiber }) => fiber))
  const fibers = proofs.map((proof) => {
    const { first, last } = groups.find((group) => proof.fiber >= group.first && proof.fiber <= group.last)!
    const others = proofs.filter((one) => one !== proof && one.fiber >= first && one.fiber <= last)
    return againstNeighbours(proof, others)
  })
  return {
    cable: cable.id,
    groups,
    fibers: fibers.sort((a, b) => a.fiber - b.fiber),
    missing: Array.from({ length: cable.fiberCount }, (_, k) => k + 1).filter((fiber) => !shot.has(fiber)),
  }
}

function againstNeighbours(proof: FiberProof, others: readonly FiberProof[]): FiberProof {
  const reasons: string[] = []
  const totals = proof.totals.map((total): FiberTotal => {
    if (total.after === null) return total
    const theirs = others.flatMap(({ totals }) => {
      const same = totals.find(({ wavelength }) => wavelength === total.wavelength)
      return same?.after == null ? [] : [same.after]
    })
    const found = amongNeighbours(total.after, theirs, total.afterSigma ?? 0)
    if (!found?.stands) return total
    reasons.push(
      `the total at ${total.wavelength} nm is ${total.after.toFixed(2)} dB, its neighbours’ in the tube ${found.middle.toFixed(2)} dB in the middle`,
    )
    return { ...total, standsOff: found.middle }
  })
  if (reasons.length === 0) return proof
  const restored = proof.verdict === 'restored'
  return {
    ...proof,
    verdict: restored ? 'restored-with-remarks' : proof.verdict,
    reasons: restored ? reasons : [...proof.reasons, ...reasons],
    next: proof.next.length > 0 ? proof.next : ['look at this fiber’s joints and connectors: the others do better'],
    totals,
  }
}
