import { CodedError } from '@cold-thread/core/errors'
import { TraceFileError, CompareError } from '@cold-thread/core/trace'
import { TASKS, type TaskName } from './tasks.ts'

/** What a job's failure looks like across the thread's border, where classes get lost. */
export interface JobFailure {
  failure:
    | { kind: 'trace'; code: TraceFileError['code']; message: string; block: string; byte: number }
    | { kind: 'compare'; code: CompareError['code']; message: string }
    | { kind: 'coded'; code: string; message: string; place: string | undefined }
}

export default async function run({ name, input }: { name: TaskName; input: never }): Promise<unknown> {
  try {
    return { value: await TASKS[name](input) }
  } catch (error) {
    if (error instanceof TraceFileError) {
      const message = error.message.replace(/ \(block .*\)$/, '')
      return { failure: { kind: 'trace', code: error.code, message, block: error.block, byte: error.byte } }
    }
    if (error instanceof CompareError) return { failure: { kind: 'compare', code: error.code, message: error.message } }
    if (error instanceof CodedError)
      return { failure: { kind: 'coded', code: error.code, message: error.message, place: error.place } }
    throw error
  }
}
