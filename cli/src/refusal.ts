/** An input was refused: one clear line, exit status 1. */
export class Refusal extends Error {
  readonly code: string
  readonly block: string | null
  readonly byte: number | null

  constructor(message: string, code = 'refused', block: string | null = null, byte: number | null = null) {
    super(message)
    this.name = 'Refusal'
    this.code = code
    this.block = block
    this.byte = byte
  }
}
