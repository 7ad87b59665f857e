import { sampleStandardDeviation } from 'simple-statistics'
import { describe, expect, it } from 'vitest'
import { seededRandom } from '../../math/random.ts'
import { offChart, onChart } from './chart.ts'
import { USUAL_FIGURES, usualOf } from './usual.ts'
import type { WatchedAttempt } from './watched.ts'

const random = seededRandom(41)
const CENTER = onChart('offset', 0.8)
const SIGMA = 0.3

/** Splices whose offsets are drawn around a machine's center, each session's off by so much. */
function drawn(sessions: number, between: number, named = true): WatchedAttempt[] {
  return Array.from({ length: sessions }, (_, session) => {
    const middle = CENTER + between * random.normal()
    return Array.from({ length: 24 }, (): WatchedAttempt => {
      const offset = offChart('offset', middle + SIGMA * random.normal())
      const nothing = { estimate: null, cleaveLeft: null, cleaveRight: null, gap: null, proof: null, modeFields: null }
      return { ...nothing, offset, ...(named && { session }) }
    })
  }).flat()
}

describe('what is usual of a machine', () => {
  it('with many sessions is what was drawn: center, spread of single readings, and of sessions', () => {
    const found = usualOf('offset', drawn(60, 0.25))
    expect(found.center).toBeCloseTo(CENTER, 0)
    expect(Math.abs(found.center - CENTER)).toBeLessThan(3 * (0.25 / Math.sqrt(60)))
    expect(found.sigma).toBeGreaterThan(0.27)
    expect(found.sigma).toBeLessThan(0.34)
    expect(found.between).toBeGreaterThan(0.18)
    expect(found.between).toBeLessThan(0.33)
  })

  it('sessions that do not differ are told to differ less than those that do, also where nobody wrote down which is which', () => {
    expect(usualOf('offset', drawn(20, 0, false)).between).toBeLessThan(
      usualOf('offset', drawn(20, 0.3, false)).between,
    )
  })

  it('one session leaves the doubt of a session, none the doubt of a machine', () => {
    const { sessions, machines, center } = USUAL_FIGURES.offset
    const none = usualOf('offset', [])
    expect(none).toMatchObject({ center, together: 0 })
    expect(none.between).toBeCloseTo(Math.hypot(sessions, machines), 9)
    const one = usualOf('offset', drawn(1, 0.1))
    expect(one.between).toBeGreaterThan(sessions)
    expect(one.between).toBeLessThan(none.between)
  })

  it('readings of a ribbon that go together are told so (intraclass correlation, by its own draw)', () => {
    const shared = 0.4
    const alone = 0.3
    const ribbons = Array.from({ length: 80 }, (): WatchedAttempt => {
      const common = shared * random.normal()
      const ribbon = Array.from({ length: 12 }, () => {
        const angle = () => offChart('angle', onChart('angle', 0.6) + common + alone * random.normal())
        return { estimate: null, cleaveLeft: angle(), cleaveRight: angle() }
      })
      return { ...ribbon[0]!, ribbon, offset: null, gap: null, proof: null, modeFields: null }
    })
    const { together, sigma } = usualOf('angle', ribbons)
    expect(together).toBeGreaterThan(0.5)
    expect(together).toBeLessThan(0.75)
    const all = ribbons.flatMap(({ ribbon }) => ribbon!.map(({ cleaveLeft }) => onChart('angle', cleaveLeft!)))
    expect(sigma / sampleStandardDeviation(all)).toBeGreaterThan(0.85)
    expect(sigma / sampleStandardDeviation(all)).toBeLessThan(1.15)
  })
})
