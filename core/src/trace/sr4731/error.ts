import { CodedError } from '../../errors/index.ts'

/**
 * Stable codes of what can be wrong with a trace file.
 * `not-a-trace` no SR-4731 structure at all; `truncated` a block or field runs past the file's or block's end;
 * `bad-count` a count that its block can't hold; `bad-block` a block that contradicts the format;
 * `missing-block` a block without which there is no trace; `too-large` over the size or point limit.
 */
export type TraceFileErrorCode =
  'not-a-trace' | 'empty' | 'truncated' | 'bad-count' | 'bad-block' | 'missing-block' | 'too-large'

/** A trace file was refused: what is wrong, in which block, at which byte of the file. */
export class TraceFileError extends CodedError<TraceFileErrorCode> {
  readonly block: string
  readonly byte: number

  constructor(code: TraceFileErrorCode, message: string, block: string, byte: number) {
    super(code, `${message} (block ${block}, byte ${byte})`, `block ${block}, byte ${byte}`)
    this.block = block
    this.byte = byte
  }
}

/** Something imperfect that does not stop the trace from being used. */
export interface TraceWarning {
  code: string
  message: string
}
