/** Which effects and elements change no pixel of the finished picture, and why. */
import type { LaneItem, ShotDocument } from '../document/schema.ts';
import type { Rgba, Size } from '../image/picture.ts';
import { mattesOf } from '../matte/mattes.ts';
import type { Sources } from '../matte/sources.ts';
import { showingOnly } from './lane-items.ts';
import { seenOf } from './lanes.ts';
import { isAsked } from './plan.ts';
import { renderPicture } from './render-picture.ts';

/** Difference of a channel, of 1, from which on a change is seen: half a step of 8 bit. */
const SEEN = 0.5 / 255;

/** Covered by others; its lane has no room; it changes nothing even alone. */
export type Why = 'covered' | 'no-room' | 'no-change';

/** What is not seen on a frame, and whether it was looked for on others in vain. */
export interface Unseen {
  id: string;
  why: Why;
  nowhere: boolean;
}

function differ(a: Rgba, b: Rgba): boolean {
  for (let i = 0; i < a.data.length; i++) if (Math.abs(a.data[i] - b.data[i]) > SEEN) return true;
  return false;
}

/** Of a frame, seen at a size, what is asked to be seen and is not. One rendering for each item, so the size should be small. */
export async function unseenOn(document: ShotDocument, frame: number, sources: Sources, size: Size): Promise<Map<string, Why>> {
  const asked = document.lanes.filter((item) => isAsked(item, frame));
  const unseen = new Map<string, Why>();
  if (asked.length === 0) return unseen;
  const picture = (shown: readonly LaneItem[]) => renderPicture(showingOnly(document, shown), frame, sources, size);
  const mattes = mattesOf(document, sources, size);
  const whole = await picture(asked);
  let plate: Rgba | null = null;
  for (const item of asked) {
    if (differ(whole, await picture(asked.filter((other) => other !== item)))) continue;
    plate ??= await picture([]);
    if (differ(plate, await picture([item]))) unseen.set(item.id, 'covered');
    else {
      const room = await seenOf(item, { document, frame, size, matte: (id) => mattes(id, frame), room: null });
      unseen.set(item.id, room && !room.data.some((v) => v > SEEN) ? 'no-room' : 'no-change');
    }
  }
  return unseen;
}

/** Frames on which to look whether something is seen anywhere: spread over those on which it lives. */
export function framesToLook(item: LaneItem, frames: number, count: number): number[] {
  const ranges = item.lives.length > 0 ? item.lives : [{ first: 0, last: frames - 1 }];
  const all = ranges.flatMap(({ first, last }) => {
    const end = Math.min(last, frames - 1);
    return first > end
      ? []
      : Array.from({ length: Math.min(count, end - first + 1) }, (_, i) => first + Math.round((i * (end - first)) / Math.max(1, count - 1)));
  });
  const step = Math.max(1, all.length / count);
  return [...new Set(Array.from({ length: Math.min(count, all.length) }, (_, i) => all[Math.floor(i * step)]))];
}
