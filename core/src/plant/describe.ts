import type { PlantBundle } from './types.ts'

/** Where a chainage lies, in the words of the plant. */
export interface GroundDescription {
  /** Nearest landmark or node and the metres beyond it, towards higher chainage when positive. */
  reference: string
  offset: number
  /** The next named place on the other side, for the direction of travel; null at the route's end. */
  towards: string | null
  /** Environment of the span in the cable's record, null when the record does not say. */
  environment: string | null
}

/** Describes a place by the nearest named point on its route ("142 m past Lock 9 towards Pump House 3"). */
export function describePlace(
  plant: PlantBundle,
  routeId: string,
  cableId: string,
  chainage: number,
): GroundDescription {
  const route = plant.routes.find((candidate) => candidate.id === routeId)
  const named = [...(route?.landmarks ?? []), ...plant.nodes.filter((node) => node.routeId === routeId)].sort(
    (a, b) => a.chainage - b.chainage,
  )
  const nearest = named.reduce<{ name: string; chainage: number } | null>(
    (best, mark) => (!best || Math.abs(mark.chainage - chainage) < Math.abs(best.chainage - chainage) ? mark : best),
    null,
  )
  const cable = plant.cables.find((candidate) => candidate.id === cableId)
  const span = cable?.spans?.find((candidate) => chainage >= candidate.from && chainage <= candidate.to)
  if (!nearest)
    return {
      reference: route?.name ?? routeId,
      offset: chainage,
      towards: null,
      environment: span?.environment ?? null,
    }
  const offset = chainage - nearest.chainage
  const next =
    offset >= 0
      ? named.find((mark) => mark.chainage > nearest.chainage)
      : named.findLast((mark) => mark.chainage < nearest.chainage)
  return { reference: nearest.name, offset, towards: next?.name ?? null, environment: span?.environment ?? null }
}
