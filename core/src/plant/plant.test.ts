import geographiclib from 'geographiclib-geodesic'
import { describe, expect, it } from 'vitest'
import { twoCablePlant } from '../../test/plants.ts'
import {
  buildThread,
  checkPlant,
  contradictions,
  delayToFiber,
  describePlace,
  fiberAtDelay,
  geometryLength,
  nearestOnRoute,
  placeAt,
  PlantError,
  plantToGeoJson,
  positionAt,
  type PlantBundle,
} from './index.ts'

// ((to − from)·sheathFactor + coils)·helixFactor + tray fiber, by hand:
const CABLE_A = (1000 * 1.01 + 10 + 12) * 1.005 + 2 + 1.5
const CABLE_B = (2000 * 1.02 + 14 + 30 + 8) * 1.01 + 1.5 + 2

describe('a link laid out as a thread', () => {
  const thread = buildThread(twoCablePlant(), 'l')

  it('has the fiber length of the records’ formula', () => {
    expect(thread.fiberLength).toBeCloseTo(CABLE_A + CABLE_B, 9)
    expect(thread.nodes.map((node) => [node.id, node.joint])).toEqual([
      ['n0', 'connector'],
      ['n1', 'splice'],
      ['h', 'through'],
      ['n2', 'connector'],
    ])
    expect(thread.nodes[1]!.fiber).toBeCloseTo(CABLE_A, 9)
    expect(thread.groundLength).toBe(3000)
  })

  it('does not advance on the ground inside a coil', () => {
    const hole = thread.nodes[2]!
    for (const off of [-14, 0, 14]) expect(placeAt(thread, 'fiber', hole.fiber + off).chainage).toBeCloseTo(2000, 6)
    expect(placeAt(thread, 'fiber', hole.fiber + 40).chainage).toBeGreaterThan(2010)
  })

  it('maps fiber, sheath and ground to each other', () => {
    for (const ground of [10, 500, 1300, 2500, 2999]) {
      const place = placeAt(thread, 'ground', ground)
      expect(placeAt(thread, 'fiber', place.fiber).ground).toBeCloseTo(ground, 6)
      expect(placeAt(thread, 'sheath', place.sheath).ground).toBeCloseTo(ground, 6)
    }
  })

  it('runs back from the far end in the mirror', () => {
    const back = buildThread(twoCablePlant(), 'l', 'ba')
    expect(back.fiberLength).toBeCloseTo(thread.fiberLength, 9)
    expect(back.nodes.map((node) => node.id)).toEqual(['n2', 'h', 'n1', 'n0'])
    expect(placeAt(back, 'fiber', thread.fiberLength - 500).chainage).toBeCloseTo(
      placeAt(thread, 'fiber', 500).chainage,
      6,
    )
  })

  it('turns fiber to delay and back with each cable’s own index', () => {
    for (const fiber of [0, 900, 1500, 3100])
      expect(fiberAtDelay(thread, delayToFiber(thread, fiber, 1550), 1550)).toBeCloseTo(fiber, 6)
    expect(delayToFiber(thread, 1000, 1550)).toBeCloseTo((1000 * 1.4682) / 299_792_458, 15)
  })
})

describe('geometry', () => {
  it('measures a line as the geodesy package does, to half a per cent (sphere against WGS 84)', () => {
    const line = [
      [-30, 46],
      [-29.93, 46.021],
      [-29.5, 46.14],
    ] as [number, number][]
    const reference = line
      .slice(1)
      .reduce(
        (sum, [lon, lat], i) => sum + geographiclib.Geodesic.WGS84.Inverse(line[i]![1], line[i]![0], lat, lon).s12!,
        0,
      )
    expect(Math.abs(geometryLength({ type: 'LineString', coordinates: line }) / reference - 1)).toBeLessThan(0.005)
  })

  it('puts a chainage on the line by proportion', () => {
    const { routes } = twoCablePlant()
    expect(positionAt(routes[0]!, 1500)![1]).toBeCloseTo(0.015, 6)
    expect(positionAt({ ...routes[0]!, geometry: undefined }, 1500)).toBeNull()
  })

  it('leaves as GeoJSON with every named point', () => {
    const { features } = plantToGeoJson(twoCablePlant())
    expect(features.map((feature) => feature.properties!.name)).toEqual([
      'Route',
      'Gate',
      'West panel',
      'Middle closure',
      'Hand-hole',
      'East panel',
    ])
  })

  it('describes a place from the nearest name', () => {
    expect(describePlace(twoCablePlant(), 'r', 'a', 742)).toEqual({
      reference: 'Gate',
      offset: 42,
      towards: 'Middle closure',
      environment: 'duct',
    })
    expect(describePlace(twoCablePlant(), 'r', 'a', 690)).toMatchObject({
      reference: 'Gate',
      offset: -10,
      towards: 'West panel',
    })
  })
})

describe('records that contradict themselves are refused, naming the place', () => {
  const cases: [string, (plant: PlantBundle) => void, string, PlantError['code']][] = [
    [
      'a dangling cable',
      (p) => (p.links[0]!.path[0] = { cable: 'x', fiber: 1 }),
      'links[0].path[0].cable',
      'dangling-id',
    ],
    ['a dangling node', (p) => (p.links[0]!.to = 'x'), 'links[0].to', 'dangling-id'],
    ['a dangling route', (p) => (p.cables[1]!.routeId = 'x'), 'cables[1].routeId', 'dangling-id'],
    ['a negative coil', (p) => (p.nodes[1]!.slack[0]!.sheath = -3), 'nodes[1].slack[0].sheath', 'out-of-range'],
    [
      'a fiber beyond the count',
      (p) => (p.links[0]!.path[2] = { cable: 'b', fiber: 13 }),
      'links[0].path[2].fiber',
      'out-of-range',
    ],
    ['a cable that ends before it begins', (p) => (p.cables[0]!.to = 0), 'cables[0].to', 'out-of-range'],
    ['an id that stands twice', (p) => p.nodes.push({ ...p.nodes[0]! }), 'nodes[4].id', 'duplicate-id'],
    [
      'a path with two cables in a row',
      (p) => (p.links[0]!.path[1] = { cable: 'b', fiber: 1 }),
      'links[0].path[1]',
      'broken-path',
    ],
    ['a cable that does not reach its node', (p) => (p.nodes[3]!.chainage = 500), 'links[0].path[2]', 'broken-path'],
    [
      'a baseline of no link',
      (p) =>
        (p.baselines = [{ linkId: 'x', sha256: '', direction: 'ab', wavelength: 1550, launchCord: 0, receiveCord: 0 }]),
      'baselines[0].linkId',
      'dangling-id',
    ],
  ]

  it.each(cases)('%s', (_, spoil, path, code) => {
    const plant = twoCablePlant()
    checkPlant(plant)
    spoil(plant)
    expect(() => checkPlant(plant)).toThrow(expect.objectContaining({ place: path, code }))
  })
})

describe('a cable’s end and its closure apart in the record', () => {
  const apart = (metres: number) => {
    const plant = twoCablePlant()
    plant.cables[1]!.to -= metres
    return plant
  }

  it('by up to 50 m are told, and the closure’s place is taken', () => {
    checkPlant(apart(50))
    expect(contradictions(apart(40), 'l')).toEqual([
      expect.stringMatching(/cable b ends 40 m from East panel.*3000 m, is taken/),
    ])
    expect(contradictions(apart(1.5), 'l')).toEqual([])
    expect(buildThread(apart(40), 'l').fiberLength).toBe(buildThread(twoCablePlant(), 'l').fiberLength)
  })

  it('by more are not one path', () => {
    expect(() => checkPlant(apart(51))).toThrow(expect.objectContaining({ code: 'broken-path' }))
  })
})

describe('the place on a route nearest to a position', () => {
  // A straight line along a meridian: 0.1 degree of latitude is 11.12 km on a sphere of 6,371 km.
  const route = {
    id: 'r',
    name: 'Route',
    length: 11_500,
    landmarks: [],
    geometry: {
      type: 'LineString' as const,
      coordinates: [
        [-30, 46],
        [-30, 46.05],
        [-30, 46.1],
      ],
    },
  }

  it('is found back from a position on it, and says how far beside it one stands', () => {
    const on = nearestOnRoute(route, positionAt(route, 4000)!)!
    expect(on.chainage).toBeCloseTo(4000, 0)
    expect(on.away).toBeLessThan(0.5)
    // 0.001 degree of longitude at 46.05 degrees north is 77.2 m.
    const beside = nearestOnRoute(route, [-30.001, 46.05])!
    expect(beside.chainage).toBeCloseTo(5750, 0)
    expect(Math.abs(beside.away - 77.2)).toBeLessThan(0.5)
  })

  it('beyond the ends it is the end, and without geometry there is none', () => {
    expect(nearestOnRoute(route, [-30, 47])!.chainage).toBeCloseTo(11_500, 0)
    expect(nearestOnRoute({ ...route, geometry: undefined }, [0, 0])).toBeNull()
  })
})
