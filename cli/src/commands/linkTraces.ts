import type { Shot } from '@cold-thread/core/locate'
import type { PlantBundle } from '@cold-thread/core/plant'
import { CodedError } from '@cold-thread/core/errors'
import { CompareError } from '@cold-thread/core/trace'
import { readShots } from '../input.ts'
import { Refusal } from '../refusal.ts'

/** Options that `locate` and `prove` share: traces in pairs, with and without `-b`, and cords. */
export interface LinkTraceOptions {
  plant: string
  link: string
  baseline?: string[]
  baselineB?: string[]
  present?: string[]
  presentB?: string[]
  after?: string[]
  afterB?: string[]
  launch?: number
  receive?: number
  launchBaseline?: number
  launchBaselineB?: number
  launchPresent?: number
  launchPresentB?: number
  launchAfter?: number
  launchAfterB?: number
}

export function shotsOf(kind: 'baseline' | 'present' | 'after', plant: PlantBundle, options: LinkTraceOptions): Shot[] {
  const name = (kind[0]!.toUpperCase() + kind.slice(1)) as 'Baseline' | 'Present' | 'After'
  const from = (files: string[] | undefined, direction: 'ab' | 'ba', launch: number | undefined) =>
    readShots(files ?? [], direction, plant, options.link, {
      launch: launch ?? options.launch,
      receive: options.receive,
    })
  return [
    ...from(options[kind], 'ab', options[`launch${name}`]),
    ...from(options[`${kind}B`], 'ba', options[`launch${name}B`] ?? options[`launch${name}`]),
  ]
}

/** Turns what the core refuses into one clear line. */
export function refusing<T>(what: () => T): T {
  try {
    return what()
  } catch (error) {
    if (error instanceof CompareError) throw new Refusal(error.message, error.code)
    if (error instanceof CodedError) throw new Refusal(error.message, 'cannot-compute')
    throw error
  }
}
