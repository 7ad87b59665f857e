import type { Feature } from '../types.ts'

/** Ends of a line, µm from the center. */
export type Ends = readonly [number, number, number, number]

/** What lies so far beside a line is of it, µm (judgement). */
export const BESIDE = 4

/** How far a line's far side is from the center. */
function distancesOf([x1, y1, x2, y2]: Ends): { inner: number; outer: number } {
  const [dx, dy] = [x2 - x1, y2 - y1]
  const t = Math.max(0, Math.min(1, -(x1 * dx + y1 * dy) / (dx * dx + dy * dy)))
  return {
    inner: Math.hypot(x1 + t * dx, y1 + t * dy),
    outer: Math.max(Math.hypot(x1, y1), Math.hypot(x2, y2)),
  }
}

/** A scratch by its ends. */
export function scratchOf(ends: Ends, size: number, contrast: number): Feature {
  const { inner, outer } = distancesOf(ends)
  const [x1, y1, x2, y2] = ends
  return {
    kind: 'scratch',
    size,
    inner: Math.max(0, inner - size / 2),
    outer,
    x: (x1 + x2) / 2,
    y: (y1 + y2) / 2,
    ends,
    contrast,
    cut: false,
  }
}

/** Adds a scratch to others, or to the one that it is a piece of. */
export function addPiece(scratches: Feature[], scratch: Feature): void {
  const other = scratches.findIndex((one) => goOn(one, scratch))
  if (other >= 0) scratches[other] = joined(scratches[other]!, scratch)
  else scratches.push(scratch)
}

/** Pieces of one line lie so nearly in it, radians and µm (judgement). */
const STRAIGHT = 0.07
const IN_LINE = 3
/** A scratch that crosses hides so much of another at most, µm (judgement). */
const HIDDEN = 12

/** Whether two scratches are pieces of one, on either side of where another crosses it. */
function goOn(a: Feature, b: Feature): boolean {
  if (Math.sign(a.contrast) !== Math.sign(b.contrast)) return false
  const [x1, y1, x2, y2] = a.ends!
  const [u1, v1, u2, v2] = b.ends!
  const length = Math.hypot(x2 - x1, y2 - y1)
  const [ux, uy] = [(x2 - x1) / length, (y2 - y1) / length]
  const sides = [(u1 - x1) * uy - (v1 - y1) * ux, (u2 - x1) * uy - (v2 - y1) * ux]
  const along = [(u1 - x1) * ux + (v1 - y1) * uy, (u2 - x1) * ux + (v2 - y1) * uy]
  const gap = Math.max(Math.min(...along) - length, -Math.max(...along))
  return turnBetween(a.ends!, b.ends!) < STRAIGHT && Math.min(...sides.map(Math.abs)) < IN_LINE && gap < HIDDEN
}

/** The angle between two lines, radians. */
function turnBetween([x1, y1, x2, y2]: Ends, [u1, v1, u2, v2]: Ends): number {
  const across = Math.abs((x2 - x1) * (v2 - v1) - (y2 - y1) * (u2 - u1))
  return Math.asin(Math.min(1, across / (Math.hypot(x2 - x1, y2 - y1) * Math.hypot(u2 - u1, v2 - v1))))
}

/** Two pieces as one scratch: as wide as the longer one, and as long as both reach. */
function joined(a: Feature, b: Feature): Feature {
  const lengthOf = ({ ends }: Feature) => Math.hypot(ends![2] - ends![0], ends![3] - ends![1])
  const [longer, other] = lengthOf(a) >= lengthOf(b) ? [a, b] : [b, a]
  const [x1, y1, x2, y2] = longer.ends!
  const length = lengthOf(longer)
  const [ux, uy] = [(x2 - x1) / length, (y2 - y1) / length]
  const along = (x: number, y: number) => (x - x1) * ux + (y - y1) * uy
  const [u1, v1, u2, v2] = other.ends!
  const reached = [0, length, along(u1, v1), along(u2, v2)]
  const [first, last] = [Math.min(...reached), Math.max(...reached)]
  return scratchOf([x1 + ux * first, y1 + uy * first, x1 + ux * last, y1 + uy * last], longer.size, longer.contrast)
}

/** Lines that turn by less than this run along each other, radians (judgement). */
const ALONG = 0.35
/** So far beside a scratch its flank may still show, µm (judgement). */
const FLANK = 2.5

/** Scratches but those that lie along a stronger one: found twice. */
export function withoutEchoes(lines: readonly Feature[]): Feature[] {
  const strength = ({ contrast, size, ends }: Feature) => {
    const [x1, y1, x2, y2] = ends!
    return Math.min(1, Math.abs(contrast)) * size * Math.hypot(x2 - x1, y2 - y1)
  }
  const kept: Feature[] = []
  for (const line of [...lines].sort((a, b) => strength(b) - strength(a))) {
    const [x1, y1, x2, y2] = line.ends!
    const places = Array.from({ length: 20 }, (_, i) => {
      const s = (i + 0.5) / 20
      return [x1 + s * (x2 - x1), y1 + s * (y2 - y1)] as const
    })
    const along = kept.filter((other) => turnBetween(other.ends!, line.ends!) < ALONG)
    const beside = places.filter(([x, y]) =>
      along.some(({ ends, size }) => offLine(ends!, x, y) <= Math.max(BESIDE, size / 2 + FLANK)),
    )
    if (beside.length <= places.length / 2) kept.push(line)
  }
  return kept
}

/** How far a place is from a line's piece, µm. */
export function offLine([x1, y1, x2, y2]: Ends, x: number, y: number): number {
  const [dx, dy] = [x2 - x1, y2 - y1]
  const s = Math.max(0, Math.min(1, ((x - x1) * dx + (y - y1) * dy) / (dx * dx + dy * dy)))
  return Math.hypot(x - x1 - s * dx, y - y1 - s * dy)
}
