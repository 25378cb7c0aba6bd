/** What is far too large, far too many or nothing at all is drawn in bounded time and memory, and harms nothing else. */
import { expect, it } from 'vitest';
import { newSpline } from '../document/part-kinds/spline.ts';
import { newDocument, newPath, newPointTrack, newSubject } from '../document/records.ts';
import type { Element, LaneItem, ShotDocument } from '../document/schema.ts';
import { newElementEffect, newLaneEffect } from '../effects/lane-effect.ts';
import { newElement } from '../elements/index.ts';
import { fromBytes, newRgba, type Rgba, type Size } from '../image/picture.ts';
import { NO_IMPORTS, type Sources } from '../matte/sources.ts';
import { corner } from '../path/path.ts';
import { renderPicture } from './render-picture.ts';

const SIZE = { width: 192, height: 108 };
const MEGABYTE = 1024 * 1024;
const PLATE = fromBytes(
  Uint8Array.from({ length: SIZE.width * SIZE.height * 4 }, (_, i) => (i % 4 === 3 ? 255 : 100)),
  SIZE.width,
  SIZE.height,
);
const asked: Size[] = [];
const sources: Sources = {
  ...NO_IMPORTS,
  plate: async () => PLATE,
  footage: async (_footage, _frame, size) => {
    asked.push(size);
    const out = newRgba(size.width, size.height);
    out.data.fill(1);
    return out;
  },
};

function shot(): ShotDocument {
  const document = newDocument('Much', { ...SIZE, frames: 30, rate: { num: 24, den: 1 }, firstNumber: 0 });
  const subject = newSubject('s', 'Subject');
  subject.parts.push(newSpline('p', 'P', [newPath('q', 0, [corner(60, 30), corner(120, 30), corner(120, 80), corner(60, 80)], true)]));
  document.cast.push(subject);
  return document;
}
function element(document: ShotDocument, kind: string, more: Partial<Element>): Element {
  const made = newElement(document, `${kind}-${document.lanes.length}`, 'front', null, kind);
  const item = { ...made, ...more, settings: { ...made.settings, ...more.settings } };
  document.lanes.push(item);
  return item;
}
const put = (document: ShotDocument, item: LaneItem) => void document.lanes.push(item);
const constants = (values: Record<string, number>) => Object.fromEntries(Object.entries(values).map(([name, constant]) => [name, { constant }]));

/** The picture, and by how many megabytes of pictures it was larger while it was made, at least. */
async function made(document: ShotDocument, frame = 9): Promise<{ picture: Rgba; megabytes: number }> {
  const before = process.memoryUsage().arrayBuffers;
  let most = before;
  const picture = await renderPicture(document, frame, sources, SIZE, () => {
    most = Math.max(most, process.memoryUsage().arrayBuffers);
  });
  for (const v of picture.data) if (!(v >= 0 && v <= 1.0001)) throw new Error(`A value of ${v}.`);
  return { picture, megabytes: (most - before) / MEGABYTE };
}
const pixel = ({ data, width }: Rgba, x: number, y: number) => data[4 * (y * width + x)];

it('two hundred items', async () => {
  const document = shot();
  for (let i = 0; i < 200; i++) {
    if (i % 4 === 0) put(document, { ...newLaneEffect(`fx${i}`, 'behind', 's', 'gaussian-blur'), mix: { constant: 0.5 } });
    else if (i % 4 === 1) put(document, newLaneEffect(`fx${i}`, 'inside', 's', 'grade'));
    else element(document, 'card', { settings: constants({ width: 20, height: 10, x: i, y: 50, shutter: 90 }) });
  }
  const { picture, megabytes } = await made(document);
  expect(pixel(picture, 1, 1)).toBeCloseTo(100 / 255, 2);
  expect(megabytes).toBeLessThan(64);
}, 60_000);

it('items of twenty thousand pixels, enlarged, blurred by all there is, and moved', async () => {
  const document = shot();
  for (const kind of ['card', 'footage']) {
    const x = { keys: [0, 29].map((frame) => ({ frame, value: -20_000 + 2000 * frame, ease: 'linear' as const })) };
    element(document, kind, {
      ...(kind === 'footage' ? { footage: { id: 'f', width: 16_384, height: 16_384, frames: 3, alpha: false } } : {}),
      settings: { ...constants({ width: 20_000, height: 20_000, softness: 1000, scale: 1000, shutter: 360 }), x },
      effects: [{ ...newElementEffect('e', 'gaussian-blur', SIZE), settings: constants({ x: 500, y: 500 }) }],
    });
  }
  const { megabytes } = await made(document);
  // Footage of 16,384 pixels a side would be four gigabytes: it is asked for at a size that can be had.
  expect(asked.every(({ width, height }) => width * height < 4e7)).toBe(true);
  expect(megabytes).toBeLessThan(900);
}, 60_000);

it('items of no pixels, and footage of none, leave the picture as it is', async () => {
  const document = shot();
  element(document, 'card', { settings: constants({ width: 0, height: 50 }) });
  element(document, 'card', { settings: constants({ scale: 0 }) });
  element(document, 'title', { words: ' \n ' });
  element(document, 'footage', { footage: null });
  element(document, 'footage', { footage: { id: 'f', width: 640, height: 360, frames: 10, alpha: false }, settings: constants({ scale: 0 }) });
  const { picture } = await made(document);
  expect(picture.data).toEqual((await made(shot())).picture.data);
});

it('what follows a track stays where that ended', async () => {
  const document = shot();
  const track = newPointTrack({ id: 't', name: 'T', frame: 0, lines: SIZE.height }, 96, 54);
  document.tracks.push({
    ...track,
    motion: {
      keys: [0, 5].map((frame) => ({ frame, value: { at: [96 + 4 * frame, 54], quality: 1 }, ease: 'linear' as const })),
    },
  });
  element(document, 'card', {
    follow: { track: 't', frame: 0, takes: ['position'] },
    settings: { ...constants({ width: 20, height: 20, x: 96, y: 54 }), colours: { constant: '1' }, colour1: { constant: [1, 1, 1] } },
  });
  const [end, later] = [await made(document, 5), await made(document, 29)];
  expect(later.picture.data).toEqual(end.picture.data);
  expect(pixel(later.picture, 116, 54)).toBeCloseTo(1);
});
