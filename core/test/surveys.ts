import type { Shot } from '../src/locate/index.ts'
import type { Direction } from '../src/plant/index.ts'
import { DEFAULT_INSTRUMENT, shootLink, type Cords, type Damage } from '../src/sim/index.ts'
import { analyzeTrace, decodeTrace } from '../src/trace/index.ts'
import { twoCablePlant } from './plants.ts'

/** How the two-cable link is shot: through which cords, and whether their lengths are told. */
export interface TwoCableSurvey extends Cords {
  told?: boolean
  from?: readonly Direction[]
  wavelength?: number
  damages?: Damage[]
  seed?: number
}

/** Shoots the two-cable link with 30 ns as a survey with its own cords does. */
export function shootThrough(survey: TwoCableSurvey): Shot[] {
  const { told = true, from = ['ab', 'ba'], wavelength = 1550, damages = [], seed = 1, launch, receive } = survey
  return from.map((direction, i) => {
    const bytes = shootLink(
      twoCablePlant(),
      'l',
      { seed: 9 },
      {
        direction,
        wavelength,
        cords: survey,
        takenAt: '2026-01-01T00:00:00Z',
        condition: 'OT',
        seed: 10 * seed + i,
        damages,
        instrument: {
          ...DEFAULT_INSTRUMENT,
          coherence: { width: 700e9, seed: seed + i },
          slowPole: { part: 3e-4, timeConstant: 0.7e-6 },
        },
      },
    )
    return {
      name: `${direction} ${seed}`,
      direction,
      analysis: analyzeTrace(decodeTrace(bytes)),
      launch: told ? launch : null,
      receive: told && receive > 0 ? receive : null,
    }
  })
}
