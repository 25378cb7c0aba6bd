/** Ranges of frames, and lists of them: rising, apart, neighbours joined. */

/** A range of frames, both ends in it. */
export interface FrameRange {
  first: number;
  last: number;
}

export const isWithin = (ranges: readonly FrameRange[], frame: number): boolean => ranges.some((r) => frame >= r.first && frame <= r.last);

/** The ranges of frames that rise. */
export function rangesOfFrames(frames: Iterable<number>): FrameRange[] {
  const out: FrameRange[] = [];
  for (const frame of frames) {
    const open = out.at(-1);
    if (open?.last === frame - 1) open.last = frame;
    else out.push({ first: frame, last: frame });
  }
  return out;
}

/** `ranges` with the frames of `range` in it, or out of it; rising, apart, neighbours joined. */
export function withRange(ranges: readonly FrameRange[], range: FrameRange, included: boolean): FrameRange[] {
  const out: FrameRange[] = [];
  for (const r of ranges) {
    if (r.last < range.first - 1 || r.first > range.last + 1) out.push(r);
    else if (!included) {
      if (r.first < range.first) out.push({ first: r.first, last: Math.min(r.last, range.first - 1) });
      if (r.last > range.last) out.push({ first: Math.max(r.first, range.last + 1), last: r.last });
    }
  }
  if (included) {
    const touching = ranges.filter((r) => r.last >= range.first - 1 && r.first <= range.last + 1);
    out.push({ first: Math.min(range.first, ...touching.map((r) => r.first)), last: Math.max(range.last, ...touching.map((r) => r.last)) });
  }
  return out.sort((a, b) => a.first - b.first);
}
