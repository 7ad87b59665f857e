import { metres } from '@cold-thread/core/units'
import type { LocateView } from '../../worker/view.ts'

/** Shorter stretches without a measurement are the dead zones of events: part of the link, and m. */
const GAP_PART = 0.01
const GAP_METRES = 100

/** What follows from traces that show no fault: how much of the link that clears, and of what. */
export interface NoFault {
  title: string
  text: string
  /** Ground of the stretches that nothing looked at, m from the near end. */
  unseen: [from: number, to: number][]
}

/**
 * A link is clear only where a trace was compared, and only of losses that the comparison would have seen; everything else
 * is named, so that nobody takes "none seen" for "none there".
 */
export function noFaultWords(view: LocateView): NoFault {
  const used = view.traces.filter((trace) => trace.role === 'present').length
  if (used === 0)
    return {
      title: 'No verdict',
      text: 'None of the present traces can be used for this link. Why is said above; check panel, port and fiber, and shoot again.',
      unseen: [[0, view.groundLength]],
    }
  if (view.differences.length === 0)
    return {
      title: 'No fault seen, with no baseline to compare',
      text: 'Without a baseline only an end that comes too early and steps over 0.3 dB can be told. A smaller loss would not show.',
      unseen: [],
    }
  const unseen = unseenStretches(view)
  const reading = `The present traces read like the baseline. ${limitInWords(view)}`
  if (unseen.length === 0)
    return {
      title: 'No fault seen',
      text: `${reading} Look at the difference lane, or shoot again with a finer pulse and longer averaging.`,
      unseen,
    }
  const missing = unseen.reduce((sum, [from, to]) => sum + to - from, 0)
  if (missing > (1 - GAP_PART) * view.groundLength)
    return {
      title: 'No verdict',
      text: 'No trace shows anything of the link itself: the light fades before. Shoot with a longer pulse and longer averaging, and check that the cord is clean and seated.',
      unseen,
    }
  const where = unseen.map(([from, to]) => `${metres(from)} to ${metres(to)}`).join(' and ')
  return {
    title: 'No fault seen as far as the traces reach',
    text: `Not looked at: ${where} from the near end. Where the traces reach, they read like the baseline. ${limitInWords(view)} Shoot with a range past the end, and with a longer pulse or averaging until the end is seen.`,
    unseen,
  }
}

function unseenStretches(view: LocateView): [number, number][] {
  const seen = view.differences
    .flatMap((curve) => curve.limits.map(({ from, to }) => [from, to] as const))
    .sort((a, b) => a[0] - b[0])
  const least = Math.max(GAP_METRES, GAP_PART * view.groundLength)
  const gaps: [number, number][] = []
  let reached = 0
  for (const [from, to] of [...seen, [view.groundLength, view.groundLength] as const]) {
    if (from - reached > least) gaps.push([reached, Math.min(from, view.groundLength)])
    reached = Math.max(reached, to)
  }
  return gaps
}

/** What the comparison would have seen at its best and at its worst stretch. */
function limitInWords(view: LocateView): string {
  const limits = view.differences.flatMap((curve) => curve.limits.map((limit) => limit.loss))
  if (limits.length === 0) return ''
  const [best, worst] = [Math.min(...limits), Math.max(...limits)]
  return worst - best < 0.01
    ? `An added loss of ${worst.toFixed(2)} dB or more would have been seen.`
    : `An added loss of ${best.toFixed(2)} dB or more would have been seen at the best, ${worst.toFixed(2)} dB at the worst stretch.`
}
