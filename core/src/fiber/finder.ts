import { CodedError } from '../errors/index.ts'
import { colorInWords, colorOfPosition, isColorOrder, type ColoredPosition, type ColorOrder } from './colors.ts'

/**
 * How the fibers of a cable are grouped: loose in tubes or modules; in flat ribbons, stacked in tubes; in rollable ribbons,
 * held in bundles by two binder threads each.
 */
export type FiberGrouping = 'tubes' | 'ribbons in tubes' | 'ribbons in bundles'

/** What holds a group of fibers, as it is called in the trade. */
export type GroupWord = 'tube' | 'module' | 'bundle'

/** By the construction in the record, also one that is not described; tubes are the commonest. */
export function groupWord(construction: string): GroupWord {
  if (construction === 'ribbon') return 'tube'
  if (construction.includes('ribbon')) return 'bundle'
  return construction.includes('module') ? 'module' : 'tube'
}

/** Fibers to a ribbon. */
export const RIBBON = 12
/** Colour orders go to 24, with tracers. */
const MOST_GROUPS = 24

/** What the record says of a cable's fibers. */
export interface FiberRecord {
  construction: string
  fiberCount: number
  tubeSize: number
  colorOrder: string
}

/** Where a fiber lies in its cable. Numbers count from 1. */
export interface FiberPlace {
  fiber: number
  /** Tube, module or bundle, and which of them. */
  groupWord: GroupWord
  group: number
  /** Its colour; of a bundle, that of its binder threads. */
  groupColor: ColoredPosition
  /** Ribbon in the group; null where fibers lie loose. Rollable ribbons carry so many black ring marks. */
  ribbon: number | null
  /** Flat ribbons are coloured in the same order; null else. */
  ribbonColor: ColoredPosition | null
  /** In its ribbon, or in its tube where there is none. */
  position: number
  color: ColoredPosition
}

/** Whether the record is one that a fiber can be found by; else why not. */
export function whyNotFound({ fiberCount, tubeSize, colorOrder, ...record }: FiberRecord): string | null {
  if (!isColorOrder(colorOrder)) return `the colour order “${colorOrder}” of this cable is not known`
  const grouping = groupingOf({ fiberCount, tubeSize, colorOrder, ...record })
  if (grouping === null)
    return `how fibers are grouped in a cable of construction “${record.construction}” is not known: use the maker’s sheet`
  if (Math.ceil(fiberCount / tubeSize) > MOST_GROUPS)
    return `the record makes ${Math.ceil(fiberCount / tubeSize)} tubes or bundles of ${fiberCount} fibers: colours go to ${MOST_GROUPS}`
  if (grouping === 'tubes' && tubeSize > MOST_GROUPS)
    return `the record has ${tubeSize} fibers in a tube: colours go to ${MOST_GROUPS}`
  if (grouping !== 'tubes' && (tubeSize % RIBBON !== 0 || tubeSize > RIBBON * RIBBON))
    return `the record has ${tubeSize} fibers in a group, which is not 1 to ${RIBBON} ribbons of ${RIBBON}`
  return null
}

/** By the construction in the record; null for one that is not described. */
export function groupingOf({ construction }: FiberRecord): FiberGrouping | null {
  switch (construction) {
    case 'loose-tube':
    case 'micro-module':
      return 'tubes'
    case 'ribbon':
      return 'ribbons in tubes'
    case 'rollable-ribbon':
      return 'ribbons in bundles'
    default:
      return null
  }
}

/**
 * Where a fiber lies, by its number in the cable: tubes, ribbons and fibers follow each other in the cable's colour order
 * (TIA-598-D: tubes, binders and ribbons use the same one); the order of bundles by their binders, and the ring marks of
 * rollable ribbons, are common practice.
 * @throws CodedError outside the cable, or where the record can't be read
 */
export function placeOfFiber(record: FiberRecord, fiber: number): FiberPlace {
  const { order, grouping } = readable(record)
  const { fiberCount, tubeSize } = record
  if (!Number.isInteger(fiber) || fiber < 1 || fiber > fiberCount)
    throw new CodedError('out-of-range', `fiber ${fiber} is not 1 to ${fiberCount}`)
  const group = Math.floor((fiber - 1) / tubeSize) + 1
  const within = (fiber - 1) % tubeSize
  const ribbon = grouping === 'tubes' ? null : Math.floor(within / RIBBON) + 1
  const position = (ribbon === null ? within : within % RIBBON) + 1
  return {
    fiber,
    groupWord: groupWord(record.construction),
    group,
    groupColor: colorOfPosition(group, order),
    ribbon,
    ribbonColor: grouping === 'ribbons in tubes' ? colorOfPosition(ribbon!, order) : null,
    position,
    color: colorOfPosition(position, order),
  }
}

/**
 * Number in the cable of the fiber at a place.
 * @throws CodedError where the cable has no such place, naming what it has
 */
export function fiberAtPlace(
  record: FiberRecord,
  { group, ribbon, position }: Pick<FiberPlace, 'group' | 'ribbon' | 'position'>,
): number {
  const { grouping } = readable(record)
  const { fiberCount, tubeSize } = record
  const within = (name: string, value: number, most: number) => {
    if (!Number.isInteger(value) || value < 1 || value > most)
      throw new CodedError('out-of-range', `${name} ${value} is not 1 to ${most}`)
  }
  within(groupWord(record.construction), group, Math.ceil(fiberCount / tubeSize))
  if (grouping === 'tubes') within('fiber', position, tubeSize)
  else {
    within('ribbon', ribbon ?? NaN, tubeSize / RIBBON)
    within('fiber', position, RIBBON)
  }
  const fiber = (group - 1) * tubeSize + (grouping === 'tubes' ? 0 : (ribbon! - 1) * RIBBON) + position
  if (fiber > fiberCount)
    throw new CodedError('out-of-range', `the cable ends at fiber ${fiberCount}: this would be ${fiber}`)
  return fiber
}

function readable(record: FiberRecord): { order: ColorOrder; grouping: FiberGrouping } {
  const why = whyNotFound(record)
  if (why !== null) throw new CodedError('out-of-range', why)
  return { order: record.colorOrder as ColorOrder, grouping: groupingOf(record)! }
}

/** Where a fiber lies, in one line: “tube 2 orange, fiber 5 slate”, “bundle 7 red, ribbon 12 (12 ring marks), fiber 4 brown”. */
export function placeInWords({
  groupWord,
  group,
  groupColor,
  ribbon,
  ribbonColor,
  position,
  color,
}: FiberPlace): string {
  const first = `${groupWord} ${group} ${colorInWords(groupColor)}`
  const marks = ribbon === 1 ? '1 ring mark' : `${ribbon} ring marks`
  const second =
    ribbon === null
      ? []
      : [ribbonColor === null ? `ribbon ${ribbon} (${marks})` : `ribbon ${ribbon} ${colorInWords(ribbonColor)}`]
  return [first, ...second, `fiber ${position} ${colorInWords(color)}`].join(', ')
}
