import { placeOfFiber, whyNotFound } from '@cold-thread/core/fiber'
import type { FiberEnd } from '@cold-thread/core/join'
import type { PlantBundle } from '@cold-thread/core/plant'
import { FiberWords } from '../fibers/FiberWords.tsx'

/** An end by its side and number, with the colours to look for; of a ribbon its first and last. */
export function EndInWords({
  end,
  side = end.cable,
  plant,
  count,
}: {
  end: FiberEnd
  /** What its side is called where the cable alone does not tell. */
  side?: string
  plant: PlantBundle
  count: number
}) {
  const record = plant.cables.find(({ id }) => id === end.cable)
  const numbers = count > 1 ? `fibers ${end.fiber} to ${end.fiber + count - 1}` : `fiber ${end.fiber}`
  const found = record !== undefined && end.fiber <= record.fiberCount && whyNotFound(record) === null
  return (
    <>
      {side} {numbers}
      {found && (
        <>
          : <FiberWords place={placeOfFiber(record, end.fiber)} />
        </>
      )}
    </>
  )
}
