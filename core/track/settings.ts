/** What a tracker starts with. */

/** Half of a point's pattern, in plate pixels. */
export const PATTERN = 10;

/** Plate pixels round the expected place within which something is looked for, on a plate of so many lines. */
export const searchOn = (lines: number): number => Math.max(32, (32 * lines) / 1080);
