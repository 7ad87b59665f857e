/** Where a command writes: documents to stdout, messages to stderr. */
export interface Output {
  /** One document, indented unless compact output was asked for. */
  json(document: unknown): void
  /** One document on one line. */
  line(document: unknown): void
  message(text: string): void
}

export const processOutput: Output = {
  json: (document) => process.stdout.write(JSON.stringify(document, null, 2) + '\n'),
  line: (document) => process.stdout.write(JSON.stringify(document) + '\n'),
  message: (text) => process.stderr.write(text + '\n'),
}
