/** Which frames a way of carrying finds. */
import type { FrameRange } from '~/core/time/ranges.ts';

export type CarryWay = 'back' | 'to-before' | 'one-back' | 'both' | 'one-on' | 'to-next' | 'on';

/**
 * The frames that a way of carrying from `frame` finds: to the ends of the marked range, or of the shot, or to the painted frame
 * before or after it, where there is one.
 */
export function carryRange(way: CarryWay, frame: number, range: FrameRange | null, frames: number, anchors: readonly number[] = []): FrameRange {
  const { first, last } = range ?? { first: 0, last: frames - 1 };
  switch (way) {
    case 'one-back':
      return { first: Math.max(0, frame - 1), last: frame };
    case 'one-on':
      return { first: frame, last: Math.min(frames - 1, frame + 1) };
    case 'to-before':
      return { first: anchors.findLast((a) => a < frame) ?? Math.min(first, frame), last: frame };
    case 'to-next':
      return { first: frame, last: anchors.find((a) => a > frame) ?? Math.max(last, frame) };
    case 'back':
      return { first: Math.min(first, frame), last: frame };
    case 'on':
      return { first: frame, last: Math.max(last, frame) };
    case 'both':
      return { first, last };
  }
}
