import type { Unit } from './unit.ts'

/** A need with the units that can fill it. */
export interface Choice {
  k: number
  units: readonly Unit[]
}

/** A different free unit for each need, by augmenting paths; null when there are not enough. */
export function assign(choices: readonly Choice[], isFree: (unit: Unit) => boolean): string[] | null {
  const takenBy = new Map<string, Choice>()
  const place = (choice: Choice, tried: Set<string>): boolean => {
    for (const unit of choice.units) {
      if (tried.has(unit.id) || !isFree(unit)) continue
      tried.add(unit.id)
      const holder = takenBy.get(unit.id)
      if (holder && !place(holder, tried)) continue
      takenBy.set(unit.id, choice)
      return true
    }
    return false
  }
  for (const choice of choices) if (!place(choice, new Set())) return null
  const out = new Array<string>(choices.length)
  for (const [id, choice] of takenBy) out[choice.k] = id
  return out
}
