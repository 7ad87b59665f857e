import type { Kit, KitItem, Skill } from '../src/kit/index.ts'
import { KIT_KINDS, SKILLS } from '../src/kit/index.ts'

/** One crew of two who can do everything, and plenty of everything; `without` leaves kinds out. */
export function fullKit(without: readonly string[] = [], crews = 1): Kit {
  const items = KIT_KINDS.filter(({ kind }) => !without.includes(kind)).map(({ kind }): KitItem => ({
    id: kind,
    kind,
    name: `a ${kind}`,
    count: 300,
    place: 'van',
    fits: [],
    fibers: null,
    wear: null,
    calibratedUntil: null,
  }))
  const people = Array.from({ length: 2 * crews }, (_, k) => ({
    id: `p${k + 1}`,
    name: `Person ${k + 1}`,
    crew: `crew ${Math.ceil((k + 1) / 2)}`,
    skills: [...SKILLS] as Skill[],
  }))
  return { format: 'cold-thread/kit', version: 1, people, items, hours: { windows: [], shifts: [], restHours: null } }
}
