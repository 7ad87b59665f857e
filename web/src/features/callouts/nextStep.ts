import type { Callout, Stage } from '@cold-thread/contract'

/** What a callout waits for, in words. */
export function nextStep(callout: Callout): string {
  switch (callout.state) {
    case 'open':
      return 'Next: shoot the link and place the fault'
    case 'proving':
      return 'Next: measure again and prove the repair'
    case 'closed':
      return 'Restored and signed'
  }
}

/** The stage to open a callout on. */
export function stageFor(callout: Callout): Stage {
  return callout.state === 'open' ? 'locate' : callout.state === 'proving' ? 'prove' : 'close'
}
