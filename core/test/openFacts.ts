import type { Cable, Link, PlantBundle, PlantNode } from '../src/plant/types.ts'
import { SIX_PORTS, type ClosureModel } from '../src/open/closure/closureModel.ts'
import { BENCH_FACTS, type SheetFacts } from '../src/open/sheet/facts.ts'

/** A 48-fiber loose-tube cable into a dome of six ports; tests change what they are about. */
export function testFacts(some: Partial<SheetFacts> = {}): SheetFacts {
  return {
    ...BENCH_FACTS,
    work: 'bring-in',
    node: 'n1',
    place: 'Test closure',
    cable: 'c1',
    fiberCount: 48,
    groups: 4,
    groupFibers: 12,
    diameter: 0.0145,
    closure: 'gel-dome',
    closureModel: 'test dome',
    port: 1,
    cables: 2,
    inService: true,
    live: false,
    ground: 'structure',
    ...some,
  }
}

export const TEST_DOME: ClosureModel = {
  model: 'test dome',
  kind: 'gel-dome',
  ports: SIX_PORTS.map((port) => ({ ...port, least: 0.01, most: 0.025 })),
  bushingBelow: 0.0127,
  trays: { count: 4, splices: 24, groups: 4 },
  lengths: { sheath: { min: 1.8, max: 1.8 } },
  storingRadius: null,
  pressure: { test: 40_000, minutes: 15, mayLose: 2000 },
  source: 'made up for tests',
}

export function testNode(id: string, kind: PlantNode['kind'], chainage: number): PlantNode {
  return { id, name: id, kind, routeId: 'r', chainage, slack: [] }
}

/** Two cables met in closure `c`, with links over the given fibers. */
export function testPlant(links: readonly (Pick<Link, 'state' | 'circuits'> & { fiber: number })[]): PlantBundle {
  return {
    format: 'cold-thread/plant',
    version: 1,
    name: 'test',
    routes: [{ id: 'r', name: 'r', length: 3000, landmarks: [] }],
    cables: [testCable('a', 0, 1000), testCable('b', 1000, 3000)],
    nodes: [testNode('p', 'panel', 0), testNode('c', 'closure', 1000), testNode('q', 'panel', 3000)],
    links: links.map(({ fiber, ...rest }) => ({
      id: `l${fiber}`,
      name: `link ${fiber}`,
      from: 'p',
      to: 'q',
      path: [
        { cable: 'a', fiber },
        { node: 'c', joint: 'splice' as const },
        { cable: 'b', fiber },
      ],
      ...rest,
    })),
  }
}

/** A loose-tube cable of 48 fibers along the test's route. */
export function testCable(id: string, from: number, to: number, some: Partial<Cable> = {}): Cable {
  return {
    id,
    routeId: 'r',
    from,
    to,
    sheathFactor: 1,
    helixFactor: 1,
    construction: 'loose-tube',
    fiberCount: 48,
    tubeSize: 12,
    colorOrder: 'TIA-598',
    fiberType: 'G.652.D',
    groupIndex: { '1550': 1.468 },
    ...some,
  }
}
