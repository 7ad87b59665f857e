import { analyzeTrace, pulseLengthOf } from '../src/trace/index.ts'
import { drawTrace } from '../test/straightTrace.ts'

/** Variance at one end of a least-squares line through n points, its window starting `gap` points away, per unit variance. */
function lineEndVariance(n: number, gap: number): number {
  const spread = (n * (n * n - 1)) / 12
  return 1 / n + (gap + (n - 1) / 2) ** 2 / spread
}

/**
 * Prints the scatter of splice losses over the Cramér-Rao bound of two straight lines with a known break, each with its
 * own slope, for the same windows with the noise known and the pulse length after the step left out.
 */
export function benchLossBound(rounds: number): void {
  console.log('\nsplice loss: scatter over the bound of two lines (Cramér-Rao, noise known)')
  console.log('points a side   noise, dB   bound, dB   RMS error, dB   ratio')
  for (const side of [150, 600, 2500])
    for (const noise of [0.01, 0.03, 0.1]) {
      const errors: number[] = []
      let bound = 0
      for (let seed = 1; seed <= rounds; seed++) {
        const at = side + 60
        const trace = drawTrace({
          points: 2 * side + 120,
          noise,
          seed: 70_000 + 97 * seed + side,
          steps: [{ at, rise: -0.8 }],
        })
        const analysis = analyzeTrace(trace)
        const event = analysis.events.find((candidate) => candidate.kind === 'step')
        if (!event || event.loss === null) continue
        errors.push(event.loss - 0.8)
        const pulse = pulseLengthOf(trace) / trace.spacing
        const left = at - analysis.working.from
        const right = trace.levels.length - at - pulse
        bound = noise * Math.sqrt(lineEndVariance(left, 0) + lineEndVariance(right, pulse))
      }
      const rms = Math.sqrt(errors.reduce((sum, error) => sum + error * error, 0) / errors.length)
      console.log(
        [
          String(side).padEnd(15),
          noise.toFixed(2).padStart(9),
          bound.toFixed(4).padStart(11),
          rms.toFixed(4).padStart(15),
          (rms / bound).toFixed(2).padStart(7),
          errors.length < rounds ? ` (${errors.length} of ${rounds} found)` : '',
        ].join(' '),
      )
    }
}
