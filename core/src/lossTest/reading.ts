import { lossFromPowers } from '../units/index.ts'
import { MOST_DRIFT, referenceAt, WARM_UP, type SetReference } from './reference.ts'
import { combined, lossComponents, type Component, type TestMeans } from './uncertainty.ts'

/** A loss against a reference, with what it may be off by. dB. */
export interface MeasuredLoss {
  loss: number
  sigma: number
  components: Component[]
  /** May it stand as proof? What speaks against it, in words; empty where nothing does. */
  against: string[]
  /** What is to be known beside it. */
  remarks: string[]
}

/**
 * The loss that a reading against a reference comes to. A light that is stronger than the reference by more than twice its
 * uncertainty is no measurement; a little stronger is within it, and kept.
 * @param level dBm
 * @param at ISO
 */
export function measuredLoss(level: number, at: string, reference: SetReference, means: TestMeans): MeasuredLoss {
  const loss = lossFromPowers(reference.level, level)
  const components = lossComponents(loss, reference, means)
  const sigma = combined(components)
  const against: string[] = []
  const remarks: string[] = []
  if (loss < -2 * sigma)
    against.push(
      `${(-loss).toFixed(2)} dB more light than the reference: set the reference again, wavelength and cords are not those of the reading`,
    )
  else if (loss < 0) remarks.push(`below zero by ${(-loss).toFixed(2)} dB, within ± ${(2 * sigma).toFixed(2)} dB`)
  const standing = referenceAt(reference, at)
  if (standing === 'moved')
    against.push(`the reference had moved by more than ${MOST_DRIFT} dB when it was looked at again: read it anew`)
  if (standing === 'not checked since') {
    remarks.push('the reference was not looked at again since')
    const { sourceOn } = reference
    if (sourceOn != null && sourceOn < WARM_UP)
      remarks.push(`it was set when the source had been on for ${sourceOn} of ${WARM_UP} min: it may have drifted`)
  }
  return { loss, sigma, components, against, remarks }
}

/** Which end of a cord or cable is bad, from a single-ended test of each: the near connection is in each of them. */
export interface TurnedJudgement {
  worse: 'first' | 'second' | null
  words: string
}

/**
 * Names the bad end from a cable read with its first end at the launch cord, then turned round (common practice).
 * @param limit what a pair may lose, dB
 */
export function badEnd(
  first: { loss: number; sigma: number },
  second: { loss: number; sigma: number },
  limit: number,
): TurnedJudgement {
  const apart = first.loss - second.loss
  const spread = 2 * Math.hypot(first.sigma, second.sigma)
  const words = `${first.loss.toFixed(2)} dB, turned ${second.loss.toFixed(2)} dB`
  if (Math.abs(apart) <= spread)
    return {
      worse: null,
      words: `${words}: alike within ± ${spread.toFixed(2)} dB${Math.min(first.loss, second.loss) > limit ? ', both over: look at both ends and at the cable between' : ''}`,
    }
  const worse = apart > 0 ? 'first' : 'second'
  return { worse, words: `${words}: the ${worse} end is the worse one` }
}
