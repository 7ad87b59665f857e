import { CodedError } from '../../errors/index.ts'
import { linksAcross } from '../../plan/repairs/hit.ts'
import { groundAt, groundAtNode } from '../../plan/schedule/steps.ts'
import { SITE_DEFAULTS } from '../../plan/planRules.ts'
import type { Cable, PlantBundle } from '../../plant/types.ts'
import type { ClosureModel } from '../closure/closureModel.ts'
import { cablesIn, groupsOf, splicesAt, type CableAt } from '../closure/closureRecord.ts'
import { portCable, suggestPorts } from '../closure/ports.ts'
import { DEFAULT_SCHOOLS, THIN_BELOW, type ClosureKind, type SheetFacts, type Work } from './facts.ts'

/** Where a sheet is for: a node of the plant, or a place in a cable's run. */
export interface SheetPlace {
  node: string | null
  cable: string
  /** m along the route; of the node where there is one. */
  chainage: number
}

/**
 * What a sheet is compiled for, as far as the records tell; the person may know better.
 * @throws CodedError for a node or cable that the plant does not have
 */
export function factsOf(plant: PlantBundle, place: SheetPlace, work: Work, model: ClosureModel | null): SheetFacts {
  const node = place.node === null ? null : (plant.nodes.find(({ id }) => id === place.node) ?? null)
  if (place.node !== null && !node) throw new CodedError('not-found', `the plant has no node “${place.node}”`)
  const cable = plant.cables.find(({ id }) => id === place.cable)
  if (!cable) throw new CodedError('not-found', `the plant has no cable “${place.cable}”`)
  const groups = groupsOf(cable)
  const inside = node ? cablesIn(plant, node) : []
  const isLive = (id: string) =>
    [...linksAcross(plant, id, place.chainage).values()].some(({ state }) => state !== 'dark')
  const neighbours = inside.flatMap((one) => (one.cable.id !== cable.id && isLive(one.cable.id) ? [one.cable.id] : []))
  const inJacket = /micro-module|rollable/.test(cable.construction)
  return {
    work,
    node: node?.id ?? null,
    place: node?.name ?? `${Math.round(place.chainage)} m`,
    cable: cable.id,
    construction: cable.construction,
    fiberCount: cable.fiberCount,
    groups: groups.count,
    groupFibers: cable.tubeSize,
    groupWord: groups.word,
    armored: cable.armored ?? false,
    // What a dome holds by its armor is bonded; where an operator grounds nothing, the person says so.
    grounded: cable.armored ?? false,
    doubleJacket: cable.doubleJacket ?? false,
    strengthMember: cable.strengthMember ?? !inJacket,
    // Armor is metal too.
    metallic: (cable.metallic ?? false) || (cable.armored ?? false),
    diameter: cable.outerDiameter ?? null,
    entry: 'end',
    closure: kindAt(work, node?.kind === 'panel', model),
    closureModel: node?.closureModel ?? null,
    port: model ? portFor(cable, inside, model) : null,
    ports: model?.ports.length ?? 0,
    bushingBelow: model ? (model.bushingBelow ?? 0) : THIN_BELOW,
    cables: inside.reduce((sum, one) => sum + portCable(one).entries, 0),
    inService: node !== null && splicesAt(plant, node.id).length > 0,
    live: isLive(cable.id),
    liveNeighbours: neighbours.length > 0,
    neighbours,
    ground: node ? groundAtNode(plant, node.id, SITE_DEFAULTS) : groundAt(cable, place.chainage),
    schools: DEFAULT_SCHOOLS,
    connector: work === 'connector' ? 'soft-coated' : null,
    ferrule: work === 'connector' ? 'SC' : null,
    connectors: 1,
    pigtails: 'single',
  }
}

/** Port of a cable where all that are there go in by habit. */
function portFor(cable: Cable, inside: readonly CableAt[], model: ClosureModel): number | null {
  const all = inside.some((one) => one.cable.id === cable.id)
    ? inside
    : [...inside, { cable, passes: false, spliced: [] }]
  const uses = suggestPorts(model, all.map(portCable))
  return uses.find(({ cables }) => cables.includes(cable.id))?.port ?? null
}

function kindAt(work: Work, panel: boolean, model: ClosureModel | null): ClosureKind | null {
  if (work === 'prepare' || work === 'connector') return null
  if (panel) return work === 'panel' ? 'live-panel' : 'panel-module'
  return model?.kind ?? null
}
