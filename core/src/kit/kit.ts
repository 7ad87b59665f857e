import { CodedError } from '../errors/index.ts'
import type { Skill } from './kinds.ts'

export interface Person {
  id: string
  name: string
  skills: Skill[]
  /** People of a crew work at one place at a time. */
  crew: string
}

/** Things of one kind at one place. */
export interface KitItem {
  id: string
  /** One of {@link KIT_KINDS}, or the operator's own. */
  kind: string
  /** What tells it from others of its kind: maker's size, connector, fiber type. */
  name: string
  count: number
  /** Vehicle or store. */
  place: string
  /** What it fits: connectors and polishes (`LC/UPC`), fiber type, wavelengths in nm. Empty fits all. */
  fits: string[]
  /** Fibers it takes, for closures, trays and cable; null where that says nothing. */
  fibers: number | null
  /** Use so far and after how much it is due (matings of a cord, cleaves of a blade, arcs of electrodes). */
  wear: { used: number; due: number; unit: string } | null
  /** Day until which its calibration holds (ISO date); null where it needs none. */
  calibratedUntil: string | null
}

/** A time of the week that comes again, in local time. */
export interface RecurringTime {
  id: string
  /** IANA name. */
  zone: string
  /** 1 Monday to 7 Sunday: the day on which it begins. */
  weekdays: number[]
  /** `HH:mm` local; an end at or before the start is on the next day. */
  from: string
  to: string
}

/** A maintenance window: when links that carry traffic may be touched. */
export interface WindowRule extends RecurringTime {
  name: string
  traffic: 'light' | 'busy'
}

/** When a crew works. */
export interface ShiftRule extends RecurringTime {
  crew: string
}

/** When work may be done: by the operator's own rules. */
export interface WorkingHours {
  windows: WindowRule[]
  shifts: ShiftRule[]
  /** Hours of rest after a shift before a crew is called again; null where no rule is kept. */
  restHours: number | null
}

/** People and things at hand, and when they work. Unknown fields are kept. */
export interface Kit {
  format: 'cold-thread/kit'
  version: 1
  people: Person[]
  items: KitItem[]
  hours: WorkingHours
}

export const EMPTY_KIT: Kit = {
  format: 'cold-thread/kit',
  version: 1,
  people: [],
  items: [],
  hours: { windows: [], shifts: [], restHours: null },
}

/** A kit that contradicts itself: what, and where in it. */
export class KitError extends CodedError<'kit-refused'> {
  /** @param path in the kit, e.g. `hours.shifts[0].crew` */
  constructor(path: string, message: string) {
    super('kit-refused', `${path}: ${message}`, path)
  }
}

/**
 * Checks what a schema can't: ids that are unique, zones that exist, shifts of crews that exist.
 * @throws KitError naming the place
 */
export function checkKit({ people, items, hours }: Kit): void {
  const seen = new Set<string>()
  const unique = (id: string, path: string) => {
    if (seen.has(id)) throw new KitError(path, `the id "${id}" stands twice`)
    seen.add(id)
  }
  people.forEach(({ id }, k) => unique(id, `people[${k}].id`))
  items.forEach(({ id }, k) => unique(id, `items[${k}].id`))
  for (const list of ['windows', 'shifts'] as const)
    hours[list].forEach(({ id, zone }, k) => {
      unique(id, `hours.${list}[${k}].id`)
      if (!isZone(zone)) throw new KitError(`hours.${list}[${k}].zone`, `"${zone}" is no time zone`)
    })
  const crews = new Set(people.map(({ crew }) => crew))
  hours.shifts.forEach(({ crew }, k) => {
    if (!crews.has(crew)) throw new KitError(`hours.shifts[${k}].crew`, `nobody is of crew "${crew}"`)
  })
}

function isZone(zone: string): boolean {
  try {
    new Intl.DateTimeFormat('en', { timeZone: zone })
    return true
  } catch {
    return false
  }
}

/** What a thing must do: fit a connector or fiber type, hold so many fibers, be fit for use on a day (ISO date). */
export interface Demand {
  fit?: string | null
  fibers?: number | null
  today?: string | null
}

/** Things of a kind that do, those that are worn out or out of calibration left out. */
export function itemsOf(kit: Kit, kind: string, { fit = null, fibers = null, today = null }: Demand = {}): KitItem[] {
  return kit.items.filter(
    (item) =>
      item.kind === kind &&
      item.count > 0 &&
      (fit === null || item.fits.length === 0 || item.fits.includes(fit)) &&
      (fibers === null || item.fibers === null || item.fibers >= fibers) &&
      whyUnfit(item, today) === null,
  )
}

/** How many (or how many metres) there are that do. */
export function countOf(kit: Kit, kind: string, demand: Demand = {}): number {
  return itemsOf(kit, kind, demand).reduce((sum, { count }) => sum + count, 0)
}

/** Why a thing must not be used, null when it may. */
export function whyUnfit({ wear, calibratedUntil }: KitItem, today: string | null): string | null {
  if (wear && wear.used >= wear.due) return `due after ${wear.due} ${wear.unit}: ${wear.used} are used`
  if (calibratedUntil !== null && today !== null && calibratedUntil < today)
    return `calibration ran out on ${calibratedUntil}`
  return null
}

/** The crews there are, each with its people, in the order in which they stand in the kit. */
export function crewsOf({ people }: Kit): { name: string; people: Person[] }[] {
  const names = [...new Set(people.map(({ crew }) => crew))]
  return names.map((name) => ({ name, people: people.filter(({ crew }) => crew === name) }))
}
