import type { PlantBundle } from '../src/plant/index.ts'

/** Two cables with coils, trays and a hand-hole that the second passes; factors chosen for sums by hand. */
export function twoCablePlant(): PlantBundle {
  return {
    format: 'cold-thread/plant',
    version: 1,
    name: 'two cables',
    routes: [
      {
        id: 'r',
        name: 'Route',
        length: 3000,
        landmarks: [{ name: 'Gate', chainage: 700 }],
        geometry: {
          type: 'LineString',
          coordinates: [
            [0, 0],
            [0, 0.03],
          ],
        },
      },
    ],
    cables: [
      {
        id: 'a',
        routeId: 'r',
        from: 0,
        to: 1000,
        sheathFactor: 1.01,
        helixFactor: 1.005,
        construction: 'loose-tube',
        fiberCount: 12,
        tubeSize: 12,
        colorOrder: 'TIA-598',
        fiberType: 'G.652.D',
        groupIndex: { '1310': 1.4676, '1550': 1.4682 },
        spans: [{ from: 0, to: 1000, environment: 'duct' }],
      },
      {
        id: 'b',
        routeId: 'r',
        from: 1000,
        to: 3000,
        sheathFactor: 1.02,
        helixFactor: 1.01,
        construction: 'loose-tube',
        fiberCount: 12,
        tubeSize: 12,
        colorOrder: 'TIA-598',
        fiberType: 'G.652.D',
        groupIndex: { '1310': 1.4676, '1550': 1.4682 },
      },
    ],
    nodes: [
      {
        id: 'n0',
        name: 'West panel',
        kind: 'panel',
        routeId: 'r',
        chainage: 0,
        slack: [{ cable: 'a', side: 'after', sheath: 10 }],
        trayFiber: [{ cable: 'a', fiber: 2 }],
      },
      {
        id: 'n1',
        name: 'Middle closure',
        kind: 'closure',
        routeId: 'r',
        chainage: 1000,
        slack: [
          { cable: 'a', side: 'before', sheath: 12 },
          { cable: 'b', side: 'after', sheath: 14 },
        ],
        trayFiber: [
          { cable: 'a', fiber: 1.5 },
          { cable: 'b', fiber: 1.5 },
        ],
      },
      {
        id: 'h',
        name: 'Hand-hole',
        kind: 'handhole',
        routeId: 'r',
        chainage: 2000,
        slack: [{ cable: 'b', side: 'through', sheath: 30 }],
      },
      {
        id: 'n2',
        name: 'East panel',
        kind: 'panel',
        routeId: 'r',
        chainage: 3000,
        slack: [{ cable: 'b', side: 'before', sheath: 8 }],
        trayFiber: [{ cable: 'b', fiber: 2 }],
      },
    ],
    links: [
      {
        id: 'l',
        name: 'West to east',
        from: 'n0',
        to: 'n2',
        state: 'dark',
        path: [
          { cable: 'a', fiber: 3 },
          { node: 'n1', joint: 'splice' },
          { cable: 'b', fiber: 3 },
        ],
        circuits: [{ name: 'c', priority: 1 }],
        launchCord: 500,
        receiveCord: 500,
      },
    ],
  }
}
