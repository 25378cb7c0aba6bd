/** Starts of one's own: items that were kept, laid over another shot in proportion. */
import { stretchEdits } from '../compose/stretch.ts';
import type { Edit } from '../document/edits.ts';
import { addedEdits, copiedItems, type ItemOf } from '../document/library.ts';
import { type LaneItem, ofSubject, type ShotDocument } from '../document/schema.ts';

type Kept = ItemOf<'start'>['content'];

export const keptStart = ({ plate }: Pick<ShotDocument, 'plate'>, items: readonly LaneItem[]): Kept => ({ frames: plate.frames, items: [...items] });

/** What is of a subject comes to this one: whether there is anything. */
export const needsSubject = ({ items }: Kept): boolean => items.some((i) => ofSubject(i.lane) || (i.type === 'element' && i.of !== null));

/**
 * Edits that put copies nearest in their lanes, their keys as far on in the shot as they were in that from which they were kept.
 * @throws EditError where keys would fall together
 */
export function keptStartEdits({ frames, items }: Kept, document: ShotDocument, subject: string | null, newId: () => string): Edit[] {
  const placed = items.map((item) => ({
    ...item,
    subject: ofSubject(item.lane) ? subject : null,
    ...(item.type === 'element' && item.of !== null ? { of: subject } : {}),
  }));
  const copies = copiedItems(document, placed, newId);
  const [from, to] = [frames, document.plate.frames].map((count) => ({ first: 0, last: count - 1 }));
  return [...addedEdits(document, copies), ...(frames === document.plate.frames ? [] : copies.flatMap((copy) => stretchEdits(copy, from, to)))];
}
