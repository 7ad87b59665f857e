/**
 * What a person, a file or a record got wrong: told in one line, and nothing was changed. Whatever else is thrown is a
 * fault of the program, and no caller may take it for an answer.
 *
 * Used as it is where the message is all that is to be known of it; a kind of error of its own extends it.
 */
export class CodedError<Code extends string = string> extends Error {
  /** Stable: callers and tests go by it, never by the wording. */
  readonly code: Code
  /** Where, in the words of who made the mistake: a field, a row, a block and byte of a file. */
  readonly place: string | undefined

  constructor(code: Code, message: string, place?: string) {
    super(message)
    this.name = new.target.name
    this.code = code
    this.place = place
  }
}

/** A fault of the program that a check in it found: never a user's, and never shown to one. */
export class Fault extends Error {
  constructor(message: string) {
    super(message)
    this.name = 'Fault'
  }
}
