/**
 * The frames that carrying starts from: those found from their own strokes alone, and those on which strokes mend what was carried
 * there. What is mended was carried from the frames painted before it alone, so that painting elsewhere later does not change it.
 */
import { type StrokeKind, startsFrom } from './strokes.ts';

/** A stroke as far as it makes its frame an anchor. */
interface Anchoring {
  frame: number;
  kind: StrokeKind;
  /** Whether it was painted onto what had been carried to its frame. */
  mends?: boolean;
}

export interface Anchors {
  /** Frames cut from their own strokes, rising. */
  starts: number[];
  /** Frames whose strokes mend what is carried to them, in the order in which they were first painted on. */
  mends: number[];
}

/**
 * @param strokes those that count, in the order in which they were painted
 * @param given frames whose result is given, from which carrying starts too
 */
export function anchorsIn(strokes: readonly Anchoring[], given: readonly number[]): Anchors {
  const onto = strokes.filter((s) => s.mends && s.kind !== 'soft');
  const starts = new Set(strokes.filter((s) => !s.mends && startsFrom(s)).map((s) => s.frame));
  // With nothing left to be carried from, what was kept on top of it stands by itself.
  if (starts.size === 0 && given.length === 0) for (const s of onto) if (startsFrom(s)) starts.add(s.frame);
  if (starts.size === 0 && given.length === 0) return { starts: [], mends: [] };
  return { starts: [...starts].sort((a, b) => a - b), mends: [...new Set(onto.map((s) => s.frame))].filter((f) => !starts.has(f)) };
}

/**
 * The strokes, and the given frames, that decide what is carried to a frame before its own strokes mend it. Given ones do only where
 * carrying starts from no painted frame, since it is not known whether they were given before it.
 */
export function decidingBefore<S extends Anchoring, G>(
  strokes: readonly S[],
  given: readonly G[],
  { starts, mends }: Anchors,
  frame: number,
): { strokes: S[]; given: readonly G[] } {
  const later = new Set(mends.slice(mends.indexOf(frame)));
  return { strokes: strokes.filter((s) => !later.has(s.frame)), given: starts.length > 0 ? [] : given };
}

/** All of them, and the given ones, rising. */
export const allAnchors = ({ starts, mends }: Anchors, given: readonly number[]): number[] =>
  [...new Set([...starts, ...mends, ...given])].sort((a, b) => a - b);
