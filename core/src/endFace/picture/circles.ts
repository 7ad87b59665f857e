import { median } from 'simple-statistics'
import { coarser } from './coarser.ts'
import type { Outline, Picture } from '../types.ts'

/** The picture is looked over at about so many pixels along its longer side. */
const OVERVIEW = 360
/** So many of its pixels, the steepest, are taken for edges. */
const EDGE_SHARE = 1 / 12

/** Edges of a picture that was made coarser: where they are, its pixels, and the direction in which the level rises. */
export interface Edges {
  width: number
  height: number
  /** So many of the picture's pixels to one of these, each way. */
  by: number
  at: { x: number; y: number; ux: number; uy: number; size: number }[]
}

/** The steepest pixels of a picture. */
export function edgesOf(picture: Picture): Edges {
  const by = Math.max(1, Math.round(Math.max(picture.width, picture.height) / OVERVIEW))
  const { width, height, data } = coarser(picture, by)
  const [across, down] = [new Float32Array(data.length), new Float32Array(data.length)]
  const sizes = new Float32Array(data.length)
  for (let y = 1; y < height - 1; y++)
    for (let x = 1; x < width - 1; x++) {
      const i = y * width + x
      const [above, below] = [i - width, i + width]
      // Sobel's operator.
      across[i] =
        data[above + 1]! + 2 * data[i + 1]! + data[below + 1]! - data[above - 1]! - 2 * data[i - 1]! - data[below - 1]!
      down[i] =
        data[below - 1]! + 2 * data[below]! + data[below + 1]! - data[above - 1]! - 2 * data[above]! - data[above + 1]!
      sizes[i] = Math.sqrt(across[i]! ** 2 + down[i]! ** 2)
    }
  const edges: Edges = { width, height, by, at: [] }
  if (data.length === 0) return edges
  const least = Math.max(1e-6, sizes.toSorted()[Math.floor((1 - EDGE_SHARE) * sizes.length)]!)
  for (let i = 0; i < data.length; i++) {
    const size = sizes[i]!
    if (size >= least)
      edges.at.push({ x: i % width, y: Math.floor(i / width), ux: across[i]! / size, uy: down[i]! / size, size })
  }
  return edges
}

/**
 * Where most edges point to: each votes along its own direction, so that all circles round one middle vote together.
 * @returns pixels of the picture
 */
export function likelyCenter({ width, height, by, at: edges }: Edges): { x: number; y: number } | null {
  if (width === 0 || height === 0) return null
  const votes = new Float32Array(width * height)
  const reach = 0.75 * Math.max(width, height)
  for (const edge of edges)
    for (const sign of [1, -1]) {
      const [ux, uy] = [sign * edge.ux, sign * edge.uy]
      let x = edge.x + 0.5 + 8 * ux
      let y = edge.y + 0.5 + 8 * uy
      for (let r = 8; r < reach && x >= 0 && y >= 0 && x < width && y < height; r++) {
        votes[Math.floor(y) * width + Math.floor(x)]!++
        x += ux
        y += uy
      }
    }
  // Votes of five by five pixels together: of five in a column first.
  const columns = new Float32Array(votes.length)
  for (let at = 2 * width; at < votes.length - 2 * width; at++)
    columns[at] = votes[at - 2 * width]! + votes[at - width]! + votes[at]! + votes[at + width]! + votes[at + 2 * width]!
  let [best, most] = [0, -1]
  for (let j = 2; j < height - 2; j++)
    for (let i = 2, at = j * width + 2; i < width - 2; i++, at++) {
      const sum = columns[at - 2]! + columns[at - 1]! + columns[at]! + columns[at + 1]! + columns[at + 2]!
      if (sum > most) [best, most] = [at, sum]
    }
  return { x: ((best % width) + 0.5) * by - 0.5, y: (Math.floor(best / width) + 0.5) * by - 0.5 }
}

/** Another fiber's middle is at least so many radii away: two of them can't lie in one another. */
const APART = 1.6
/** Directions from a middle; of them so many, and of those in the picture such a part, must show an edge that points to it. */
const WAYS = 48
const LEAST_WAYS = 9
const LEAST_PART = 0.5
/** An edge points to a middle within so much, as the cosine of the angle, and is so near to the circle, parts of its radius. */
const POINTS = 0.95
const ON_CIRCLE = 0.05
/** Its edge is at least so strong as the first one's. */
const ALIKE = 0.5

/** Whether the picture shows a second circle as large as the one that was found: another fiber. */
export function showsAnother({ width, height, by, at: edges }: Edges, outline: Outline): boolean {
  const radius = outline.radius / by
  const [ownX, ownY] = [(outline.x + 0.5) / by - 0.5, (outline.y + 0.5) / by - 0.5]
  // How far an edge is from pointing to a middle, and to which side it rises.
  const outward = ({ x, y, ux, uy }: Edges['at'][number], cx: number, cy: number) => {
    const r = Math.hypot(x - cx, y - cy)
    return Math.abs(r / radius - 1) > ON_CIRCLE ? 0 : ((x - cx) * ux + (y - cy) * uy) / r
  }
  const own = edges.filter((edge) => Math.abs(outward(edge, ownX, ownY)) >= POINTS)
  if (own.length < LEAST_WAYS) return false
  const sign = Math.sign(own.reduce((sum, edge) => sum + outward(edge, ownX, ownY), 0))
  const strength = median(own.map(({ size }) => size))
  // Another fiber's edge is like this one's; edges of the fiber itself are no others.
  const others = edges.filter(
    ({ x, y, size }) => size >= ALIKE * strength && Math.hypot(x - ownX, y - ownY) > 1.08 * radius,
  )
  const border = Math.ceil(radius)
  const cell = Math.max(2, Math.round(0.05 * radius))
  const columns = Math.ceil((width + 2 * border) / cell)
  const rows = Math.ceil((height + 2 * border) / cell)
  const votes = new Uint16Array(columns * rows)
  for (const { x, y, ux, uy } of others) {
    const [u, v] = [x - sign * radius * ux, y - sign * radius * uy]
    if (Math.hypot(u - ownX, v - ownY) < APART * radius) continue
    const [column, row] = [Math.floor((u + border) / cell), Math.floor((v + border) / cell)]
    if (column >= 0 && row >= 0 && column < columns && row < rows) votes[row * columns + column]!++
  }
  const likely = [...votes.keys()].sort((a, b) => votes[b]! - votes[a]!).slice(0, 6)
  return likely.some((at) => {
    const [x, y] = [((at % columns) + 0.5) * cell - border, (Math.floor(at / columns) + 0.5) * cell - border]
    const shown = new Set<number>()
    for (const edge of others)
      if (sign * outward(edge, x, y) >= POINTS)
        shown.add(Math.floor(((Math.atan2(edge.y - y, edge.x - x) + Math.PI) / (2 * Math.PI)) * WAYS) % WAYS)
    const inPicture = Array.from({ length: WAYS }, (_, k) => {
      const angle = ((k + 0.5) / WAYS) * 2 * Math.PI - Math.PI
      const [u, v] = [x + radius * Math.cos(angle), y + radius * Math.sin(angle)]
      return u > 1 && v > 1 && u < width - 2 && v < height - 2
    }).filter(Boolean).length
    return shown.size >= LEAST_WAYS && shown.size >= LEAST_PART * inPicture
  })
}
