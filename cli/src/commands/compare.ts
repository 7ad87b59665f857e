import { compareDocument } from '@cold-thread/core/report'
import { CompareError, compareTraces } from '@cold-thread/core/trace'
import { readTrace } from '../input.ts'
import type { Output } from '../output.ts'
import { Refusal } from '../refusal.ts'

export function compare(baseline: string, present: string, out: Output): number {
  try {
    out.json(compareDocument(compareTraces(readTrace(baseline), readTrace(present))))
    return 0
  } catch (error) {
    if (error instanceof CompareError) throw new Refusal(`${present}: ${error.message}`, error.code)
    throw error
  }
}
