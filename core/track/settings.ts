/** What a tracker starts with. */

/** Half of a point's pattern, and pixels round the expected place within which it is looked for, in plate pixels. */
export const PATTERN = 10;
export const SEARCH = 32;
