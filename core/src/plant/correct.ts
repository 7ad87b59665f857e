import { whyNotFound } from '../fiber/finder.ts'
import { checkPlant, isCableStep, PlantError } from './check.ts'
import type { Cable, PlantBundle } from './types.ts'

/** What a record says of a cable that somebody on site can find to be otherwise. */
export type CorrectableField =
  | 'fiberCount'
  | 'tubeSize'
  | 'construction'
  | 'outerDiameter'
  | 'armored'
  | 'doubleJacket'
  | 'strengthMember'
  | 'metallic'

export type CableCorrection = { [K in CorrectableField]?: Cable[K] }

/** How the fields are called. */
const FIELD_WORDS: Record<CorrectableField, string> = {
  fiberCount: 'fibers',
  tubeSize: 'fibers to a tube, module or bundle',
  construction: 'construction',
  outerDiameter: 'outer diameter',
  armored: 'armor',
  doubleJacket: 'second jacket',
  strengthMember: 'strength member to hold',
  metallic: 'copper, tracer wire or messenger',
}

/**
 * The plant with a cable's record put right.
 * @throws PlantError for a cable that is not there; where a link runs in a fiber that would be no more, its record must be
 * put right first; where fibers could no longer be found by number and colour
 */
export function correctCable(plant: PlantBundle, cableId: string, changes: CableCorrection): PlantBundle {
  const at = plant.cables.findIndex(({ id }) => id === cableId)
  if (at < 0) throw new PlantError('dangling-id', 'cable', `the plant has no cable “${cableId}”`)
  const before = plant.cables[at]!
  const after: Cable = { ...before, ...changes }
  if (after.tubeSize > after.fiberCount)
    throw new PlantError(
      'out-of-range',
      `cables[${at}].tubeSize`,
      `${after.tubeSize} in a tube, of ${after.fiberCount} fibers in all`,
    )
  for (const link of plant.links)
    for (const step of link.path)
      if (isCableStep(step) && step.cable === cableId && step.fiber > after.fiberCount)
        throw new PlantError(
          'out-of-range',
          `cables[${at}].fiberCount`,
          `“${link.name}” runs in fiber ${step.fiber} of ${cableId} by the record: put the link right first`,
        )
  const why = whyNotFound(after)
  if (why !== null && whyNotFound(before) === null) throw new PlantError('out-of-range', `cables[${at}]`, why)
  const corrected = { ...plant, cables: plant.cables.with(at, after) }
  checkPlant(corrected)
  return corrected
}

/** What a correction changes, in words: `fibers: 44, on record 48`. */
export function correctionInWords(before: Cable, changes: CableCorrection): string[] {
  return (Object.keys(FIELD_WORDS) as CorrectableField[]).flatMap((field) => {
    const value = changes[field]
    if (value === undefined || value === before[field]) return []
    const was = before[field] === undefined ? 'not on record' : `on record ${inWords(before[field])}`
    return [`${FIELD_WORDS[field]}: ${inWords(value)}, ${was}`]
  })
}

function inWords(value: number | string | boolean): string {
  if (typeof value === 'boolean') return value ? 'yes' : 'no'
  // The one length among the fields is in metres, below one.
  return typeof value === 'number' && value < 1 ? `${Number((value * 1000).toFixed(2))} mm` : String(value)
}
