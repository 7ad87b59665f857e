import { DEFAULT_SCHOOLS, type SheetFacts } from './facts.ts'
import type { ClosureModel } from './closureModel.ts'
import { SIX_PORTS } from './closureModel.ts'

/** A 48-fiber loose-tube cable into a dome of six ports; tests change what they are about. */
export function testFacts(some: Partial<SheetFacts> = {}): SheetFacts {
  return {
    work: 'bring-in',
    node: 'n1',
    place: 'Test closure',
    cable: 'c1',
    construction: 'loose-tube',
    fiberCount: 48,
    groups: 4,
    groupWord: 'tube',
    armored: false,
    doubleJacket: false,
    strengthMember: true,
    metallic: false,
    diameter: 0.0145,
    entry: 'end',
    closure: 'gel-dome',
    closureModel: 'test dome',
    port: 1,
    cables: 2,
    inService: true,
    live: false,
    ground: 'structure',
    schools: DEFAULT_SCHOOLS,
    connector: null,
    ferrule: null,
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
