import { placeOfFiber, whyNotFound } from '@cold-thread/core/fiber'
import type { FiberEnd } from '@cold-thread/core/join'
import type { PlantBundle } from '@cold-thread/core/plant'
import { FiberWords } from '../fibers/FiberWords.tsx'

/** An end by its cable and number, with the colours to look for; of a ribbon its first and last. */
export function EndInWords({ end, plant, count }: { end: FiberEnd; plant: PlantBundle; count: number }) {
  const record = plant.cables.find(({ id }) => id === end.cable)
  const numbers = count > 1 ? `fibers ${end.fiber} to ${end.fiber + count - 1}` : `fiber ${end.fiber}`
  const found = record !== undefined && end.fiber <= record.fiberCount && whyNotFound(record) === null
  return (
    <>
      {end.cable} {numbers}
      {found && (
        <>
          : <FiberWords place={placeOfFiber(record, end.fiber)} />
        </>
      )}
    </>
  )
}
