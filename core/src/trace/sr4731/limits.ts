/** Format limits, checked before anything is allocated. */
export const MAX_FILE_BYTES = 16 * 1024 * 1024
export const MAX_POINTS = 2_000_000
