// From the core, by `make client`; never edited.

/** Test pressure under which a person who reads bar reads millibar, Pa. */
export const LOW_HEAD = 20000
