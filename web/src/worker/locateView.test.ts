import { shootLink } from '@cold-thread/core/sim'
import { describe, expect, it } from 'vitest'
import { smallPlant } from '../test/page.tsx'
import { locateView } from './locateView.ts'
import type { TraceInput } from './view.ts'

const plant = smallPlant()
const linkId = plant.links[0]!.id

/** Shot without a receive cord by an instrument that calls its wavelength so. */
function shoot(name: string, wavelength: number, launch: number): TraceInput {
  const facts = { takenAt: '2026-01-01T00:00:00Z', condition: 'OT' as const, seed: launch }
  const shot = { direction: 'ab' as const, wavelength, cords: { launch, receive: 0 }, ...facts }
  const bytes = shootLink(plant, linkId, { seed: 4 }, shot)
  return { id: name, name, direction: 'ab', launch, receive: null, bytes: Uint8Array.from(bytes).buffer }
}

describe('what the Locate stage shows of traces by different instruments', () => {
  it('has one wavelength for curves and differences, whatever the files call it, and no fault on a sound link', () => {
    const view = locateView({
      plant,
      linkId,
      baseline: [shoot('before', 1551, 300)],
      present: [shoot('now', 1549, 150)],
      evidence: [],
    })
    expect(view.traces.map(({ id, wavelength }) => [id, wavelength])).toEqual([
      ['before', 1550],
      ['now', 1550],
    ])
    expect(view.differences.map(({ wavelength }) => wavelength)).toEqual([1550])
    expect(view.faults).toEqual([])
  })
})
