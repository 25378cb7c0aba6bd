/** The kernels against the plain loops, which the same functions are where there is no room. */
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { whereOn } from '../../tests/where.ts';
import { effectById } from '../effects/index.ts';
import { startsOf, valuesAt } from '../effects/settings.ts';
import { BLENDS } from '../math/blend.ts';
import type { Homography } from '../math/homography.ts';
import { randomFrom } from '../math/random.ts';
import { type Room, withRoom } from '../wasm/room.ts';
import { alongMotion } from './along-motion.ts';
import { discBlur } from './disc.ts';
import { bytesOfPicture, copyIn, extentIn, pictureOfBytes } from './in-room.ts';
import { addShareOf, cutInto, layBy, layOver, replaceBy } from './lay.ts';
import { extentOfGray, type Gray, type Layer, newGray, newRgba, type Rgba } from './picture.ts';
import { warpInto } from './warp.ts';

const SIZE = { width: 37, height: 23 };
const random = randomFrom(9);
const opaque = (): Rgba => {
  const out = newRgba(SIZE.width, SIZE.height);
  for (let i = 0; i < out.data.length; i++) out.data[i] = i % 4 === 3 ? 1 : random();
  return out;
};
const matte = (): Gray => {
  const out = newGray(SIZE.width, SIZE.height);
  for (let y = 3; y < 19; y++) for (let x = 5; x < 30; x++) out.data[y * SIZE.width + x] = Math.min(1, Math.max(0, 2 * random() - 0.5));
  return out;
};
/** Premultiplied, with places of no alpha. */
const layer = (): Layer => {
  const out = { left: 4, top: 2, ...newRgba(21, 15) };
  for (let i = 0; i < out.data.length; i += 4) {
    const a = Math.max(0, 1.5 * random() - 0.5);
    out.data.set(
      [random() * a, random() * a, random() * a, a].map((v) => Math.min(1, v)),
      i,
    );
  }
  return out;
};

type Pictures = { picture: Rgba; over: Rgba; matte: Gray; layer: Layer };
const STEPS: [string, (p: Pictures) => void, 'picture' | 'layer'][] = [
  ['cutting', (p) => cutInto(p.layer, p.picture, p.matte), 'layer'],
  ['replacing', (p) => replaceBy(p.picture, p.layer, 0.7), 'picture'],
  ...BLENDS.map((blend): [string, (p: Pictures) => void, 'picture'] => [`laying over by ${blend}`, (p) => layOver(p.picture, p.layer, blend, 0.6), 'picture']),
  ['laying by a matte', (p) => layBy(p.picture, p.over, p.matte, { left: 2, top: 1, right: 33, bottom: 20 }), 'picture'],
  ['adding a share', (p) => addShareOf(p.layer, p.over, { left: 6, top: 5, right: 20, bottom: 16 }, 0.3), 'layer'],
  ['blurring by a disc', (p) => discBlur(p.layer, 4.3), 'layer'],
  [
    'blurring along a turn',
    (p) => alongMotion(p.layer, 9, (share) => [Math.cos(share), -Math.sin(share), 6, Math.sin(share), Math.cos(share), -3, 0, 0, 1]),
    'layer',
  ],
  [
    'grading',
    (p) => {
      const grade = effectById('grade');
      const values = valuesAt(grade.settings, { ...startsOf(grade.settings), exposure: { constant: 0.7 }, saturation: { constant: 160 } }, 0);
      grade.render(p.layer, values, { ...whereOn(SIZE), sum: () => 0, valuesAt: () => values });
    },
    'layer',
  ],
];
const MOTIONS: [string, Homography][] = [
  ['whole pixels', [1, 0, 3, 0, 1, -2, 0, 0, 1]],
  ['parts of pixels', [1, 0, 3.3, 0, 1, -2.7, 0, 0, 1]],
  ['whole pixels down, parts across', [1, 0, 3.3, 0, 1, -2, 0, 0, 1]],
  ['whole pixels across, parts down', [1, 0, -3, 0, 1, 2.6, 0, 0, 1]],
  ['larger and flipped', [-0.6, 0, 30, 0, 0.4, 2, 0, 0, 1]],
  ['out of sight', [1, 0, 500, 0, 1, 0, 0, 0, 1]],
  ['turned', [0.9, -0.3, 4, 0.3, 0.9, -3, 0, 0, 1]],
  ['under perspective', [0.9, -0.1, 4, 0.1, 1.1, -3, 0.004, -0.003, 1]],
];

const inRoom = (pictures: Pictures, room: Room | null): Pictures => ({
  picture: copyIn(room, pictures.picture),
  over: copyIn(room, pictures.over),
  matte: copyIn(room, pictures.matte),
  layer: { ...pictures.layer, ...copyIn(room, pictures.layer) },
});
const made = (): Pictures => ({ picture: opaque(), over: opaque(), matte: matte(), layer: layer() });
const apart = (a: Float32Array, b: Float32Array) => a.reduce((worst, v, i) => Math.max(worst, Math.abs(v - b[i])), 0);

describe('in a room', () => {
  it.each(STEPS)('%s is what it is without', async (_name, step, changed) => {
    const pictures = made();
    const done = (room: Room | null) => {
      const own = inRoom(pictures, room);
      step(own);
      return own[changed].data.slice();
    };
    const plain = done(null);
    expect(apart(await withRoom(1 << 16, async (room) => done(room)), plain)).toBeLessThan(1e-6);
    expect(apart(plain, pictures[changed].data)).toBeGreaterThan(0.01);
  });

  it.each(MOTIONS)('a picture is seen through a motion as it is without: %s', async (_name, motion) => {
    const pictures = made();
    // With alpha, so that overshoot has something to be cut off at.
    for (let i = 0; i < pictures.over.data.length; i += 4) for (let k = 0; k < 4; k++) pictures.over.data[i + k] *= i % 3 === 0 ? 0 : 1;
    for (const share of [0, 0.25]) {
      const seen = (room: Room | null) => {
        const { over, layer: target } = inRoom(pictures, room);
        warpInto(target, over, motion, share);
        return target.data.slice();
      };
      const plain = seen(null);
      expect(apart(await withRoom(1 << 16, async (room) => seen(room)), plain)).toBeLessThan(2e-6);
      if (share === 0) for (let i = 0; i < plain.length; i += 4) for (let k = i; k < i + 3; k++) expect(plain[k]).toBeLessThanOrEqual(plain[i + 3]);
    }
  });

  it('bytes become pictures and bytes again, with three channels or four', async () => {
    const bytes = (channels: number) =>
      Uint8Array.from({ length: SIZE.width * SIZE.height * channels }, (_, i) => (channels === 4 && i % 4 === 3 ? 255 : (i * 37) % 256));
    for (const channels of [3, 4] as const) {
      const given = { ...SIZE, bytes: bytes(channels), channels };
      const plain = pictureOfBytes(null, given);
      await withRoom(1 << 16, async (room) => {
        const picture = pictureOfBytes(room, given);
        expect(picture.data.slice()).toEqual(plain.data);
        expect([...bytesOfPicture(picture, channels)]).toEqual([...given.bytes]);
        expect([...bytesOfPicture(plain, channels)]).toEqual([...given.bytes]);
      });
    }
  });

  it('finds the part of a matte outside of which it is 0', async () => {
    await fc.assert(
      fc.asyncProperty(fc.array(fc.tuple(fc.integer({ min: 0, max: 36 }), fc.integer({ min: 0, max: 22 })), { maxLength: 4 }), async (points) => {
        const gray = newGray(SIZE.width, SIZE.height);
        for (const [x, y] of points) gray.data[y * SIZE.width + x] = 0.5;
        const found = await withRoom(1 << 14, async (room) => extentIn(copyIn(room, gray)));
        const plain = extentOfGray(gray);
        return (points.length === 0 && found.right === 0 && plain.right === 0) || JSON.stringify(found) === JSON.stringify(plain);
      }),
      { numRuns: 100 },
    );
  });
});
