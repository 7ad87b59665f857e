import { adviceDocument, sessionPatterns } from '@cold-thread/core/join'
import { readSpliceSession } from '../input.ts'
import type { Output } from '../output.ts'

/** What a session's splices show together, one document a line after each of them, as the bench would have seen it then. */
export function advise(file: string, out: Output): number {
  const { attempts, reference, refusedCalibrations } = readSpliceSession(file)
  const care = { calibrationsRefused: refusedCalibrations, arcsOver: false, bladeOver: false }
  for (let after = 1; after <= attempts.length; after++)
    out.line(adviceDocument(after, sessionPatterns(attempts.slice(0, after), reference, care)))
  return 0
}
