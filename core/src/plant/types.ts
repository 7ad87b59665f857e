import type { LineString } from 'geojson'

/** Ground distance along a route, m. */
export type Chainage = number

export interface Landmark {
  name: string
  chainage: Chainage
}

export interface Route {
  id: string
  name: string
  length: number
  landmarks: Landmark[]
  geometry?: LineString | undefined
}

export interface CableSpan {
  from: Chainage
  to: Chainage
  environment: string
}

export interface Cable {
  id: string
  routeId: string
  from: Chainage
  to: Chainage
  /** Sheath length over ground length, coils not counted. */
  sheathFactor: number
  /** Fiber length over sheath length. */
  helixFactor: number
  construction: string
  fiberCount: number
  tubeSize: number
  colorOrder: string
  fiberType: string
  coreSize?: number | undefined
  /** Mode field diameter at 1310 nm, m. */
  modeField?: number | undefined
  /** By wavelength in nm. */
  groupIndex: Record<string, number>
  spans?: CableSpan[] | undefined
  /** Outer diameter, m. */
  outerDiameter?: number | undefined
  armored?: boolean | undefined
  doubleJacket?: boolean | undefined
  /** A member that a closure can hold; rods bonded into the jacket are none. */
  strengthMember?: boolean | undefined
  /** Copper, tracer wire or messenger beside the fibers. */
  metallic?: boolean | undefined
}

export type NodeKind = 'panel' | 'closure' | 'handhole' | 'pole'

/** Coiled sheath of a cable at a node; `before` lies towards lower chainage, `through` is uncut. */
export interface Slack {
  cable: string
  side: 'before' | 'after' | 'through'
  /** m of sheath */
  sheath: number
}

export interface PlantNode {
  id: string
  name: string
  kind: NodeKind
  routeId: string
  chainage: Chainage
  closureModel?: string | undefined
  slack: Slack[]
  /** m of bare fiber of a cable in the trays */
  trayFiber?: { cable: string; fiber: number }[] | undefined
}

export type JointKind = 'splice' | 'mechanical' | 'connector'

export type PathStep = { cable: string; fiber: number } | { node: string; joint: JointKind }

export interface LinkEnd {
  connector: string
  polish: string
}

export interface Circuit {
  name: string
  priority: number
}

/** Whether traffic runs; unknown is treated as live. */
export type LinkState = 'live' | 'dark' | 'unknown'

export interface Link {
  id: string
  name: string
  from: string
  to: string
  state: LinkState
  path: PathStep[]
  ends?: { from: LinkEnd; to: LinkEnd } | undefined
  circuits: Circuit[]
  /** m of fiber, for shots from `from`; swapped for shots from `to`. */
  launchCord?: number | undefined
  receiveCord?: number | undefined
}

/** `ab` is shot from the link's `from`, `ba` from its `to`. */
export type Direction = 'ab' | 'ba'

export interface BaselineRef {
  linkId: string
  sha256: string
  direction: Direction
  wavelength: number
  launchCord: number
  receiveCord: number
}

/** The plant as it is exchanged and kept: `cold-thread/plant`, version 1. Unknown fields are kept. */
export interface PlantBundle {
  format: 'cold-thread/plant'
  version: 1
  name: string
  routes: Route[]
  cables: Cable[]
  nodes: PlantNode[]
  links: Link[]
  baselines?: BaselineRef[] | undefined
}
