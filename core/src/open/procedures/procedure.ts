import type { CautionId } from './cautions.ts'
import type { Condition } from '../sheet/facts.ts'

/** Parts of a sheet, in the order of the work. */
export const PARTS = ['site', 'identify', 'open', 'prepare', 'enter', 'joints', 'close'] as const
export type Part = (typeof PARTS)[number]

export const PART_WORDS: Record<Part, string> = {
  site: 'At the place',
  identify: 'Before any cut',
  open: 'Open',
  prepare: 'Prepare the cable',
  enter: 'Into the closure',
  joints: 'Joints',
  close: 'Close',
}

/** What lies open between a step and the one that covers it. */
export const EXPOSURES = ['closure open', 'fibers bare', 'cable cut', 'pressure in the closure', 'trays out'] as const
export type Exposure = (typeof EXPOSURES)[number]

/** Something measured, counted or read in a step. */
export interface StepField {
  id: string
  label: string
  unit: 'mm' | 'm' | '°C' | 'kPa' | 's' | 'min' | 'dBm' | ''
  /** `count`: a whole number that must agree with the record, counted again where it does not. */
  kind: 'number' | 'count' | 'text'
  /** Expected: a figure, or the name of a length or of a fact (`fibers`, `groups`). */
  nominal?: number | string | undefined
  /** Allowed on either side of the nominal, in the field's unit. */
  tolerance?: number | undefined
}

/** A step that must be done before, with the reason. */
export interface Lock {
  /** `procedure.step` */
  step: string
  why: string
}

/** One step of a procedure. Lengths and facts stand in its text by name, in braces. */
export interface ProcedureStep {
  id: string
  do: string
  why?: string | undefined
  cautions?: readonly CautionId[] | undefined
  /** The person says each caution's own sentence: life is at stake, and the step can't be left out. */
  acknowledge?: boolean | undefined
  /** Kinds of kit. */
  tools?: readonly string[] | undefined
  parts?: readonly string[] | undefined
  fields?: readonly StepField[] | undefined
  photo?: boolean | undefined
  /** Waits for a lead's word; why. */
  hold?: string | undefined
  locks?: readonly Lock[] | undefined
  when?: Condition | undefined
  /** Ports and trays are recorded here, as found or as left. */
  closureState?: 'found' | 'left' | undefined
  /** Minutes that something takes by itself; those of a sheet that is not here are entered. */
  timer?: number | 'by its sheet' | undefined
  /** Loss is watched meanwhile. */
  watch?: boolean | undefined
  /** A test with its own readings and judgement, or one that the person judges by looking. */
  test?: 'pressure' | 'look' | undefined
  /** What is thrown away when the test fails: a kind of kit. */
  wastes?: string | undefined
  exposes?: readonly Exposure[] | undefined
  covers?: readonly Exposure[] | undefined
}

/** A procedure: steps for one part of the work, with what it holds for. Data, kept by version. */
export interface Procedure {
  id: string
  version: number
  name: string
  part: Part
  /** Place among procedures of the same part. */
  rank: number
  for: Condition
  source: string
  steps: readonly ProcedureStep[]
}

/** `procedure.step`, as locks and entries name it. */
export function stepId(procedure: Pick<Procedure, 'id'>, step: Pick<ProcedureStep, 'id'>): string {
  return `${procedure.id}.${step.id}`
}
