/** In which order the frames of a shot are found: every frame is carried from the anchor nearest to it. */

/** A stretch of fewer frames is not worth cutting its anchor twice. */
const WORTH = 4;

export interface Run {
  /** The anchor frame it starts from. */
  anchor: number;
  step: 1 | -1;
  /** The last frame it finds; the anchor itself is the first. */
  last: number;
}

/**
 * Runs that find all frames of `first` to `last` from the anchors, forwards and backwards; between two anchors each goes as far
 * as it is the nearer one (the earlier, where both are as near). Anchors outside the range help where they are the nearest.
 */
export function carryRuns(anchors: readonly number[], first: number, last: number): Run[] {
  const sorted = [...new Set(anchors)].sort((a, b) => a - b);
  const runs: Run[] = [];
  for (const [i, anchor] of sorted.entries()) {
    const from = i === 0 ? first : Math.max(first, Math.floor((sorted[i - 1] + anchor) / 2) + 1);
    const to = i === sorted.length - 1 ? last : Math.min(last, Math.floor((anchor + sorted[i + 1]) / 2));
    if (to >= Math.max(anchor, first)) runs.push({ anchor, step: 1, last: to });
    if (from < anchor && from <= last) runs.push({ anchor, step: -1, last: from });
  }
  return runs;
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

/** The anchor whose strokes decide a frame; undefined where there is none. */
export function nearestAnchor(anchors: readonly number[], frame: number): number | undefined {
  let best: number | undefined;
  for (const a of anchors) {
    if (best === undefined) best = a;
    const [d, e] = [Math.abs(a - frame), Math.abs(best - frame)];
    if (d < e || (d === e && a < best)) best = a;
  }
  return best;
}
