/** A picture that has something of everything in it, to be made wherever the program runs. Nothing here needs a server or a page. */
import { sha256 } from '@noble/hashes/sha2.js';
import { bytesToHex } from '@noble/hashes/utils.js';
import { renderPictureBytes } from '../core/compose/render-picture.ts';
import { newSpline } from '../core/document/part-kinds/spline.ts';
import { newDocument, newPath, newSubject } from '../core/document/records.ts';
import type { Element, Lane, ShotDocument } from '../core/document/schema.ts';
import { EFFECTS } from '../core/effects/index.ts';
import { newLaneEffect } from '../core/effects/lane-effect.ts';
import { ELEMENTS, newElement } from '../core/elements/index.ts';
import { fromBytes } from '../core/image/picture.ts';
import { NO_IMPORTS, type Sources } from '../core/matte/sources.ts';
import { smooth } from '../core/path/path.ts';

const SIZE = { width: 320, height: 180 };
const FRAME = 12;
const keyed = (from: number, to: number) => ({ keys: [from, to].map((value, i) => ({ frame: 24 * i, value, ease: 'linear' as const })) });
const round = (x: number, y: number, r: number) => [
  smooth(x, y - r, 0.55 * r, 0),
  smooth(x + r, y, 0, 0.55 * r),
  smooth(x, y + r, -0.55 * r, 0),
  smooth(x - r, y, 0, -0.55 * r),
];

function oneOfEach(light: ShotDocument['light']): ShotDocument {
  const document = { ...newDocument('Each', { ...SIZE, frames: 25, rate: { num: 24, den: 1 }, firstNumber: 0 }), light };
  for (const [id, x] of [
    ['near', 120],
    ['far', 200],
  ] as const) {
    const subject = newSubject(id, id);
    subject.parts.push(newSpline(`${id}-part`, id, [newPath(`${id}-path`, 0, round(x, 90, 48), true)]));
    subject.edge.featherOut = { constant: 4 };
    document.cast.push(subject);
  }
  const put = (kind: string, lane: Lane, of: string | null, more: Partial<Element> = {}) => {
    const made = newElement(document, `${kind}-${document.lanes.length}`, lane, of, kind);
    document.lanes.push({ ...made, ...more, settings: { ...made.settings, ...more.settings } });
  };
  const change = (effect: string, lane: Lane, of: string | null) =>
    document.lanes.push(newLaneEffect(`${effect}-${document.lanes.length}`, lane, of, effect, SIZE));
  change('gaussian-blur', 'backdrop', null);
  change('grade', 'behind', 'far');
  put('rings', 'behind', 'near', { blend: 'screen' });
  change('break-up', 'inside', 'far');
  change('spot', 'inside', 'near');
  put('line', 'front', null, { of: 'near-part', blend: 'soft-light' });
  put('card', 'front', null, {
    blend: 'color-dodge',
    settings: { width: { constant: 90 }, height: { constant: 60 }, x: keyed(30, 200), shutter: { constant: 180 } },
  });
  put('footage', 'front', null, {
    footage: { id: 'other', ...SIZE, frames: 1, alpha: false },
    settings: { scale: { constant: 40 }, turn: keyed(0, 90), shutter: { constant: 270 } },
  });
  // All other kinds too, each a little of it; letters are not here.
  const has = (id: string) => document.lanes.some((l) => (l.type === 'effect' ? l.effect : l.element) === id);
  const faint = { constant: 0.3 };
  for (const { id, has: needs } of ELEMENTS)
    if (!has(id) && needs !== 'words')
      put(id, 'behind', 'near', { mix: faint, ...(needs === 'footage' ? { footage: { id: 'other', ...SIZE, frames: 1, alpha: false } } : {}) });
  for (const { id } of EFFECTS)
    if (!has(id)) document.lanes.push({ ...newLaneEffect(id, id === 'light-wrap' ? 'inside' : 'behind', 'near', id, SIZE), mix: faint, leaves: false });
  return document;
}

const plate = fromBytes(
  Uint8Array.from({ length: 4 * SIZE.width * SIZE.height }, (_, i) => (i % 4 === 3 ? 255 : (Math.imul(i, 2_654_435_761) >>> 9) % 256)),
  SIZE.width,
  SIZE.height,
);
const sources: Sources = { ...NO_IMPORTS, plate: async () => plate, footage: async () => plate };

/** A name for the bytes of the picture in both lights. */
export const nameOfBytes = async (): Promise<string> => {
  const made = await Promise.all((['plate', 'linear'] as const).map((light) => renderPictureBytes(oneOfEach(light), FRAME, sources, SIZE, 4)));
  return made.map((bytes) => bytesToHex(sha256(new Uint8Array(bytes.buffer)))).join(' ');
};
