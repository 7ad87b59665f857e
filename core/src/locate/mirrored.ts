import { jointsThatFit, type Fit } from './jointsThatFit.ts'
import type { LocateWarning, Shot } from './shot.ts'

/** A fit that would come about by chance more often than this says nothing. */
const BY_CHANCE = 0.02

/**
 * The present shots with their directions put right: one whose events fit the baseline of the other end clearly better
 * than that of its own was shot from there, and that is said aloud. A place counted from the wrong end is worse than none.
 */
export function withDirectionsRight(
  baselines: readonly Shot[],
  presents: readonly Shot[],
  warnings: LocateWarning[],
): Shot[] {
  return presents.map((shot) => {
    const mirrored = mirrorOf(shot)
    const [own, other] = [jointsThatFit(shot, baselines), jointsThatFit(mirrored, baselines)]
    if (own === null || other === null || own.matched > 0 || !(chanceOf(other) < BY_CHANCE)) return shot
    warnings.push({
      code: 'direction-swapped',
      message: `${shot.name}: its events fit the baseline of the other end, not of the end it is said to be shot from: it is taken as shot from the other end`,
    })
    return mirrored
  })
}

/** Cords belong to the ends of the link: seen from the other one, launch and receive change places. */
function mirrorOf(shot: Shot): Shot {
  return {
    ...shot,
    direction: shot.direction === 'ab' ? 'ba' : 'ab',
    launch: shot.receive,
    receive: shot.launch,
  }
}

/** Chance that so many joints or more fit without the fiber being the same (Poisson). */
function chanceOf({ matched, expected }: Fit): number {
  let term = Math.exp(-expected)
  let fewer = 0
  for (let k = 0; k < matched; k++) {
    fewer += term
    term *= expected / (k + 1)
  }
  return 1 - fewer
}
