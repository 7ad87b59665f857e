import { dequal } from 'dequal'
import type { Kit, KitItem, Person, ShiftRule, WindowRule } from './kit.ts'
import { kindName } from './kinds.ts'

/** Something that both sides changed, each its own way; null where a side took it out. */
export interface KitClash {
  /** List and id, as `items/i1`. */
  path: string
  mine: string | null
  theirs: string | null
}

/** Two kits made from one: what only one side changed stands; what both did is asked. */
export interface MergedKit {
  clashes: KitClash[]
  /** The kit, with what is to stand of each clash by its path. */
  settle(choices: ReadonlyMap<string, 'mine' | 'theirs'>): Kit
}

type Lists = { people: Person; items: KitItem; windows: WindowRule; shifts: ShiftRule }

const WORDS: { [List in keyof Lists]: (one: Lists[List]) => string } = {
  people: ({ name, crew, skills }) => `${name}, ${crew}: ${skills.join(', ') || 'no skill entered'}`,
  items: ({ kind, name, count, place, calibratedUntil, wear }) =>
    [
      `${count} × ${kindName(kind)} ${name}, ${place}`,
      ...(calibratedUntil === null ? [] : [`calibrated until ${calibratedUntil}`]),
      ...(wear === null ? [] : [`${wear.used} of ${wear.due} ${wear.unit} used`]),
    ].join('; '),
  windows: ({ name, from, to, zone, weekdays }) => `${name}, ${from} to ${to} ${zone}, days ${weekdays.join(' ')}`,
  shifts: ({ crew, from, to, zone, weekdays }) => `${crew}, ${from} to ${to} ${zone}, days ${weekdays.join(' ')}`,
}

interface Side<T> {
  base: T
  mine: T
  theirs: T
}

/** Which side's value stands; `both` where each changed it in its own way. */
function standing({ base, mine, theirs }: Side<unknown>): 'mine' | 'theirs' | 'both' {
  if (dequal(mine, theirs) || dequal(theirs, base)) return 'mine'
  return dequal(mine, base) ? 'theirs' : 'both'
}

/**
 * Merges two changes of one kit, record by record.
 * @param base what both began from
 */
export function mergeKit({ base, mine, theirs }: Side<Kit>): MergedKit {
  const clashes: KitClash[] = []
  const settlers: ((choices: ReadonlyMap<string, 'mine' | 'theirs'>, into: Record<string, unknown[]>) => void)[] = []
  const merge = <List extends keyof Lists>(list: List, of: (kit: Kit) => readonly Lists[List][]) => {
    const byId = (kit: Kit) => new Map(of(kit).map((one) => [one.id, one]))
    const [a, b, c] = [byId(base), byId(mine), byId(theirs)]
    for (const id of new Set([...c.keys(), ...b.keys()])) {
      const side = { base: a.get(id), mine: b.get(id), theirs: c.get(id) }
      const path = `${list}/${id}`
      const stands = standing(side)
      if (stands === 'both') {
        const words = (one: Lists[List] | undefined) => (one === undefined ? null : WORDS[list](one))
        clashes.push({ path, mine: words(side.mine), theirs: words(side.theirs) })
      }
      settlers.push((choices, into) => {
        const one = side[stands === 'both' ? (choices.get(path) ?? 'mine') : stands]
        if (one !== undefined) into[list]!.push(one)
      })
    }
  }
  merge('people', (kit) => kit.people)
  merge('items', (kit) => kit.items)
  merge('windows', (kit) => kit.hours.windows)
  merge('shifts', (kit) => kit.hours.shifts)
  const rest = { base: base.hours.restHours, mine: mine.hours.restHours, theirs: theirs.hours.restHours }
  const restStands = standing(rest)
  const inHours = (hours: number | null) => (hours === null ? 'no rest is kept' : `${hours} h of rest after a shift`)
  if (restStands === 'both') clashes.push({ path: 'restHours', mine: inHours(rest.mine), theirs: inHours(rest.theirs) })
  return {
    clashes,
    settle(choices) {
      const lists: Record<keyof Lists, unknown[]> = { people: [], items: [], windows: [], shifts: [] }
      for (const settle of settlers) settle(choices, lists)
      const restHours = rest[restStands === 'both' ? (choices.get('restHours') ?? 'mine') : restStands]
      const { people, items, windows, shifts } = lists as { [List in keyof Lists]: Lists[List][] }
      return { ...theirs, ...extrasOf(mine), people, items, hours: { ...theirs.hours, windows, shifts, restHours } }
    },
  }
}

/** Fields that are not ours are kept as this side has them. */
function extrasOf({ people: _people, items: _items, hours: _hours, ...extras }: Kit): Partial<Kit> {
  return extras
}
