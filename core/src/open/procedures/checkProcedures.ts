import { CodedError } from '../../errors/index.ts'
import { FACT_NAMES, type RunSheet } from '../sheet/compile.ts'
import { LENGTH_RULES } from '../drawings/lengths.ts'
import { PARTS, stepId, type Procedure } from './procedure.ts'

/** What is wrong with a procedure, and where. */
export class ProcedureError extends CodedError<'procedure-refused'> {
  constructor(place: string, message: string) {
    super('procedure-refused', `${place}: ${message}`, place)
  }
}

const NAMES = new Set<string>([...LENGTH_RULES.map(({ id }) => id), ...FACT_NAMES])

/**
 * Refuses procedures that could not be followed: a step twice, a lock on a step that is not there or comes later in the
 * order of its procedure, locks in a circle, a length that no rule has.
 * @throws ProcedureError naming the step
 */
export function checkProcedures(procedures: readonly Procedure[]): void {
  const all = new Map<string, readonly string[]>()
  const ids = new Set<string>()
  for (const procedure of procedures) {
    if (ids.has(procedure.id)) throw new ProcedureError(procedure.id, 'this procedure is there twice')
    ids.add(procedure.id)
    if (procedure.steps.length === 0) throw new ProcedureError(procedure.id, 'it has no step')
    for (const step of procedure.steps) {
      const id = stepId(procedure, step)
      if (all.has(id)) throw new ProcedureError(id, 'this step is there twice')
      all.set(
        id,
        (step.locks ?? []).map((lock) => lock.step),
      )
      const named = [...step.do.matchAll(/\{([^}]*)\}/g)].map(([, name]) => name!)
      const fields = (step.fields ?? []).flatMap(({ nominal }) => (typeof nominal === 'string' ? [nominal] : []))
      for (const name of [...named, ...fields])
        if (!NAMES.has(name)) throw new ProcedureError(id, `no length or fact is called “${name}”`)
      if (step.acknowledge && (step.cautions ?? []).length === 0)
        throw new ProcedureError(id, 'a step to be acknowledged needs a caution')
    }
  }
  for (const [id, locks] of all)
    for (const lock of locks)
      if (!all.has(lock)) throw new ProcedureError(id, `it waits for “${lock}”, which is not there`)
  for (const { id, steps } of procedures) {
    const order = steps.map((step) => stepId({ id }, step))
    for (const [at, step] of steps.entries())
      for (const lock of step.locks ?? [])
        if (order.indexOf(lock.step) >= at)
          throw new ProcedureError(order[at]!, `it waits for “${lock.step}”, which comes later`)
  }
  const byId = new Map(procedures.map((procedure) => [procedure.id, procedure]))
  for (const procedure of procedures)
    for (const step of procedure.steps)
      for (const lock of step.locks ?? []) {
        const other = byId.get(lock.step.split('.')[0]!)!
        if (other !== procedure && isBefore(procedure, other))
          throw new ProcedureError(stepId(procedure, step), `it waits for “${lock.step}”, which comes later`)
      }
  const state = new Map<string, 'in' | 'out'>()
  const visit = (id: string) => {
    if (state.get(id) === 'out') return
    if (state.get(id) === 'in') throw new ProcedureError(id, 'steps wait for each other in a circle')
    state.set(id, 'in')
    for (const lock of all.get(id)!) visit(lock)
    state.set(id, 'out')
  }
  for (const id of all.keys()) visit(id)
}

/** Whether a procedure's steps come before another's in every sheet. */
function isBefore(a: Procedure, b: Procedure): boolean {
  const [x, y] = [PARTS.indexOf(a.part), PARTS.indexOf(b.part)]
  return x < y || (x === y && a.rank < b.rank)
}

/**
 * The procedures in use: an operator's own take the place of those with their id. @throws ProcedureError as above
 */
export function withOwnProcedures(shipped: readonly Procedure[], own: readonly Procedure[]): Procedure[] {
  const all = [...shipped.filter(({ id }) => !own.some((one) => one.id === id)), ...own]
  checkProcedures(all)
  return all
}

/**
 * Refuses a sheet that no procedures can have given: a step twice, a lock on a step that is not there or comes later, a
 * length that it does not have.
 * @throws ProcedureError naming the step
 */
export function checkSheet({ steps, lengths }: Pick<RunSheet, 'steps' | 'lengths'>): void {
  const before = new Set<string>()
  const all = new Set(steps.map(({ id }) => id))
  for (const { id, do: words, locks = [] } of steps) {
    if (before.has(id)) throw new ProcedureError(id, 'this step is there twice')
    for (const { step } of locks) {
      if (!all.has(step)) throw new ProcedureError(id, `it waits for “${step}”, which is not there`)
      if (!before.has(step)) throw new ProcedureError(id, `it waits for “${step}”, which comes later`)
    }
    for (const [, name] of words.matchAll(/\{([^}]*)\}/g))
      if (!Object.hasOwn(lengths, name!)) throw new ProcedureError(id, `it has no length “${name}”`)
    before.add(id)
  }
}
