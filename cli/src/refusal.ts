import { CodedError } from '@cold-thread/core/errors'

/** An input was refused: one clear line, exit status 1. */
export class Refusal extends CodedError {
  readonly block: string | null
  readonly byte: number | null

  constructor(message: string, code = 'refused', block: string | null = null, byte: number | null = null) {
    super(code, message)
    this.block = block
    this.byte = byte
  }
}
