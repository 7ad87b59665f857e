/** The largest photo or file that is kept, bytes. */
export const MAX_ATTACHMENT_BYTES = 20_000_000

/** The largest callout that is taken in as one file, bytes. */
export const MAX_CALLOUT_BYTES = 400_000_000
