import { FAULT_CAUSES } from '@cold-thread/contract'
import type { Cause } from '@cold-thread/core/locate'
import { useState } from 'react'
import { causeName } from '../../ui/causeName.ts'
import { SelectField } from '../../ui/SelectField.tsx'
import type { StageProps } from '../callout/stageProps.ts'
import { useLocated } from '../locate/useLocated.ts'

/** A cause that Locate holds for so likely is offered to the one who signs. */
const LIKELY = 0.5
const NOT_KNOWN = 'not known'

interface CauseChoice {
  value: Cause | null
  /** The likeliest by the traces, with its chance; null while none stands out. */
  likeliest: { cause: Cause; probability: number } | null
  choose(cause: Cause | null): void
}

/** What the fault was: as chosen, or else what Locate holds for likeliest. */
export function useCause({ callout, plant }: StageProps): CauseChoice {
  const located = useLocated({ callout, plant })
  const [chosen, setChosen] = useState<Cause | null | undefined>(undefined)
  const first = located.status === 'ready' ? located.view.faults[0]?.causes[0] : undefined
  const likeliest = first && first.probability >= LIKELY ? first : null
  return { value: chosen === undefined ? (likeliest?.cause ?? null) : chosen, likeliest, choose: setChosen }
}

/** Asked of the lead who closes a callout: it is what the statistics of causes count. */
export function CauseField({ value, likeliest, choose }: CauseChoice) {
  return (
    <SelectField
      label="What it was"
      value={value ?? NOT_KNOWN}
      onChoose={(next: string) => choose(FAULT_CAUSES.find((one) => one === next) ?? null)}
      helperText={
        likeliest
          ? `by traces and evidence: ${causeName(likeliest.cause)}, ${(100 * likeliest.probability).toFixed(0)} %`
          : 'as it was found when it was opened'
      }
      options={[[NOT_KNOWN, NOT_KNOWN], ...FAULT_CAUSES.map((one) => [one, causeName(one)] as [string, string])]}
    />
  )
}
