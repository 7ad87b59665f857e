import type { GroundMap } from '@cold-thread/core/locate'

/** Value of a polyline (xs rising) at x, straight on beyond its ends. */
export function interpolate(xs: readonly number[], ys: readonly number[], x: number): number {
  let low = 0
  let high = xs.length - 1
  while (high - low > 1) {
    const middle = (low + high) >> 1
    if (xs[middle]! <= x) low = middle
    else high = middle
  }
  const width = xs[high]! - xs[low]!
  return width > 0 ? ys[low]! + ((x - xs[low]!) / width) * (ys[high]! - ys[low]!) : ys[low]!
}

/** Ground of a trace distance. */
export function groundOf(map: GroundMap, distance: number): number {
  return interpolate(map.distance, map.ground, distance)
}

/** Trace distance of a place on the ground; in a coil, where the ground stands still, its beginning. */
export function distanceOfGround(map: GroundMap, ground: number): number {
  const { xs, ys } = risingGround(map)
  return interpolate(xs, ys, ground)
}

/** As {@link distanceOfGround}, for places that follow each other along the ground: keeps its corner in mind. */
export function distanceAlongGround(map: GroundMap): (ground: number) => number {
  const { xs, ys } = risingGround(map)
  let corner = 0
  let slope = NaN
  return (ground) => {
    const before = corner
    while (corner + 2 < xs.length && xs[corner + 1]! <= ground) corner++
    while (corner > 0 && xs[corner]! > ground) corner--
    if (corner !== before || Number.isNaN(slope)) {
      const width = xs[corner + 1]! - xs[corner]!
      slope = width > 0 ? (ys[corner + 1]! - ys[corner]!) / width : 0
    }
    return ys[corner]! + (ground - xs[corner]!) * slope
  }
}

interface Corners {
  xs: readonly number[]
  ys: readonly number[]
}

/** A map is asked at every pixel of every frame: it is turned round once. */
const turned = new WeakMap<GroundMap, Corners>()

function risingGround(map: GroundMap): Corners {
  const known = turned.get(map)
  if (known) return known
  const rising = map.ground.at(-1)! > map.ground[0]!
  const corners = rising
    ? { xs: map.ground, ys: map.distance }
    : { xs: map.ground.toReversed(), ys: map.distance.toReversed() }
  turned.set(map, corners)
  return corners
}
