import { locateFaults } from '../src/locate/index.ts'
import { pulseLength } from '../src/units/index.ts'
import { ghostCase, shootFieldCase } from '../test/fieldCases.ts'
import { LINK } from '../test/randomFault.ts'

export interface GhostOutcome {
  seed: number
  /** An echo stood out of the noise and was named. */
  named: boolean
  /** Faults where there is nothing but the echo. */
  falseFaults: number
  /** Of the case with a loss under the echo: it was found. */
  found: boolean
}

/** Locates with an echo over sound fiber, and with the same echo over a loss. */
export default function ghostOutcome({ seed }: { seed: number }): GhostOutcome {
  const shown = [false, true].map((faulty) => {
    const field = ghostCase(seed, faulty)
    const result = locateFaults({ plant: field.records, linkId: LINK, ...shootFieldCase(field, [1550], ['ab']) })
    const near = 30 + 2 * pulseLength(field.present.settings.pulseWidth!, 1.468)
    return { result, echo: field.chainages.at(-1)!, real: field.chainages.slice(0, 2), near }
  })
  const [sound, faulty] = shown as [(typeof shown)[0], (typeof shown)[0]]
  const isAt = (chainage: number, place: number, near: number) => Math.abs(chainage - place) < near
  return {
    seed,
    named: sound.result.ghosts.length > 0,
    falseFaults: sound.result.faults.filter(
      ({ chainage }) => !sound.real.some((place) => isAt(chainage, place, sound.near)),
    ).length,
    found: faulty.result.faults.some(({ chainage }) => isAt(chainage, faulty.echo, faulty.near)),
  }
}
