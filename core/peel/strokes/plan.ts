/** Which painted frames decide which others: a frame between two of them is carried from both, one beyond them from the nearest. */

/** A stretch of fewer frames is not worth cutting its anchor twice. */
const WORTH = 4;

/** The anchors on both sides of a frame; an anchor is its own on both. Undefined where there is none on that side. */
export function neighbours(anchors: readonly number[], frame: number): { from: number | undefined; to: number | undefined } {
  let from: number | undefined;
  let to: number | undefined;
  for (const a of anchors) {
    if (a <= frame && (from === undefined || a > from)) from = a;
    if (a >= frame && (to === undefined || a < to)) to = a;
  }
  return { from, to };
}

/** Frames of a range that no artist painted and that lie between the same two anchors. */
export interface Gap {
  /** The anchors it lies between; undefined on the side where there is none. */
  from: number | undefined;
  to: number | undefined;
  first: number;
  last: number;
}

/** The gaps of a range, in the order of its frames; anchors outside the range count too. */
export function gapsOf(anchors: readonly number[], first: number, last: number): Gap[] {
  const sorted: (number | undefined)[] = [...new Set(anchors)].sort((a, b) => a - b);
  if (sorted.length === 0) return [];
  const gaps: Gap[] = [];
  for (const [i, to] of [...sorted, undefined].entries()) {
    const from = sorted[i - 1];
    const gap = { from, to, first: Math.max(first, from === undefined ? first : from + 1), last: Math.min(last, to === undefined ? last : to - 1) };
    if (gap.first <= gap.last) gaps.push(gap);
  }
  return gaps;
}

/** Stretches that can be found at the same time: those on both sides of the anchor that parts the frames most evenly. */
export function stretches(anchors: readonly number[], first: number, last: number): { first: number; last: number }[] {
  const middle = (first + last + 1) / 2;
  const [at] = anchors.filter((a) => a - first >= WORTH && last - a >= WORTH).sort((a, b) => Math.abs(a - middle) - Math.abs(b - middle));
  if (at === undefined) return [{ first, last }];
  return [
    { first: at, last },
    { first, last: at - 1 },
  ];
}
