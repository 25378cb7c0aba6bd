import { describe, expect, it } from 'vitest';
import { newSpline } from '../document/part-kinds/spline.ts';
import { newDocument, newPath, newSubject } from '../document/records.ts';
import { type ShotDocument, timingSchema } from '../document/schema.ts';
import { newLaneEffect } from '../effects/lane-effect.ts';
import { newElement } from '../elements/index.ts';
import { newRgba, type Rgba } from '../image/picture.ts';
import { NO_IMPORTS, type Sources } from '../matte/sources.ts';
import { corner } from '../path/path.ts';
import { finishedFrames, type OtherShot, pictureMadeIn } from './other-shots.ts';
import { renderPicture } from './render-picture.ts';

const SIZE = { width: 32, height: 20 };
const FRAMES = 10;

function filled(...rgba: number[]): Rgba {
  const out = newRgba(SIZE.width, SIZE.height);
  for (let i = 0; i < out.data.length; i++) out.data[i] = rgba[i % 4];
  return out;
}
const pixel = ({ data }: Rgba, x: number, y = 10): number[] =>
  [...data.subarray(4 * (y * SIZE.width + x), 4 * (y * SIZE.width + x) + 4)].map((v) => Math.round(100 * v) / 100);

/** A shot whose subject is its left half. */
function shot(name: string): ShotDocument {
  const document = newDocument(name, { ...SIZE, frames: FRAMES, rate: { num: 24, den: 1 }, firstNumber: 0 });
  const subject = newSubject('left', 'Left');
  subject.parts.push(newSpline('p', 'Half', [newPath('q', 0, [corner(0, 0), corner(16, 0), corner(16, 20), corner(0, 20)], true)]));
  document.cast.push(subject);
  return document;
}

/** Two shots: a grey one that shows something of a red one, which is redder from frame to frame. */
function two(subject: string | null) {
  const [grey, red] = [shot('Grey'), shot('Red')];
  const above = newElement(grey, 'e', 'front', null, 'footage');
  above.footage = { id: 'plate-red', ...SIZE, frames: FRAMES, alpha: subject !== null, made: { shot: 'red', subject } };
  grey.lanes.push(above);
  const redness = (frame: number) => frame / 10;
  const open = async (id: string): Promise<OtherShot | null> =>
    id === 'red' ? { document: red, sources: { ...NO_IMPORTS, plate: async (f) => filled(redness(f), 0, 0, 1) } } : null;
  const sources: Sources = {
    ...NO_IMPORTS,
    plate: async () => filled(0.5, 0.5, 0.5, 1),
    footage: ({ made }, f, s) => (made ? pictureMadeIn(made, f, s, open, []) : Promise.reject(new Error('Nothing else is shown.'))),
  };
  return { grey, red, above, sources, open };
}

describe('what is made in another shot', () => {
  it('is the cut-out of a subject by its matte there, and follows what is changed there', async () => {
    const { grey, red, sources } = two('left');
    const before = await renderPicture(grey, 4, sources, SIZE);
    expect([pixel(before, 5), pixel(before, 25)]).toEqual([
      [0.4, 0, 0, 1],
      [0.5, 0.5, 0.5, 1],
    ]);
    red.cast = red.cast.map((s) => ({ ...s, parts: s.parts.map((p) => ({ ...p, inverted: true })) }));
    const after = await renderPicture(grey, 4, sources, SIZE);
    expect([pixel(after, 5), pixel(after, 25)]).toEqual([
      [0.5, 0.5, 0.5, 1],
      [0.4, 0, 0, 1],
    ]);
  });

  it('is the finished picture, lanes and all, at its own speed', async () => {
    const { grey, red, sources, above } = two(null);
    red.lanes.push({ ...newLaneEffect('b', 'inside', 'left', 'solid'), settings: { colour: { constant: [0, 1, 0] } } });
    expect(pixel(await renderPicture(grey, 4, sources, SIZE), 5)).toEqual([0, 1, 0, 1]);
    expect(pixel(await renderPicture(grey, 4, sources, SIZE), 25)).toEqual([0.4, 0, 0, 1]);
    red.timing = timingSchema.parse({ speed: { constant: 50 }, holds: [], plays: 'forwards', times: 1, between: 'nearest', sound: true });
    expect(finishedFrames(red)).toBe(2 * FRAMES - 1);
    above.footage = above.footage && { ...above.footage, frames: finishedFrames(red) };
    expect(pixel(await renderPicture(grey, 8, sources, SIZE), 25)).toEqual([0.4, 0, 0, 1]);
  });

  it('holds the last frame where the other shot became shorter', async () => {
    const { grey, red, sources } = two('left');
    red.plate.frames = 3;
    expect(pixel(await renderPicture(grey, 9, sources, SIZE), 5)).toEqual([0.2, 0, 0, 1]);
  });

  it('says what is missing, and that a picture cannot be part of itself', async () => {
    const { red, open } = two('left');
    const made = (shotId: string, subject: string | null, above: string[] = []) => pictureMadeIn({ shot: shotId, subject }, 0, SIZE, open, above);
    await expect(made('gone', null)).rejects.toThrow('is no longer there');
    await expect(made('red', 'nobody')).rejects.toThrow(`no longer in the cast of "${red.name}"`);
    await expect(made('red', null, ['grey', 'red'])).rejects.toThrow('shows it in turn');
    // A cut-out shows nothing of any other shot.
    await expect(made('red', 'left', ['red'])).resolves.toMatchObject(SIZE);
  });
});
