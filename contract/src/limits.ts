/** The largest photo or file that is kept, bytes. */
export const MAX_ATTACHMENT_BYTES = 20_000_000
