/** The speed of the finished picture: which time of the shot each frame of what is written shows. */
import type { Timing } from '../document/schema.ts';
import { clamp } from '../math/clamp.ts';
import { numberAt } from '../time/animated.ts';
import { integralOf } from '../time/integral.ts';
import type { FrameRange } from '../time/ranges.ts';

/** Slower than that it would never end: per cent. */
const SLOWEST = 1;

export interface TimeMap {
  /** Frames that are written. */
  frames: number;
  /** The time of the shot that each of them shows, in frames of it. */
  timeAt(frame: number): number;
}

/** A stretch of frames that are written, and the time of the shot at a place in it. */
interface Stretch {
  frames: number;
  timeAt(frame: number): number;
}

/**
 * A range of the shot once through: quicker and slower by the speed there, and standing still where it is held. A frame that is written
 * lasts as long as one of the shot.
 */
function onceThrough({ speed, holds }: Timing, { first, last }: FrameRange): Stretch {
  // How many frames are written for one of the shot, summed up; told from its first frame, and clear of where keys begin.
  const written = integralOf((time) => 100 / Math.max(SLOWEST, numberAt(speed, time)));
  const upTo = (time: number) => written(first, time);
  const still = [...holds].filter((h) => h.frame >= first && h.frame <= last && h.frames > 0).sort((a, b) => a.frame - b.frame);
  const whole = upTo(last) + still.reduce((sum, h) => sum + h.frames, 0);
  const timeAt = (frame: number): number => {
    let at = frame;
    for (const hold of still) {
      const reached = upTo(hold.frame);
      if (at <= reached) break;
      if (at <= reached + hold.frames) return hold.frame;
      at -= hold.frames;
    }
    let [low, high] = [first, last];
    // As exact as a thousandth of a frame.
    while (high - low > 1e-4) {
      const middle = (low + high) / 2;
      if (upTo(middle) <= at) low = middle;
      else high = middle;
    }
    const time = (low + high) / 2;
    // A sum may miss a whole frame by a hair.
    return clamp(Math.abs(time - Math.round(time)) < 1e-3 ? Math.round(time) : time, first, last);
  };
  return { frames: Math.floor(whole + 1e-6) + 1, timeAt };
}

/** The whole of what is written of a range of the shot. */
export function timeMap(timing: Timing, range: FrameRange): TimeMap {
  const once = onceThrough(timing, range);
  const back = (frame: number) => once.timeAt(once.frames - 1 - frame);
  // There and back again shows neither end twice.
  const turns = timing.plays === 'to-and-fro' && once.frames > 1;
  const round = turns ? 2 * once.frames - 2 : once.frames;
  const frames = round * timing.times + (turns ? 1 : 0);
  return {
    frames,
    timeAt(frame) {
      const at = turns && frame === frames - 1 ? 0 : clamp(frame, 0, frames - 1) % round;
      if (timing.plays === 'backwards') return back(at);
      return at < once.frames ? once.timeAt(at) : once.timeAt(round - at);
    },
  };
}
