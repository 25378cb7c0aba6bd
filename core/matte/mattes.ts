/** The mattes of a shot at one size. */

import { LRUCache } from 'lru-cache';
import type { ShotDocument } from '../document/schema.ts';
import type { Gray, Size } from '../image/picture.ts';
import { memoisedPromise } from '../math/memo.ts';
import { renderMatte } from './render-matte.ts';
import type { MatteSources } from './sources.ts';

/** The matte of a subject on a frame; not to be changed, for others are given the same. */
export type Mattes = (subject: string, frame: number) => Promise<Gray>;

/** Mattes kept: a picture asks for few, some of them again and again. */
const KEPT = 8;

/** Each made once while it is near. */
export function mattesOf(document: ShotDocument, sources: MatteSources, size: Size): Mattes {
  const kept = new LRUCache<string, Promise<Gray>>({ max: KEPT });
  return (subject, frame) => memoisedPromise(kept, `${subject} ${frame}`, () => renderMatte(document, subject, frame, sources, size));
}
