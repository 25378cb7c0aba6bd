/** Where the marks of the demo film truly are. */
import { readFileSync } from 'node:fs';

/** Where a mark is on each frame, in pixels of the plate, and whether it is in sight. */
export type Way = [x: number, y: number, seen: boolean][];

/** The way of each mark of a clip. */
export const marksOf = (clip: string): Record<string, Way> => JSON.parse(readFileSync(`demo/clips/${clip}.marks.json`, 'utf8'));
