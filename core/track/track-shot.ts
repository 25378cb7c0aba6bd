/** Tracks points and regions through a shot, from the frame where each was set, forwards and backwards. */
import type { Gray, Region } from '../image/picture.ts';
import type { Homography, MotionModel } from '../math/homography.ts';
import type { Area } from './area.ts';
import { giveBack, pyramidOf, takeMemory } from './pyramid.ts';
import { type Found, Tracker } from './tracker.ts';

export interface TrackTask {
  area: Area;
  /** A region, not a point. */
  region: boolean;
  model: MotionModel;
  /** Plate pixels round the expected place within which it is looked for. */
  search: number;
}

/** Goes on from a frame after the one where the areas were set, with where they are there. */
export interface Resumed {
  frame: number;
  homographies: readonly Homography[];
}

export interface TrackedFrame {
  frame: number;
  /** Of each task, in their order. */
  found: Found[];
}

/** Frames of the plate as luma in grey levels, 0 to 255. */
export type LumaSource = (frame: number) => Promise<Gray>;

/** Smallest share of the picture from which on all of it is taken. */
const MOST_OF_IT = 0.9;

function together(trackers: readonly Tracker[], { width, height }: Gray): Region | undefined {
  const all = { left: width, top: height, right: 0, bottom: 0 };
  for (const tracker of trackers) {
    const { left, top, right, bottom } = tracker.reach();
    // What went out of the picture still needs a part of it to come back into.
    all.left = Math.min(all.left, Math.max(0, Math.min(left, width - 64)));
    all.top = Math.min(all.top, Math.max(0, Math.min(top, height - 64)));
    all.right = Math.max(all.right, Math.min(width, Math.max(right, 64)));
    all.bottom = Math.max(all.bottom, Math.min(height, Math.max(bottom, 64)));
  }
  return (all.right - all.left) * (all.bottom - all.top) > MOST_OF_IT * width * height ? undefined : all;
}

/**
 * Follows the tasks, all set on frame `start`, to frame `end` (either side), a frame at a time; the start itself is not given.
 * With `draft`, fewer samples are taken and quality is told without tracking back. With `from`, the frames as far as that are left out.
 */
export async function* trackTowards(
  luma: LumaSource,
  tasks: readonly TrackTask[],
  start: number,
  end: number,
  draft = false,
  from?: Resumed,
): AsyncGenerator<TrackedFrame> {
  const step = end < start ? -1 : 1;
  if (tasks.length === 0 || start === end) return;
  const first = await luma(start);
  const memory = takeMemory(first);
  try {
    const whole = pyramidOf(first, undefined, memory);
    const trackers = tasks.map(({ area, region, model, search }) => new Tracker(whole, area, { model, search, region, draft }));
    if (from && from.frame !== start) {
      const pyramid = pyramidOf(await luma(from.frame), undefined, memory);
      for (const [i, tracker] of trackers.entries()) tracker.resume(pyramid, from.homographies[i]);
    }
    for (let frame = (from?.frame ?? start) + step; ; frame += step) {
      const picture = await luma(frame);
      const pyramid = pyramidOf(picture, together(trackers, picture), memory);
      yield { frame, found: trackers.map((t) => t.step(pyramid)) };
      if (frame === end) return;
    }
  } finally {
    giveBack(memory);
  }
}
