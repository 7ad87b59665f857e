import { plantBehindRecords, seedFrom, shootFiber, standInSeed, type Damage } from '@cold-thread/core/sim'
import { OTTERMERE } from './plant.ts'

/** The cable survey of the demo: all 144 fibers of the cable between visitor centre and gauge house, shot from one end. */
export const SURVEY = {
  linkId: 'gauge-telemetry',
  fiberCount: 144,
  /** The tube that is hit, and where: its fibers are pinched, two of them broken. */
  tube: 3,
  node: 'weir',
  broken: [29, 34],
}

/** The trace files of the survey, one a fiber. */
export function surveyFiles(takenAt: Date): { fileName: string; fiber: number; content: Uint8Array }[] {
  const seed = standInSeed(OTTERMERE)
  const truth = plantBehindRecords(OTTERMERE, seed)
  return Array.from({ length: SURVEY.fiberCount }, (_, k) => {
    const fiber = k + 1
    const hit = Math.ceil(fiber / 12) === SURVEY.tube
    const at = { node: SURVEY.node }
    const damage: Damage = SURVEY.broken.includes(fiber)
      ? { at, breaks: true, reflectance: -48 }
      : { at, breaks: false, loss: { '1310': 0.5 + 0.08 * (fiber % 7), '1550': 1.4 + 0.22 * (fiber % 7) } }
    const content = shootFiber(truth, SURVEY.linkId, fiber, seed, {
      direction: 'ab',
      wavelength: 1550,
      cords: { launch: 500, receive: 500 },
      takenAt: takenAt.toISOString(),
      condition: 'CC',
      seed: seedFrom(SURVEY.linkId, 'survey', fiber),
      damages: hit ? [damage] : [],
    })
    return { fileName: `OT-4_F${String(fiber).padStart(3, '0')}_1550.sor`, fiber, content }
  })
}
