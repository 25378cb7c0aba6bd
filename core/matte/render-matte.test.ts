import { describe, expect, it } from 'vitest';
import { fenceOf, peelTask } from '../document/fence.ts';
import { newImported } from '../document/part-kinds/imported.ts';
import { newPeel } from '../document/part-kinds/peel.ts';
import { newSpline } from '../document/part-kinds/spline.ts';
import { newDocument, newPath, newPointTrack, newRegionTrack, newSubject } from '../document/records.ts';
import type { Operation, ShotDocument, SplinePart } from '../document/schema.ts';
import { newGray } from '../image/picture.ts';
import { corner, type Shape } from '../path/path.ts';
import { combineInto, placeInto } from './combine.ts';
import { finishEdge, PLAIN_EDGE } from './edge.ts';
import { renderFence, renderMatte } from './render-matte.ts';
import { NO_IMPORTS } from './sources.ts';

const SIZE = { width: 40, height: 30 };
const square = (x: number, y: number, side: number): Shape => [corner(x, y), corner(x + side, y), corner(x + side, y + side), corner(x, y + side)];
const part = (id: string, shape: Shape, more: Partial<SplinePart> = {}): SplinePart => ({
  ...newSpline(id, id, [newPath(`${id}-path`, 0, shape, true)]),
  ...more,
});

function shot(...parts: SplinePart[]): ShotDocument {
  const document = newDocument('Test', { ...SIZE, frames: 20, rate: { num: 24, den: 1 }, firstNumber: 0 });
  document.cast.push({ ...newSubject('s', 'Subject'), parts });
  return document;
}
const matteOf = (document: ShotDocument, frame = 0, size = SIZE) => renderMatte(document, 's', frame, NO_IMPORTS, size);
const at = async (document: ShotDocument, x: number, y: number, frame = 0) => (await matteOf(document, frame)).data[y * SIZE.width + x];

describe('renderMatte', () => {
  it('is empty where the subject has no part, and where its only curve is open', async () => {
    expect(Math.max(...(await matteOf(shot())).data)).toBe(0);
    const open = part('a', square(5, 5, 10));
    open.paths[0] = { ...open.paths[0], closed: false };
    expect(Math.max(...(await matteOf(shot(open))).data)).toBe(0);
  });

  it('says which subject is missing', async () => {
    await expect(renderMatte(shot(), 'nobody', 0, NO_IMPORTS, SIZE)).rejects.toThrow('no subject "nobody"');
  });

  it.each([
    ['add', [1, 1, 1, 0]],
    ['subtract', [1, 0, 0, 0]],
    ['intersect', [0, 1, 0, 0]],
    ['exclude', [1, 0, 1, 0]],
  ] as [Operation, number[]][])('joins parts by %s', async (operation, [onlyFirst, both, onlySecond, none]) => {
    const document = shot(part('a', square(5, 5, 12)), part('b', square(11, 5, 12), { operation }));
    expect(await Promise.all([at(document, 7, 10), at(document, 14, 10), at(document, 20, 10), at(document, 30, 10)])).toEqual([
      onlyFirst,
      both,
      onlySecond,
      none,
    ]);
  });

  it('starts from a full matte where the first part takes away', async () => {
    const document = shot(part('a', square(5, 5, 12), { operation: 'subtract' }));
    expect(await Promise.all([at(document, 10, 10), at(document, 30, 20)])).toEqual([0, 1]);
  });

  it('inverts a part, and scales it with its opacity', async () => {
    const document = shot(part('a', square(5, 5, 12), { inverted: true, opacity: { constant: 0.25 } }));
    expect(await Promise.all([at(document, 10, 10), at(document, 30, 20)])).toEqual([0, 0.25]);
  });

  it('leaves out a part that is switched off', async () => {
    expect(await at(shot(part('a', square(5, 5, 12), { enabled: false })), 10, 10)).toBe(0);
  });

  it('follows keys: exact at them, between them on the way', async () => {
    const moving = part('a', []);
    moving.paths[0] = {
      ...moving.paths[0],
      shape: {
        keys: [
          { frame: 2, value: square(2, 2, 10), ease: 'linear' },
          { frame: 12, value: square(22, 2, 10), ease: 'linear' },
        ],
      },
    };
    const document = shot(moving);
    const left = async (frame: number) => (await matteOf(document, frame)).data.subarray(5 * SIZE.width, 6 * SIZE.width).indexOf(1);
    expect(await Promise.all([0, 2, 7, 12, 19].map(left))).toEqual([2, 2, 12, 22, 22]);
  });

  it('finishes the edge the same where it looks only near the outlines as where it looks everywhere', async () => {
    for (const inverted of [false, true])
      for (const shape of [square(6.3, 7.2, 14), square(-8, -5, 20), square(25, 12, 30)]) {
        const plain = shot(part('a', shape, { inverted }), part('b', square(16, 9, 9), { operation: 'subtract' }));
        const finished = structuredClone(plain);
        Object.assign(finished.cast[0].edge, { grow: { constant: 1 }, featherIn: { constant: 3 }, featherOut: { constant: 5 } });
        const everywhere = finishEdge(await matteOf(plain), { ...PLAIN_EDGE, grow: 1, featherIn: 3, featherOut: 5 });
        expect((await matteOf(finished)).data).toEqual(everywhere.data);
      }
  });

  it('copes with curves that hold nothing, cross themselves or run out of every picture', async () => {
    const same = Array.from({ length: 5 }, () => corner(10, 10));
    const crossing = [corner(5, 5), corner(25, 25), corner(25, 5), corner(5, 25)];
    const far = [corner(-9e5, -9e5), corner(9e5, -9e5), corner(9e5, 9e5), corner(-9e5, 9e5)];
    const area = async (...shapes: Shape[]) => {
      const one = part('a', []);
      one.paths = shapes.map((s, i) => newPath(`p${i}`, 0, s, true));
      const feathered = shot(one);
      Object.assign(feathered.cast[0].edge, { featherOut: { constant: 2 }, roundness: { constant: 4 }, specks: { constant: 2 }, firmness: { constant: 0.3 } });
      const soft = (await matteOf(feathered)).data;
      expect(soft.every((v) => v >= 0 && v <= 1)).toBe(true);
      return (await matteOf(shot(one))).data.reduce((a, b) => a + b, 0);
    };
    expect(await area(same)).toBe(0);
    expect(await area([corner(3, 3)])).toBe(0);
    expect(await area([corner(3, 3), corner(9, 9)])).toBeCloseTo(0, 6);
    expect(await area([])).toBe(0);
    expect(await area(crossing)).toBeCloseTo(200, 3);
    expect(await area(far)).toBe(SIZE.width * SIZE.height);
    expect(await area(square(4, 4, 10), square(4, 4, 10))).toBeCloseTo(0, 6);
    const soft = square(4, 4, 10).map((v) => ({ ...v, featherIn: 500, featherOut: 500 }));
    expect(await area(soft)).toBeGreaterThan(0);
  });

  it('is the same picture at half size', async () => {
    const document = shot(part('a', square(6, 6, 16)));
    Object.assign(document.cast[0].edge, { grow: { constant: 2 }, featherIn: { constant: 4 }, featherOut: { constant: 4 }, falloff: { constant: 'linear' } });
    const full = (await matteOf(document)).data;
    const half = (await matteOf(document, 0, { width: 20, height: 15 })).data;
    for (let y = 1; y < 14; y++)
      for (let x = 1; x < 19; x++) {
        const mean = (full[2 * y * 40 + 2 * x] + full[2 * y * 40 + 2 * x + 1] + full[(2 * y + 1) * 40 + 2 * x] + full[(2 * y + 1) * 40 + 2 * x + 1]) / 4;
        expect(Math.abs(half[y * 20 + x] - mean)).toBeLessThan(0.08);
      }
  });
});

describe('combineInto', () => {
  const onePixel = (alpha: number) => ({ box: { left: 0, top: 0, width: 1, height: 1 }, data: Float32Array.of(alpha), stride: 1, outside: 0 as const });

  it.each(['add', 'subtract', 'intersect', 'exclude'] as Operation[])(
    'does outside the crop of a part what the whole picture of it would do (%s)',
    (operation) => {
      const start = () => ({ width: 6, height: 5, data: Float32Array.from({ length: 30 }, (_, i) => ((i * 7) % 10) / 10) });
      // The fourth float of each row is beside the box.
      const crop = { box: { left: 2, top: 1, width: 3, height: 2 }, data: Float32Array.of(0.2, 1, 0.4, 7, 0.9, 0, 0.6, 7), stride: 4 };
      for (const outside of [0, 1] as const) {
        const part = { ...crop, outside };
        const whole = newGray(6, 5);
        placeInto(whole, part);
        const [cropped, full] = [start(), start()];
        combineInto(cropped, part, operation, 0.7);
        combineInto(full, { box: { left: 0, top: 0, width: 6, height: 5 }, data: whole.data, stride: 6, outside: 0 }, operation, 0.7);
        for (let i = 0; i < 30; i++) expect(cropped.data[i]).toBeCloseTo(full.data[i], 6);
      }
    },
  );

  it.each([
    ['add', (a: number, b: number) => a + b - a * b],
    ['subtract', (a: number, b: number) => a * (1 - b)],
    ['intersect', (a: number, b: number) => a * b],
    ['exclude', (a: number, b: number) => a * (1 - b) + b * (1 - a)],
  ] as [Operation, (a: number, b: number) => number][])('follows the formula of the CSS Masking standard for %s on soft values', (operation, formula) => {
    const values = [0, 0.2, 0.5, 0.9, 1];
    for (const a of values)
      for (const b of values) {
        const below = { width: 1, height: 1, data: Float32Array.of(a) };
        combineInto(below, onePixel(b), operation, 1);
        expect(below.data[0]).toBeCloseTo(formula(a, b), 6);
      }
  });

  it.each(['add', 'subtract', 'intersect', 'exclude'] as Operation[])('changes nothing at opacity 0 (%s)', (operation) => {
    const below = { width: 1, height: 1, data: Float32Array.of(0.4) };
    combineInto(below, onePixel(0.7), operation, 0);
    expect(below.data[0]).toBeCloseTo(0.4, 6);
  });
});

describe('a fence', () => {
  const document = shot(part('a', square(5, 5, 12)), { ...part('off', square(20, 10, 8)), enabled: false });
  const peel = (fence: string | null) => ({ ...newPeel('peel', 'Peel'), fence });
  document.cast.push({ ...newSubject('t', 'Other'), parts: [peel('off'), newImported('matte', 'Matte', 'footage', 3)] });
  const count = (mask: Uint8Array | null) => mask?.reduce((a, b) => a + b, 0);
  const from = (value: number) => ({
    ...NO_IMPORTS,
    imported: async () => ({ ...newGray(SIZE.width, SIZE.height), data: new Float32Array(1200).fill(value) }),
  });
  const of = (id: string) => fenceOf(document, peel(id)) as NonNullable<ReturnType<typeof fenceOf>>;

  it('is a part of any subject, also one that is switched off, and no Peel, nor one that is gone', () => {
    expect(of('off')).toMatchObject({ id: 'off' });
    expect(of('matte')).toMatchObject({ id: 'matte' });
    for (const id of ['peel', 'gone']) expect(fenceOf(document, peel(id))).toBeNull();
  });

  it('holds what lies in its closed curves, at any size, or outside where it is inverted', async () => {
    expect(count(await renderFence(of('off'), 0, NO_IMPORTS, SIZE, SIZE))).toBe(64);
    expect(count(await renderFence(of('off'), 0, NO_IMPORTS, SIZE, { width: 80, height: 60 }))).toBe(256);
    expect(count(await renderFence({ ...of('off'), inverted: true }, 0, NO_IMPORTS, SIZE, SIZE))).toBe(1200 - 64);
  });

  it('holds what is light in an imported matte, and nothing at all on frames where the part is not', async () => {
    expect(count(await renderFence(of('matte'), 1, from(0.8), SIZE, SIZE))).toBe(1200);
    expect(count(await renderFence(of('matte'), 1, from(0.3), SIZE, SIZE))).toBe(0);
    expect(await renderFence(of('matte'), 3, from(0.8), SIZE, SIZE)).toBeNull();
    expect(await renderFence({ ...of('off'), range: { first: 4, last: 5 } }, 3, NO_IMPORTS, SIZE, SIZE)).toBeNull();
  });

  it('goes with the track that it follows, as does what its own matte is, and a Peel is found anew where that changes', async () => {
    const track = (x: number) => {
      const start = newPointTrack({ id: 'track', name: 'Point', frame: 0, lines: 30 }, 10, 10);
      const key = (frame: number, at: number[]) => ({ frame, value: { at, quality: 1 }, ease: 'linear' as const });
      return { ...start, motion: { keys: [key(0, [10, 10]), key(4, [x, 14])] } };
    };
    const following = (x: number, name = 'Point'): ShotDocument => ({
      ...document,
      cast: document.cast.map((s) => ({
        ...s,
        parts: s.parts.map((p) =>
          p.type === 'spline' && p.id === 'off' ? { ...p, enabled: true, follow: { track: 'track', frame: 0, takes: ['position'] } } : p,
        ),
      })),
      tracks: [{ ...track(x), name }],
    });
    const inside = async (d: ShotDocument, frame: number) => {
      const fence = fenceOf(d, peel('off'));
      return fence && renderFence(fence, frame, NO_IMPORTS, SIZE, SIZE);
    };
    const [near, far] = [following(14), following(18)];
    for (const [d, dx] of [
      [near, 4],
      [far, 8],
    ] as const) {
      const mask = (await inside(d, 4)) as Uint8Array;
      // The square from 20, 10 on lies 4 lower, and as far to the right as the point went.
      expect([mask[14 * 40 + 20 + dx], mask[14 * 40 + 19 + dx], mask[13 * 40 + 20 + dx], count(mask)]).toEqual([1, 0, 0, Math.min(8, 20 - dx) * 8]);
      const matte = await renderMatte(d, 's', 4, NO_IMPORTS, SIZE);
      expect(matte.data[15 * 40 + 21 + dx]).toBe(1);
    }
    expect(peelTask(near, peel('off')).fencing).not.toBe(peelTask(far, peel('off')).fencing);
    expect(peelTask(following(14, 'Other'), peel('off')).fencing).toBe(peelTask(near, peel('off')).fencing);
  });

  it('is a tracked region too, where it was tracked, and never a tracked point', async () => {
    const start = { id: 'track', name: 'Region', frame: 2, lines: 30 };
    const region = newRegionTrack(start, [square(20, 10, 8)], 'move');
    const key = (frame: number, at: number[], quality = 1) => ({ frame, value: { at, quality }, ease: 'linear' as const });
    const tracked = (x: number) => ({ ...region, motion: { keys: [key(2, [24, 14]), key(3, [24 + x, 15]), key(4, [0, 0], 0)] } });
    const told = (x: number) => ({ ...document, tracks: [tracked(x), newPointTrack({ ...start, id: 'point' }, 10, 10)] });
    expect(fenceOf(told(4), peel('point'))).toBeNull();
    const fence = fenceOf(told(4), peel('track')) as NonNullable<ReturnType<typeof fenceOf>>;
    const mask = (await renderFence(fence, 3, NO_IMPORTS, SIZE, SIZE)) as Uint8Array;
    expect([mask[11 * 40 + 24], mask[11 * 40 + 23], mask[10 * 40 + 24], count(mask)]).toEqual([1, 0, 0, 64]);
    // Before it was drawn, and where it was lost, nobody knows where it is: nothing is fenced in.
    for (const frame of [1, 4]) expect(await renderFence(fence, frame, NO_IMPORTS, SIZE, SIZE)).toBeNull();
    const fencing = (d: ShotDocument) => peelTask(d, peel('track')).fencing;
    expect(fencing(told(5))).not.toBe(fencing(told(4)));
    expect(fencing({ ...told(4), tracks: [{ ...tracked(4), name: 'Other' }] })).toBe(fencing(told(4)));
  });

  it('changes what a Peel is found from when its shape changes, and not with its name', () => {
    const before = peelTask(document, peel('off')).fencing;
    const now = (more: Partial<SplinePart>) => {
      const changed = {
        ...document,
        cast: document.cast.map((s) => ({ ...s, parts: s.parts.map((p) => (p.id === 'off' ? ({ ...p, ...more } as SplinePart) : p)) })),
      };
      return peelTask(changed, peel('off')).fencing;
    };
    expect(now({ name: 'Window', locked: true, enabled: true })).toBe(before);
    expect(now({ inverted: true })).not.toBe(before);
    expect(now({ paths: [newPath('other', 0, square(21, 10, 8), true)] })).not.toBe(before);
    expect(peelTask(document, peel(null)).fencing).toBeNull();
  });
});
