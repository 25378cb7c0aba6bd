/** Looking at parts without minding their kind. */

import { reaches } from '../math/reaches.ts';
import { isWithin } from '../time/ranges.ts';
import { type PlacedPath, placedPathsOf } from './follow.ts';
import type { ElementEffect, LaneItem, Made, Part, Path, ShotDocument, ShownFootage, Subject } from './schema.ts';

/** The curves of a part; a part of another kind has none. */
export const pathsOf = (part: Part): Path[] => (part.type === 'spline' ? part.paths : []);

/** The part of `subject` that has this id, or holds the curve that has it. */
export const partWith = (subject: Subject, id: string | null): Part | undefined =>
  id === null ? undefined : subject.parts.find((p) => p.id === id || pathsOf(p).some((q) => q.id === id));

/** The part with this id, of whichever subject. */
export function findPart({ cast }: Pick<ShotDocument, 'cast'>, id: string | null): Part | undefined {
  for (const subject of cast) for (const part of subject.parts) if (part.id === id) return part;
  return undefined;
}

/** All parts with their names, as one chooses among them. */
export const namedParts = ({ cast }: { cast: readonly Subject[] }): { subject: Subject; part: Part; label: string }[] =>
  cast.flatMap((subject) => subject.parts.map((part) => ({ subject, part, label: `${subject.name}: ${part.name}` })));

/** Those of its Splines, by id. */
export const namedSplines = (cast: readonly Subject[]): { id: string; label: string }[] =>
  namedParts({ cast }).flatMap(({ part, label }) => (part.type === 'spline' ? [{ id: part.id, label }] : []));

export interface Whereabouts {
  subject: Subject;
  part: Part;
  path: PlacedPath;
}

/** Where a curve is in the document. */
export function findPath(document: ShotDocument, pathId: string): Whereabouts | null {
  for (const subject of document.cast)
    for (const part of subject.parts) {
      const path = placedPathsOf(document, part).find((p) => p.id === pathId);
      if (path) return { subject, part, path };
    }
  return null;
}

/** Whether a part, or what is like one, lives on a frame. */
export const livesOn = (part: Pick<Part, 'range'>, frame: number): boolean => part.range === null || (frame >= part.range.first && frame <= part.range.last);

/** The footage of all imported mattes, by id. */
export const matteFootageOf = ({ cast }: Pick<ShotDocument, 'cast'>): string[] => [
  ...new Set(cast.flatMap((s) => s.parts.flatMap((p) => (p.type === 'imported' ? [p.footage] : [])))),
];

/** The subjects that one is joined of. */
export const joinedIn = ({ parts }: Pick<Subject, 'parts'>): string[] => parts.flatMap((p) => (p.type === 'joined' ? [p.subject] : []));

/** Whether a subject would be joined of itself if it were of this one, by way of others too. */
export const circleOfSubjects = ({ cast }: Pick<ShotDocument, 'cast'>, id: string, other: string): boolean =>
  reaches(other, id, (next) => cast.filter((s) => s.id === next).flatMap(joinedIn));

/** Whether an item is there on a frame. */
export const itemLivesOn = ({ lives }: Pick<LaneItem, 'lives'>, frame: number): boolean => lives.length === 0 || isWithin(lives, frame);

/** What has a matte of its own in an item: that, and effects of an element. */
export const mattedIn = (item: LaneItem): (LaneItem | ElementEffect)[] => (item.type === 'element' ? [item, ...item.effects] : [item]);

/** All footage that items, their mattes and clean plates show. */
const shownIn = ({ lanes, cast }: ShotDocument): ShownFootage[] => [
  ...lanes.flatMap((item) => (item.type === 'element' && item.footage ? [item.footage] : [])),
  ...lanes.flatMap(mattedIn).flatMap(({ matteFootage }) => (matteFootage ? [matteFootage] : [])),
  ...cast.flatMap(({ clean }) => (clean ? [clean] : [])),
];

/** All other footage that a shot uses, as mattes or as elements, by id. */
export const footageOf = (document: ShotDocument): string[] => [...new Set([...matteFootageOf(document), ...shownIn(document).map(({ id }) => id)])];

/** What a shot shows that is made in others. */
export const madeElsewhere = (document: ShotDocument): Made[] => shownIn(document).flatMap(({ made }) => (made ? [made] : []));
