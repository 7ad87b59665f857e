import type { Direction } from '@cold-thread/core/plant'
import { seedFrom } from '@cold-thread/core/math'
import { plantBehindRecords, shootFiber, standInSeed, type Damage, type LinkShot } from '@cold-thread/core/sim'
import { THRUSHMERE } from './plant.ts'

/** The cable survey of the demo: all 144 fibers of the cable between visitor centre and gauge house, shot from one end. */
export const SURVEY = {
  linkId: 'gauge-telemetry',
  fiberCount: 144,
  /** The tube that is hit, and where: its fibers are pinched, two of them broken. */
  tube: 3,
  node: 'weir',
  broken: [29, 34],
}

/** A trace file of one fiber. */
export interface FiberFile {
  fileName: string
  fiber: number
  direction: Direction
  content: Uint8Array
}

const SEED = standInSeed(THRUSHMERE)

function shoot(
  fiber: number,
  takenAt: Date,
  { direction, wavelength, condition, damages }: Pick<LinkShot, 'direction' | 'wavelength' | 'condition' | 'damages'>,
): FiberFile {
  const truth = plantBehindRecords(THRUSHMERE, SEED)
  const content = shootFiber(truth, SURVEY.linkId, fiber, SEED, {
    direction,
    wavelength,
    cords: { launch: 500, receive: 500 },
    takenAt: takenAt.toISOString(),
    condition,
    seed: seedFrom(SURVEY.linkId, condition, fiber, direction, wavelength),
    damages,
  })
  const name = `TN-4_F${String(fiber).padStart(3, '0')}_${wavelength}${direction === 'ba' ? '_back' : ''}.sor`
  return { fileName: name, fiber, direction, content }
}

const isHit = (fiber: number) => Math.ceil(fiber / 12) === SURVEY.tube
const AT = { node: SURVEY.node }

/** The trace files of the survey, one a fiber. */
export function surveyFiles(takenAt: Date): FiberFile[] {
  return Array.from({ length: SURVEY.fiberCount }, (_, k) => {
    const fiber = k + 1
    const damage: Damage = SURVEY.broken.includes(fiber)
      ? { at: AT, breaks: true, reflectance: -48 }
      : { at: AT, breaks: false, loss: { '1310': 0.5 + 0.08 * (fiber % 7), '1550': 1.4 + 0.22 * (fiber % 7) } }
    return shoot(fiber, takenAt, {
      direction: 'ab',
      wavelength: 1550,
      condition: 'CC',
      damages: isHit(fiber) ? [damage] : [],
    })
  })
}

/** What the tube's repair left: one joint that is poor, and a fiber that nobody joined. */
export const LEFT = { poor: 31, open: 34 }

/** The same fibers after the tube was spliced, shot from both ends. */
export function repairedFiles(takenAt: Date, fibers: readonly number[], wavelengths: readonly number[]): FiberFile[] {
  return fibers.flatMap((fiber) => {
    const joint: Damage =
      fiber === LEFT.open
        ? { at: AT, breaks: true, reflectance: -48 }
        : { at: AT, breaks: false, loss: fiber === LEFT.poor ? 0.62 : 0.01 }
    return wavelengths.flatMap((wavelength) =>
      (['ab', 'ba'] as const).map((direction) =>
        shoot(fiber, takenAt, { direction, wavelength, condition: 'RC', damages: isHit(fiber) ? [joint] : [] }),
      ),
    )
  })
}
