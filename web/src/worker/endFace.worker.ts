import { grayOf, type ConnectorClass, type OnStep } from '@cold-thread/core/endFace'
import { expose } from 'comlink'
import { judgePicture, simulatedPicture, type JudgedPicture, type SimulatedLook } from './endFaceJob.ts'

/** Larger files and pictures are refused: no microscope makes them. */
const MOST_BYTES = 60e6
const MOST_PIXELS = 40e6

const endFaces = {
  /** A picture file, decoded by the browser. */
  async file(file: Blob, connector: ConnectorClass, onStep: OnStep): Promise<JudgedPicture> {
    if (file.size > MOST_BYTES)
      return { problem: `The file has ${Math.round(file.size / 1e6)} MB, at most ${MOST_BYTES / 1e6} MB can be read.` }
    const bitmap = await createImageBitmap(file).catch(() => null)
    if (!bitmap) return { problem: 'The file is not a picture that this browser can read.' }
    const { width, height } = bitmap
    try {
      if (width * height > MOST_PIXELS)
        return {
          problem: `The picture has ${Math.round((width * height) / 1e6)} million pixels, at most ${MOST_PIXELS / 1e6} million can be read.`,
        }
      const context = new OffscreenCanvas(width, height).getContext('2d')!
      context.drawImage(bitmap, 0, 0)
      return judgePicture(
        grayOf(context.getImageData(0, 0, width, height).data, { width, height, channels: 4 }),
        connector,
        onStep,
      )
    } finally {
      bitmap.close()
    }
  },

  simulated(look: SimulatedLook, connector: ConnectorClass, onStep: OnStep): JudgedPicture {
    return judgePicture(simulatedPicture(look), connector, onStep)
  },
}

export type EndFaceWorker = typeof endFaces

expose(endFaces)
