import { groupWord } from '../../fiber/index.ts'
import type { Cable } from '../../plant/types.ts'
import type { ClosureModel } from './closureModel.ts'
import type { RecordedSplice } from './closureRecord.ts'

/** A tube, module or bundle of a cable. */
export interface CableGroup {
  cable: string
  group: number
}

/** What is laid on a tray as one: two groups that meet, with their splices. */
export interface TrayUnit {
  /** Same for the same groups each time. */
  id: string
  a: CableGroup
  b: CableGroup
  splices: number
}

/** A tray with the units on it. */
export interface TrayUse {
  tray: number
  units: readonly string[]
}

export interface TrayState {
  tray: number
  units: TrayUnit[]
  splices: number
  /** Null where the closure's sheet has no figure. */
  capacity: number | null
  left: number | null
  conflicts: string[]
}

/** Splices of a closure, gathered by the groups that meet. @param cables all that the splices name */
export function trayUnits(splices: readonly RecordedSplice[], cables: readonly Cable[]): TrayUnit[] {
  const groupOf = ({ cable, fiber }: { cable: string; fiber: number }): CableGroup => {
    const { tubeSize } = cables.find(({ id }) => id === cable)!
    return { cable, group: Math.ceil(fiber / tubeSize) }
  }
  const units = new Map<string, TrayUnit>()
  for (const { a, b } of splices) {
    const ends = [groupOf(a), groupOf(b)].sort((x, y) => x.cable.localeCompare(y.cable) || x.group - y.group)
    const id = ends.map(({ cable, group }) => `${cable}#${group}`).join('+')
    const unit = units.get(id)
    if (unit) unit.splices++
    else units.set(id, { id, a: ends[0]!, b: ends[1]!, splices: 1 })
  }
  return [...units.values()].sort((x, y) => x.a.cable.localeCompare(y.a.cable) || x.a.group - y.a.group)
}

/** Units to trays in their order, a tube whole to one tray, no tray over its capacity; what finds no room stays off. */
export function suggestTrays(model: ClosureModel, units: readonly TrayUnit[]): TrayUse[] {
  const trays = model.trays
  if (!trays) return []
  const out = Array.from({ length: trays.count }, (_, i) => ({ tray: i + 1, units: [] as string[] }))
  const at = (use: { units: string[] }) => use.units.map((id) => units.find((unit) => unit.id === id)!)
  for (const unit of units) {
    const sharing = out.find((use) => at(use).some((other) => shareGroup(other, unit)))
    const room = (use: { units: string[] }) => {
      const inside = [...at(use), unit]
      return sum(inside) <= trays.splices && groupsIn(inside) <= trays.groups
    }
    const tray = sharing ? (room(sharing) ? sharing : undefined) : out.find(room)
    tray?.units.push(unit.id)
  }
  return out
}

/** A splice in its place on a tray. */
export interface SplicePosition extends RecordedSplice {
  /** Counted from 1. */
  position: number
}

/** Which splice lies where: units after each other, fibers in their order. */
export function splicePositions(
  units: readonly TrayUnit[],
  splices: readonly RecordedSplice[],
  cables: readonly Cable[],
): SplicePosition[] {
  const ordered = units.flatMap((unit) =>
    splices
      .filter((splice) => trayUnits([splice], cables)[0]!.id === unit.id)
      .map((splice) => (splice.a.cable === unit.a.cable ? splice : { ...splice, a: splice.b, b: splice.a }))
      .sort((x, y) => x.a.fiber - y.a.fiber),
  )
  return ordered.map((splice, i) => ({ ...splice, position: i + 1 }))
}

const sum = (units: readonly TrayUnit[]) => units.reduce((total, { splices }) => total + splices, 0)
const key = ({ cable, group }: CableGroup) => `${cable}#${group}`
const groupsIn = (units: readonly TrayUnit[]) => new Set(units.flatMap(({ a, b }) => [key(a), key(b)])).size

function shareGroup(x: TrayUnit, y: TrayUnit): boolean {
  const keys = new Set([key(x.a), key(x.b)])
  return keys.has(key(y.a)) || keys.has(key(y.b))
}

/** Each tray with what is on it, the room left, and what is wrong. */
export function trayStates(
  model: ClosureModel,
  uses: readonly TrayUse[],
  units: readonly TrayUnit[],
  cables: readonly Pick<Cable, 'id' | 'construction'>[],
): { trays: TrayState[]; off: TrayUnit[] } {
  const trays = uses.map((use): TrayState => {
    const inside = use.units.flatMap((id) => units.find((unit) => unit.id === id) ?? [])
    const capacity = model.trays?.splices ?? null
    const splices = sum(inside)
    const conflicts: string[] = []
    if (capacity !== null && splices > capacity)
      conflicts.push(`the tray is full: ${splices} splices, it holds ${capacity}`)
    const groups = groupsIn(inside)
    if (model.trays && groups > model.trays.groups)
      conflicts.push(`${groups} tubes come in, it takes ${model.trays.groups}`)
    for (const other of uses) {
      if (other.tray === use.tray) continue
      const split = other.units.flatMap((id) => units.find((unit) => unit.id === id) ?? [])
      const shared = new Set(
        inside
          .flatMap(({ a, b }) => [key(a), key(b)])
          .filter((one) => split.some(({ a, b }) => key(a) === one || key(b) === one)),
      )
      for (const one of shared) conflicts.push(splitInWords(one, other.tray, cables))
    }
    return {
      tray: use.tray,
      units: inside,
      splices,
      capacity,
      left: capacity === null ? null : capacity - splices,
      conflicts,
    }
  })
  const on = new Set(uses.flatMap(({ units: ids }) => ids))
  return { trays, off: units.filter(({ id }) => !on.has(id)) }
}

function splitInWords(group: string, tray: number, cables: readonly Pick<Cable, 'id' | 'construction'>[]): string {
  const [id, number] = group.split('#') as [string, string]
  const word = groupWord(cables.find((cable) => cable.id === id)?.construction ?? '')
  return `${word} ${number} of ${id} is on tray ${tray} too: a ${word} goes to one tray`
}
