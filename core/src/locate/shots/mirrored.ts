import { isSameWavelength } from '../../units/wavelength.ts'
import { jointsThatFit, type Fit, type Threads } from './jointsThatFit.ts'
import { isOfSameGo, type LocateWarning, type Shot } from './shot.ts'

/** A fit that would come about by chance more often than this says nothing. */
const BY_CHANCE = 0.02

/**
 * The present shots with their directions put right: one whose events fit the baseline of the other end and not that of
 * its own was shot from there, and so was its twin, where that fits neither. It is said aloud. A place counted from the
 * wrong end is worse than none. Where nothing can tell, that is said too.
 */
export function withDirectionsRight(
  threads: Threads,
  baselines: readonly Shot[],
  presents: readonly Shot[],
  warnings: LocateWarning[],
): Shot[] {
  const fitsOwn = presents.map((shot) => jointsThatFit(threads, shot, baselines))
  // What was shot in one go at several wavelengths is labelled together: one that fits its own end speaks for the others.
  const isVouchedFor = (shot: Shot) =>
    presents.some((other, i) => isOfSameGo(shot, other) && !isSameWave(shot, other) && (fitsOwn[i]?.matched ?? 0) > 0)
  const swapped = presents.map((shot, k) => {
    if (isVouchedFor(shot)) return false
    const [own, other] = [fitsOwn[k]!, jointsThatFit(threads, mirrorOf(shot), baselines)]
    return own !== null && other !== null && own.matched === 0 && chanceOf(other) < BY_CHANCE
  })
  // Two labels are put on the wrong ends together: one that is right would stand on the other one's end.
  const twin = (a: Shot, b: Shot) => a.direction !== b.direction && isSameWave(a, b)
  const unchecked = presents.filter(
    (shot, k) =>
      fitsOwn[k]?.matched === 0 &&
      !presents.some((other, i) => twin(shot, other) && (swapped[i] || (fitsOwn[i]?.matched ?? 0) > 0)) &&
      !swapped[k],
  )
  if (unchecked.length > 0) warnings.push({ code: 'direction-unchecked', message: inWords(unchecked, presents) })
  return presents.map((shot, k) => {
    const withTwin =
      fitsOwn[k]?.matched === 0 && !isVouchedFor(shot) && presents.some((other, i) => swapped[i] && twin(shot, other))
    if (!swapped[k] && !withTwin) return shot
    warnings.push({
      code: 'direction-swapped',
      message: `${shot.name}: ${swapped[k] ? 'its events fit' : 'the trace from the opposite end fits'} the baseline of the other end, not of the end it is said to be shot from: it is taken as shot from the other end`,
    })
    return mirrorOf(shot)
  })
}

function isSameWave(a: Shot, b: Shot): boolean {
  return isSameWavelength(a.analysis.trace.wavelength, b.analysis.trace.wavelength)
}

function inWords(unchecked: readonly Shot[], presents: readonly Shot[]): string {
  const all = unchecked.length > 1 && unchecked.length === presents.length
  return all
    ? 'No trace shows a joint between the link’s connections: only the labels say from which end each was shot. Make sure of it.'
    : `${unchecked.map(({ name }) => name).join(', ')}: no joint between the link’s connections shows, so that only the label says from which end it was shot: make sure of it`
}

/** Cords belong to the ends of the link: seen from the other one, launch and receive change places. */
function mirrorOf({ launchEnd: _, farEnd: _far, ...shot }: Shot): Shot {
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
