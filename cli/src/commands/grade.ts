import { gradeDocument, judgeEndFace, PictureError, type ConnectorClass } from '@cold-thread/core/endFace'
import type { Output } from '../output.ts'
import { readPicture } from '../readPicture.ts'
import { Refusal } from '../refusal.ts'

/**
 * Grades pictures of end faces. Several, or `--jsonl`: one document a line; a refused picture is reported in its place and
 * the rest go on.
 * @throws Refusal for a single picture
 */
export async function grade(
  files: readonly string[],
  options: { class: ConnectorClass; jsonl?: boolean },
  out: Output,
): Promise<number> {
  if (files.length === 1 && !options.jsonl) {
    out.json(await graded(files[0]!, options.class))
    return 0
  }
  let refused = 0
  for (const file of files) {
    try {
      out.line(await graded(file, options.class))
    } catch (error) {
      if (!(error instanceof Refusal)) throw error
      refused++
      const { code, message } = error
      out.line({ file, error: { code, message } })
      out.message(message)
    }
  }
  return refused > 0 ? 1 : 0
}

async function graded(file: string, connector: ConnectorClass) {
  const picture = await readPicture(file)
  try {
    return gradeDocument(file, judgeEndFace(picture, connector), connector)
  } catch (error) {
    if (error instanceof PictureError) throw new Refusal(`${file}: ${error.message}`, error.code)
    throw error
  }
}
