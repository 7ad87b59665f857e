import { colorInWords, type FiberPlace } from '@cold-thread/core/fiber'

/** Where a fiber lies, with the colours to look for in bold. */
export function FiberWords({ place }: { place: FiberPlace }) {
  const { groupWord, group, groupColor, ribbon, ribbonColor, position, color } = place
  return (
    <>
      {groupWord} {group} <strong>{colorInWords(groupColor)}</strong>,{' '}
      {ribbon !== null && (
        <>
          ribbon {ribbon}{' '}
          {ribbonColor === null ? (
            <>
              (<strong>{ribbon === 1 ? '1 ring mark' : `${ribbon} ring marks`}</strong>)
            </>
          ) : (
            <strong>{colorInWords(ribbonColor)}</strong>
          )}
          ,{' '}
        </>
      )}
      fiber {position} <strong>{colorInWords(color)}</strong>
    </>
  )
}
