import { analyzeDocument } from '@cold-thread/core/report'
import { readTrace } from '../input.ts'
import type { Output } from '../output.ts'
import { Refusal } from '../refusal.ts'

/** Several files, or `--jsonl`: one document a line; a refused file is reported in its place and the rest go on. */
export function analyze(files: readonly string[], options: { jsonl?: boolean }, out: Output): number {
  if (files.length === 1 && !options.jsonl) {
    out.json(analyzeDocument(files[0]!, readTrace(files[0]!)))
    return 0
  }
  let refused = 0
  for (const file of files) {
    try {
      out.line(analyzeDocument(file, readTrace(file)))
    } catch (error) {
      if (!(error instanceof Refusal)) throw error
      refused++
      const { code, message, block, byte } = error
      out.line({ file, error: { code, message, block, byte } })
      out.message(message)
    }
  }
  return refused > 0 ? 1 : 0
}
