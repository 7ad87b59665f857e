import { crewsOf, itemsOf, KIT_KINDS, type Kit } from '../../kit/index.ts'
import { PlanError } from '../schedule/network.ts'
import type { Unit } from '../schedule/unit.ts'

/** What is compared: who works with what. */
export interface Scenario {
  /** Crews that work at a time. */
  crews: 1 | 2
  /** Splicers taken along, those of the kit first, then rented ones. */
  splicers: number
  /** Ribbons at once, where the cable has ribbons and a ribbon splicer is there. */
  ribbon: boolean
  /** A new section is hauled from both ends at once. */
  haulFromBothEnds: boolean
}

export const FIRST_SCENARIO: Scenario = { crews: 1, splicers: 1, ribbon: false, haulFromBothEnds: false }

/** Tools that work like people: one task at a time each. Parts and consumables are counted, not scheduled. */
const SCHEDULED = new Set(
  KIT_KINDS.filter(({ group }) => ['instrument', 'tool', 'access'].includes(group)).map(({ kind }) => kind),
)

/** No plan uses more of one tool at a time. */
const MOST_OF_A_TOOL = 6

/**
 * People and tools as the schedule takes them. A unit of crew k can also do what is asked of that crew alone; a splicer
 * brings an oven of its own.
 * @throws PlanError when there are fewer crews than asked for
 */
export function unitsOf(kit: Kit, { crews, splicers, ribbon }: Scenario, today: string | null = null): Unit[] {
  const teams = crewsOf(kit).slice(0, crews)
  if (teams.length < crews)
    throw new PlanError(
      'nobody-can',
      teams.length === 0
        ? 'nobody is in the kit: enter the people with their skills'
        : `the kit has ${teams.length} crew, the plan asks for ${crews}`,
    )
  const units: Unit[] = teams.flatMap(({ people }, k) =>
    people.map(({ id, skills }) => unit(`person/${id}`, skills, k + 1)),
  )
  const splicerKind = ribbon ? 'ribbon splicer' : 'splicer'
  for (let k = 0; k < splicers; k++) {
    const crew = (k % crews) + 1
    units.push(unit(`splicer/${k + 1}`, ['splicer', splicerKind], crew), unit(`splicer oven/${k + 1}`, ['oven'], crew))
  }
  for (const kind of new Set(kit.items.map((item) => item.kind)))
    if (SCHEDULED.has(kind) && kind !== 'splicer' && kind !== 'ribbon splicer')
      itemsOf(kit, kind, { today }).forEach((item) => {
        for (let k = 0; k < Math.min(item.count, MOST_OF_A_TOOL); k++)
          units.push(unit(`${item.id}/${k + 1}`, [kind], (k % crews) + 1))
      })
  return units
}

function unit(id: string, can: readonly string[], crew: number): Unit {
  return { id, can: [...can, ...can.map((what) => `${crew}:${what}`)] }
}
