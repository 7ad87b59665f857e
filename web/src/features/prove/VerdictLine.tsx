import type { Verdict } from '@cold-thread/core/prove'
import { Judgement, type Tone } from '../../ui/Judgement.tsx'

export const VERDICTS: Record<Verdict, { tone: Tone; word: string }> = {
  restored: { tone: 'good', word: 'Restored' },
  'restored-with-remarks': { tone: 'close', word: 'Restored, with remarks' },
  'not-restored': { tone: 'bad', word: 'Not restored' },
  'cannot-tell': { tone: 'unknown', word: 'Can’t tell yet' },
}

export function VerdictLine({ verdict }: { verdict: Verdict }) {
  return <Judgement {...VERDICTS[verdict]} large />
}
