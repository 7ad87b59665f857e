import type { Shot } from '../src/locate/index.ts'
import { shootLink, type Damage } from '../src/sim/index.ts'
import { analyzeTrace, decodeTrace } from '../src/trace/index.ts'
import { twoCablePlant } from './plants.ts'

/** Shoots the two-cable link from both ends at 1550 nm with 500 m cords. */
export function shootTwoCables(damages: Damage[], seed = 1, plant = twoCablePlant()): Shot[] {
  return (['ab', 'ba'] as const).map((direction, i) => {
    const bytes = shootLink(
      plant,
      'l',
      { seed: 9 },
      {
        direction,
        wavelength: 1550,
        cords: { launch: 500, receive: 500 },
        takenAt: '2026-01-01T00:00:00Z',
        condition: 'OT',
        seed: seed + i,
        damages,
      },
    )
    return { name: direction, direction, analysis: analyzeTrace(decodeTrace(bytes)), launch: 500, receive: 500 }
  })
}
