import type { Kit } from './kit.ts'

/** So much more use of a thing, or a new begin of its count. */
export interface Use {
  item: string
  count: number
  /** The worn part was replaced before these: the count begins with them. */
  anew: boolean
}

/** The kit with use counted on its things; a thing that is not there, or whose wear is not counted, is left out. */
export function withUse(kit: Kit, uses: readonly Use[]): Kit {
  return {
    ...kit,
    items: kit.items.map((item) => {
      const own = uses.filter((use) => use.item === item.id)
      if (!item.wear || own.length === 0) return item
      const used = own.reduce((sum, { count, anew }) => (anew ? count : sum + count), item.wear.used)
      return { ...item, wear: { ...item.wear, used } }
    }),
  }
}
