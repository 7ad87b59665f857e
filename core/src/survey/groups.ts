import { colorInWords, colorOfPosition, isColorOrder } from '../fiber/colors.ts'
import { groupWord, type GroupWord } from '../fiber/finder.ts'
import type { Cable } from '../plant/types.ts'

/** A tube, bundle or ribbon of a cable with its fibers. */
export interface FiberGroup {
  /** From 1. */
  number: number
  /** What the cable's construction calls it. */
  word: GroupWord
  /** Its colour in words, as in “black with yellow tracer”; null beyond the colour order, and for a bundle, whose threads are in the
   * cable's own record. */
  color: string | null
  /** First and last fiber, numbers in the cable. */
  first: number
  last: number
}

/** The groups of a cable in order. */
export function groupsOf(cable: Pick<Cable, 'fiberCount' | 'tubeSize' | 'construction' | 'colorOrder'>): FiberGroup[] {
  const size = Math.max(1, Math.min(cable.tubeSize, cable.fiberCount))
  const word = groupWord(cable.construction)
  return Array.from({ length: Math.ceil(cable.fiberCount / size) }, (_, k) => ({
    number: k + 1,
    word,
    color: word === 'bundle' ? null : colorOfGroup(k + 1, cable.colorOrder),
    first: k * size + 1,
    last: Math.min(cable.fiberCount, (k + 1) * size),
  }))
}

function colorOfGroup(position: number, order: string): string | null {
  return isColorOrder(order) && position <= 24 ? colorInWords(colorOfPosition(position, order)) : null
}
