import type { Direction } from '@cold-thread/core/plant'

/** A stored trace as a job gets it. */
export interface StoredShot {
  name: string
  direction: Direction
  launch: number | null
  receive: number | null
  content: Uint8Array
}

/** A stretch of a trace, m and dB. */
export interface OutlinePoint {
  distance: number
  least: number
  most: number
}
