import {
  judgeEndFace,
  PictureError,
  type ConnectorClass,
  type EndFaceView,
  type OnStep,
  type Picture,
} from '@cold-thread/core/endFace'
import { drawEndFace, practiceEndFace } from '@cold-thread/core/sim'

/** What a picture came to, or why it can't be judged. */
export type JudgedPicture = { view: EndFaceView } | { problem: string }

export function judgePicture(picture: Picture, connector: ConnectorClass, onStep?: OnStep): JudgedPicture {
  try {
    return { view: judgeEndFace(picture, connector, onStep) }
  } catch (error) {
    if (error instanceof PictureError) return { problem: error.message }
    throw error
  }
}

/** What the simulated microscope shows of a practice connector that was cleaned so often. */
export interface SimulatedLook {
  seed: number
  cleanings: number
  fiber: 'single-mode' | 'multimode'
}

export function simulatedPicture({ seed, cleanings, fiber }: SimulatedLook): Picture {
  // Each look has noise of its own.
  return drawEndFace(practiceEndFace(seed, cleanings, fiber), seed + 7919 * (cleanings + 1))
}
