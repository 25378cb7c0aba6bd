/** What a kind of part is, beside its schema (core/document/schema.ts): all that minds kinds of parts asks for it here. */
import type { FrameRange } from '../../time/ranges.ts';
import type { PeelTask } from '../fence.ts';
import type { PlacedSpline } from '../follow.ts';
import type { DocumentRecord, Part, PeelPart, ShotDocument } from '../schema.ts';

/** The documents before and after a change, and the frames that matter. */
export interface DocumentChange {
  was: ShotDocument;
  is: ShotDocument;
  asked: readonly FrameRange[];
  /** A Peel with all that decides what it finds. */
  task(document: ShotDocument, part: PeelPart): PeelTask;
}

/** Where the mask of a part comes from at an instant: curves that are filled, footage whose luma it is, what a Peel has found, or the matte of another subject. */
export type MaskSource =
  | { from: 'curves'; spline: PlacedSpline }
  /** No frame where it has none then. */
  | { from: 'footage'; footage: string; frame: number | null }
  | { from: 'peel'; peel: PeelPart }
  | { from: 'subject'; subject: string };

export interface PartKind<P extends Part> {
  /** Fields that an edit may set, beside those of every part. */
  assignable: readonly string[];
  /** The records that it holds. */
  holds?: { field: string; takes: readonly DocumentRecord['type'][] };
  /** What may be keyed, beside its opacity and its curves, and what each is called in the Sheet. */
  keyed: Readonly<Record<string, string>>;
  /** Whether it could mask anything, as it stands. */
  masks(part: P): boolean;
  /** Why it masks nothing, or less than it shows; null where there is nothing to say. */
  remark(part: P): string | null;
  /** Null for a part that never masks. `time` in frames. */
  mask(document: ShotDocument, part: P, time: number): MaskSource | null;
  /** Frames on which its mask can differ for what changed in it, beside what every part has; null where there are none. */
  changes(before: P, after: P, change: DocumentChange): (FrameRange | null)[];
  /** Frames that the artist has worked on. */
  workedOn(part: P): number[];
  /** The part with all that lies on frames `by` frames later; what would fall before frame 0 lies on it. */
  later(part: P, by: number): P;
}
