import { fiberKind } from '../fiber/fiberKind.ts'
import { buildThread } from '../plant/thread.ts'
import type { Link, PlantBundle } from '../plant/types.ts'
import { pairsCounted, type ReferenceMethod } from './reference.ts'
import type { Limit } from '../ruleBook/rules.ts'

const TIA = 'TIA-568.3-D'
/** A mated pair and a splice, dB. */
export const PAIR_LIMIT: Limit = { value: 0.75, source: TIA }
export const SPLICE_LIMIT: Limit = { value: 0.3, source: TIA }
/** Single-mode outside plant, dB/km, at 1310 and 1550 nm; between and beside them the same is taken (judgement). */
const SINGLE_MODE: Limit = { value: 0.5, source: TIA }
const SINGLE_MODE_RANGE = [1260, 1625] as const
/** Multimode, dB/km: at 850 nm by class, at 1300 nm all alike. */
const MULTIMODE = { '850': { older: 3.5, newer: 3.0 }, '1300': { older: 1.5, newer: 1.5 } } as const

/** Attenuation that a budget allows fiber of a record's type, dB/km; null where no limit is here. */
export function attenuationAllowed(fiberType: string, wavelength: number): Limit | null {
  if (fiberKind(fiberType) === 'single-mode')
    return wavelength >= SINGLE_MODE_RANGE[0] && wavelength <= SINGLE_MODE_RANGE[1] ? SINGLE_MODE : null
  const window = MULTIMODE[String(wavelength) as keyof typeof MULTIMODE]
  if (!window) return null
  return { value: /^OM[345]/i.test(fiberType.trim()) ? window.newer : window.older, source: TIA }
}

/** One line of a budget: so many of something, each with its limit. */
export interface BudgetPart {
  what: string
  count: number
  each: number
  total: number
  source: string
}

export interface LossBudget {
  /** dB; null where a limit is missing: then nothing is judged by it. */
  allowed: number | null
  parts: BudgetPart[]
  /** Why there is none. */
  missing: string | null
}

/**
 * What a link may lose: length × coefficient + pairs × pair limit + splices × splice limit. Which pairs count depends on how
 * the reference was set.
 * @param moreSplices that a repair adds
 * @throws CodedError for a link that the plant does not have, or with fewer pairs than the reference holds
 */
export function lossBudget(
  plant: PlantBundle,
  link: Link,
  wavelength: number,
  method: ReferenceMethod = 'one-cord',
  moreSplices = 0,
): LossBudget {
  const thread = buildThread(plant, link.id)
  const lengths = new Map<string, number>()
  for (const { cable, fiberFrom, fiberTo } of thread.pieces)
    lengths.set(cable, (lengths.get(cable) ?? 0) + Math.abs(fiberTo - fiberFrom) / 1000)
  const count = (...joints: string[]) => thread.nodes.filter(({ joint }) => joints.includes(joint)).length
  const parts: BudgetPart[] = []
  for (const [id, kilometres] of lengths) {
    const type = thread.cables.get(id)!.fiberType
    const limit = attenuationAllowed(type, wavelength)
    if (!limit) return { allowed: null, parts: [], missing: `no limit is here for ${type} at ${wavelength} nm` }
    parts.push(part(`km of ${id}`, kilometres, limit))
  }
  parts.push(part('mated pairs', pairsCounted(method, count('connector')), PAIR_LIMIT))
  parts.push(part('splices', count('splice', 'mechanical') + moreSplices, SPLICE_LIMIT))
  return { allowed: parts.reduce((sum, { total }) => sum + total, 0), parts, missing: null }
}

function part(what: string, count: number, { value, source }: Limit): BudgetPart {
  return { what, count, each: value, total: count * value, source }
}
