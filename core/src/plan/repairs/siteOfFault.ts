import { metres } from '../../units/index.ts'
import type { RepairCase } from './repairs.ts'
import { groundAt, groundAtNode, type Ground, type Site } from '../schedule/steps.ts'

/** Where the cable is worked on: at the node where the fault is likeliest, else in the run. */
export function siteOfFault(repair: RepairCase): { site: Site; ground: Ground; closureThere: boolean } {
  const { coil, splice, run } = repair.places
  const at = coil.probability > splice.probability ? coil : splice
  if (at.node && at.probability > run.probability) {
    const record = repair.plant.nodes.find(({ id }) => id === at.node!.id)!
    return {
      site: { id: record.id, name: record.name, crew: null },
      ground: groundAtNode(repair.plant, record.id, repair.site),
      closureThere: record.kind === 'closure',
    }
  }
  return {
    site: {
      id: 'fault',
      name: `the fault at ${metres(repair.fault.chainage)}`,
      crew: null,
    },
    ground: groundAt(repair.cable, repair.fault.chainage),
    closureThere: false,
  }
}
