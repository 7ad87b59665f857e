import type { PlantBundle } from '../src/plant/index.ts'
import { readFiber, type FiberReading } from '../src/survey/index.ts'
import { analyzeTrace, decodeTrace, encodeTrace } from '../src/trace/index.ts'
import { drawTrace } from '../test/straightTrace.ts'
import { LINK } from '../test/randomFault.ts'

export interface FiberTask {
  fiber: number
  plant: PlantBundle
}

/** A few files that stand for all: making a thousand different ones would be most of the time. */
const files = Array.from({ length: 4 }, (_, k) => {
  const trace = drawTrace({
    points: 32_000,
    spacing: 0.5,
    seed: 50 + k,
    steps: [{ at: 4000, rise: -0.07 }],
    peaks: [{ at: 500, height: 8 }],
    end: 15_000,
  })
  return encodeTrace({ ...trace, condition: 'OT', comment: '' })
})

/** What the server's worker does with one file of a survey. */
export default function readFiberTask({ fiber, plant }: FiberTask): FiberReading {
  const analysis = analyzeTrace(decodeTrace(files[fiber % files.length]!))
  return readFiber(plant, LINK, fiber, { name: '', direction: 'ab', launch: 500, receive: 500, analysis }, [])
}
