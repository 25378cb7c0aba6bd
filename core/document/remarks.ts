/** What of a shot has no effect as it stands, told from its document alone. */

import { hasKeys } from '../time/animated.ts';
import { kindOfPart } from './part-kinds/index.ts';
import { type LaneItem, ofSubject, type Part, type ShotDocument, type Subject } from './schema.ts';

export interface Remark {
  /** The record it is about: a part, a subject, or what is in a lane. */
  id: string;
  /** What is so, and what to do: "its curve is open and masks nothing: close it". */
  words: string;
}

const masks = (part: Part): boolean => part.enabled && part.type !== 'foreign' && (part.inverted || kindOfPart(part).masks(part));

/** Whether anything of a subject can make a matte. */
export const hasMatte = (subject: Subject): boolean => subject.parts.some(masks);

function remarkOnItem({ cast, plate }: ShotDocument, item: LaneItem): string | null {
  if (!item.enabled) return null;
  if (!hasKeys(item.mix) && item.mix.constant === 0) return `not seen: its ${item.type === 'effect' ? 'mix' : 'opacity'} is 0`;
  if (item.lives.length > 0 && item.lives.every((r) => r.first >= plate.frames)) return 'not seen: it lives on frames after the end of the shot';
  const subject = ofSubject(item.lane) ? cast.find((s) => s.id === item.subject) : undefined;
  if (item.lane === 'inside' && subject && !hasMatte(subject)) return `not seen: ${subject.name} masks nothing yet`;
  if (item.type !== 'element') return null;
  if ((item.element === 'footage' || item.element === 'way') && !item.footage) return 'not seen: choose its footage';
  if (item.element === 'title' && item.words.trim() === '') return 'not seen: it has no words';
  return null;
}

/** All there is to say, parts first, each once. */
export function remarksOf(document: ShotDocument): Remark[] {
  const parts = document.cast.flatMap((subject) =>
    subject.parts.flatMap((part): Remark[] => {
      // A line may be drawn along an open curve.
      const drawn = document.lanes.some((l) => l.type === 'element' && l.of === part.id);
      const words = part.enabled && !drawn ? kindOfPart(part).remark(part) : null;
      return words ? [{ id: part.id, words }] : [];
    }),
  );
  const items = document.lanes.flatMap((item): Remark[] => {
    const words = remarkOnItem(document, item);
    return words ? [{ id: item.id, words }] : [];
  });
  return [...parts, ...items];
}
