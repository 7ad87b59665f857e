/**
 * Counts up when what server and app say to each other changes so that an older one would misread it. Every answer of the
 * API carries it: an app that is older waits for its newer version and keeps what was entered until then.
 */
export const CONTRACT_VERSION = 1
export const CONTRACT_HEADER = 'cold-thread-contract'
