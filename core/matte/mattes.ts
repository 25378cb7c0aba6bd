/** The mattes of a shot at one size. */

import { LRUCache } from 'lru-cache';
import type { ShotDocument, Subject } from '../document/schema.ts';
import type { Gray, Size } from '../image/picture.ts';
import { memoisedPromise } from '../math/memo.ts';
import { renderMatte } from './render-matte.ts';
import type { MatteSources } from './sources.ts';

/** The matte of a subject on a frame; not to be changed, for others are given the same. */
export type Mattes = (subject: string, frame: number) => Promise<Gray>;

/** Mattes kept: a picture asks for few, some of them again and again. */
const KEPT = 8;
/** Mattes kept of a subject that stands still. */
const STANDING = 2;

/** Whether anything in a record has more than one key. */
function changes(value: unknown): boolean {
  if (typeof value !== 'object' || value === null) return false;
  return Object.entries(value).some(([name, own]) => (name === 'keys' && Array.isArray(own) && own.length > 1) || changes(own));
}

/** Whether a subject is the same on all frames: curves alone that are always there, and nothing that moves them. */
const isStill = (subject: Subject): boolean => subject.parts.every((p) => p.type === 'spline' && p.follow === null && p.range === null) && !changes(subject);

/** Mattes of subjects that stand still, by size; null for the others. */
const standing = new WeakMap<Subject, LRUCache<string, Promise<Gray>> | null>();

function standingOf(subject: Subject): LRUCache<string, Promise<Gray>> | null {
  const known = standing.get(subject);
  if (known !== undefined) return known;
  const made = isStill(subject) ? new LRUCache<string, Promise<Gray>>({ max: STANDING }) : null;
  standing.set(subject, made);
  return made;
}

/** Each made once while it is near, or once for all frames where it is the same on them. */
export function mattesOf(document: ShotDocument, sources: MatteSources, size: Size): Mattes {
  const kept = new LRUCache<string, Promise<Gray>>({ max: KEPT });
  return (id, frame) => {
    const make = () => renderMatte(document, id, frame, sources, size);
    const subject = document.cast.find((s) => s.id === id);
    const same = subject ? standingOf(subject) : null;
    return same ? memoisedPromise(same, `${size.width}x${size.height}`, make) : memoisedPromise(kept, `${id} ${frame}`, make);
  };
}
