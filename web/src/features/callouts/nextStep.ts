import type { Callout, Stage } from '@cold-thread/contract'

/** What a callout waits for, in words. */
export function nextStep(callout: Callout): string {
  switch (callout.state) {
    case 'open':
      if (callout.plan === 'approved') return 'Next: carry out the approved plan'
      if (callout.plan === 'saved') return 'Next: a lead approves the plan'
      return callout.shot ? 'Next: plan the repair' : 'Next: shoot the link and place the fault'
    case 'proving':
      return 'Next: measure again and prove the repair'
    case 'closed':
      return 'Restored and signed'
  }
}

/** The stage to open a callout on. */
export function stageFor(callout: Callout): Stage {
  if (callout.state === 'open') return callout.plan ? 'plan' : 'locate'
  return callout.state === 'proving' ? 'prove' : 'close'
}
