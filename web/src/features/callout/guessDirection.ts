import type { Direction } from '@cold-thread/core/plant'

/** The direction that a file's name tells ("…-ab-…", "…_ba.sor"), or null. */
export function guessDirection(fileName: string): Direction | null {
  const word = /(?:^|[^a-z])(ab|ba)(?:[^a-z]|$)/i.exec(fileName)?.[1]
  return word ? (word.toLowerCase() as Direction) : null
}
