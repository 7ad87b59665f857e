import along from '@turf/along'
import { lineString } from '@turf/helpers'
import length from '@turf/length'
import nearestPointOnLine from '@turf/nearest-point-on-line'
import type { Feature, FeatureCollection, LineString, Point } from 'geojson'
import type { PlantBundle, Route } from './types.ts'

/** Great-circle length of a route's line, m. */
export function geometryLength(geometry: LineString): number {
  return length(lineString(geometry.coordinates), { units: 'meters' })
}

/**
 * Position of a chainage: chainage maps on the route's line by proportion of length.
 * @returns [longitude, latitude] in degrees, or null when the route has no geometry
 */
export function positionAt(route: Route, chainage: number): [number, number] | null {
  if (!route.geometry) return null
  const total = geometryLength(route.geometry)
  const share = Math.min(1, Math.max(0, chainage / route.length))
  const point = along(lineString(route.geometry.coordinates), share * total, { units: 'meters' })
  return [point.geometry.coordinates[0]!, point.geometry.coordinates[1]!]
}

/**
 * The place on a route nearest to a position: chainage by proportion of length, as in {@link positionAt}.
 * @param position [longitude, latitude] in degrees
 * @returns chainage and the distance from the route, m; null when the route has no geometry
 */
export function nearestOnRoute(route: Route, position: [number, number]): { chainage: number; away: number } | null {
  if (!route.geometry) return null
  const line = lineString(route.geometry.coordinates)
  const { pointDistance, totalDistance } = nearestPointOnLine(line, position, { units: 'meters' }).properties
  return { chainage: (totalDistance / geometryLength(route.geometry)) * route.length, away: pointDistance }
}

/** Routes, nodes and landmarks as GeoJSON (RFC 7946); what has no position on a line is left out. */
export function plantToGeoJson(plant: PlantBundle): FeatureCollection<LineString | Point> {
  const features: Feature<LineString | Point>[] = []
  for (const route of plant.routes) {
    if (!route.geometry) continue
    features.push({
      type: 'Feature',
      id: route.id,
      geometry: route.geometry,
      properties: { type: 'route', name: route.name, length: route.length },
    })
    for (const mark of route.landmarks) {
      const properties = { type: 'landmark', name: mark.name, routeId: route.id, chainage: mark.chainage }
      features.push({ type: 'Feature', geometry: pointAt(route, mark.chainage), properties })
    }
  }
  for (const node of plant.nodes) {
    const route = plant.routes.find((candidate) => candidate.id === node.routeId)
    if (!route?.geometry) continue
    features.push({
      type: 'Feature',
      id: node.id,
      geometry: pointAt(route, node.chainage),
      properties: { type: node.kind, name: node.name, routeId: route.id, chainage: node.chainage },
    })
  }
  return { type: 'FeatureCollection', features }
}

function pointAt(route: Route, chainage: number): Point {
  return { type: 'Point', coordinates: positionAt(route, chainage)! }
}
