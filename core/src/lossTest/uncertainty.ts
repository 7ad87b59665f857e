import type { SetReference } from './reference.ts'
import { MOST_DRIFT } from './reference.ts'

/** One thing that a figure may be off by: its standard uncertainty, dB. */
export interface Component {
  name: string
  sigma: number
}

/** Combined standard uncertainty: the root of the sum of squares of what is independent (GUM, JCGM 100:2008, 5.1.2). */
export function combined(components: readonly Component[]): number {
  return Math.hypot(...components.map(({ sigma }) => sigma))
}

/** Standard uncertainty of a figure that lies anywhere within ± a half-width (JCGM 100:2008, 4.3.7). */
export function rectangular(halfWidth: number): number {
  return halfWidth / Math.sqrt(3)
}

/** How a loss was measured, as far as it says how sure the loss is. */
export interface TestMeans {
  /** Reference-grade connectors on the test cords: about 0.1 dB multimode, 0.2 dB single-mode a pair at most. */
  referenceGrade: boolean
  /** Encircled flux at the launch (IEC 61280-4-1, multimode); null for single-mode. */
  encircledFlux: boolean | null
}

/** One meter reading against another (judgement: linearity and last digit of common meters). */
const METER = 0.03
/** One connection to a test cord made anew, dB (judgement). */
const CONNECTION = { referenceGrade: 0.05, ordinary: 0.12 } as const
/** Multimode launch: what it may change of the loss itself, as ± part of it (from memory: 10 % within the encircled-flux limits). */
const LAUNCH = { withFlux: 0.1, without: 0.25 } as const

/**
 * What a loss by source and meter may be off by.
 * @param loss dB
 */
export function lossComponents(
  loss: number,
  reference: Pick<SetReference, 'method' | 'level' | 'checks'>,
  means: TestMeans,
): Component[] {
  const worst = reference.checks.length > 0 ? Math.max(...driftsOf(reference)) : MOST_DRIFT
  const connection = means.referenceGrade ? CONNECTION.referenceGrade : CONNECTION.ordinary
  return [
    { name: 'meter', sigma: METER },
    {
      name:
        reference.checks.length > 0
          ? 'drift of the reference, as checked'
          : 'drift of the reference, not checked since',
      sigma: rectangular(worst),
    },
    {
      name: means.referenceGrade ? 'two connections to reference-grade cords' : 'two connections to ordinary cords',
      sigma: connection * Math.SQRT2,
    },
    ...(means.encircledFlux === null
      ? []
      : [
          {
            name: means.encircledFlux ? 'launch within encircled flux' : 'launch not known to be within encircled flux',
            sigma: rectangular((means.encircledFlux ? LAUNCH.withFlux : LAUNCH.without) * Math.abs(loss)),
          },
        ]),
  ]
}

function driftsOf({ level, checks }: Pick<SetReference, 'level' | 'checks'>): number[] {
  return checks.map((check) => Math.abs(check.level - level))
}
