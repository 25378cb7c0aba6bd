/** The frame on which there is first something to see of the work on a shot. */
import { placesOf } from './follow.ts';
import { kindOfPart } from './part-kinds/index.ts';
import type { ShotDocument } from './schema.ts';

/** The first painted, keyed or tracked frame of the nearest subject that has one; 0 where nothing was done yet. */
export function firstWorkedFrame({ cast, tracks }: ShotDocument): number {
  for (const { parts } of cast) {
    const frames = parts.flatMap((part) => kindOfPart(part).workedOn(part));
    if (frames.length > 0) return Math.min(...frames);
  }
  const tracked = tracks.flatMap((t) => placesOf(t).flatMap((k) => (k.value.anchor ? [k.frame] : [])));
  return tracked.length > 0 ? Math.min(...tracked) : 0;
}
