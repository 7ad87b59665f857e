import { SUSPICION_RULES, type Cause } from '@cold-thread/core/locate'

/** A cause of a fault by its name. */
export function causeName(cause: Cause): string {
  return SUSPICION_RULES.causes.find((one) => one.cause === cause)?.name ?? cause
}
