import { describe, expect, it } from 'vitest';
import { prepareFrame } from '../motion/prepared-frame.ts';
import { CUT_SETTINGS } from '../settings.ts';
import { type PaintedStroke, paintStrokes } from '../strokes/strokes.ts';
import { cutPainted } from './cut-painted.ts';

const [WIDTH, HEIGHT] = [160, 120];
const plate = { width: WIDTH, height: HEIGHT };

/** Three orange squares, 24 pixels each, from (20, 20), (70, 20) and (120, 20), on blue; a fourth, of another orange, from (70, 80). */
const prepared = prepareFrame({
  ...plate,
  data: Uint8Array.from({ length: 4 * WIDTH * HEIGHT }, (_, i) => {
    const [c, x, y] = [i % 4, Math.floor(i / 4) % WIDTH, Math.floor(i / 4 / WIDTH)];
    const square = y >= 20 && y < 44 && [20, 70, 120].some((left) => x >= left && x < left + 24);
    const other = y >= 80 && y < 104 && x >= 70 && x < 94;
    const grain = ((x * 7 + y * 13) % 5) - 2;
    return (square ? [210, 120, 40, 255] : other ? [200, 100, 60, 255] : [60, 80, 150, 255])[c] + (c < 3 ? grain : 0);
  }),
});
const line = (kind: PaintedStroke['kind'], x: number, y: number, length = 12): PaintedStroke => ({ kind, points: [x, y, x + length, y], radius: 2 });
const rows = [6, 60, 114].flatMap((y) => [line('drop', 6, y, 60), line('drop', 90, y, 60)]);
const first = [line('keep', 26, 30), line('keep', 26, 25), line('keep', 76, 30), line('keep', 76, 25), ...rows];
const mask = (strokes: PaintedStroke[]) => cutPainted(prepared, strokes, plate, CUT_SETTINGS)?.mask as Uint8Array;
const held = (m: Uint8Array) => [m[32 * WIDTH + 32], m[32 * WIDTH + 82], m[32 * WIDTH + 132], m[92 * WIDTH + 82]];

describe('strokes of a frame', () => {
  it('beyond the first few add what they touch, and take away what they touch, and nothing else', () => {
    const before = mask(first);
    expect(held(before)).toEqual([1, 1, 0, 0]);
    const more = mask([...first, line('keep', 126, 30)]);
    expect(held(more)).toEqual([1, 1, 1, 0]);
    // A drop stroke on one of them teaches their colour as one of the surroundings', but takes that one away alone.
    const less = mask([...first, line('keep', 126, 30), line('drop', 76, 30)]);
    expect(held(less)).toEqual([1, 0, 1, 0]);
    const elsewhere = (m: Uint8Array) => m.filter((_, i) => i % WIDTH < 60 || i % WIDTH > 110);
    expect(elsewhere(less)).toEqual(elsewhere(more));
  });

  it('come to the same however many are drawn in a row of the first few, and whatever kind comes first', () => {
    const [keep, drop] = [first.filter((s) => s.kind === 'keep'), first.filter((s) => s.kind === 'drop')];
    expect(held(mask([...drop, ...keep]))).toEqual([1, 1, 0, 0]);
    // Ten keep strokes before the first drop stroke: all are cut together, since nothing was told of the surroundings before.
    const many = [...keep, ...Array.from({ length: 6 }, (_, i) => line('keep', 24 + i, 28 + i))];
    expect(held(mask([...many, ...drop]))).toEqual([1, 1, 0, 0]);
  });

  it('that are very much smaller than what they would add, add what they reach', () => {
    // An orange square on blue, and a bar 90 pixels long beside it, of a colour that nothing was told of.
    const scene = prepareFrame({
      ...plate,
      data: Uint8Array.from({ length: 4 * WIDTH * HEIGHT }, (_, i) => {
        const [c, x, y] = [i % 4, Math.floor(i / 4) % WIDTH, Math.floor(i / 4 / WIDTH)];
        const colour = y < 50 || y >= 70 || x < 20 || x >= 150 ? [60, 80, 150] : x < 60 ? [210, 120, 40] : [150, 150, 150];
        return c === 3 ? 255 : colour[c] + (((x * 7 + y * 13) % 5) - 2);
      }),
    });
    const along = (strokes: PaintedStroke[]) => {
      const m = cutPainted(scene, strokes, plate, CUT_SETTINGS)?.mask as Uint8Array;
      return [30, 70, 90, 110, 145].map((x) => m[60 * WIDTH + x]);
    };
    const rows = [6, 30, 90, 114].map((y) => line('drop', 10, y, 130));
    const square = [line('keep', 26, 55), line('keep', 26, 62)];
    expect(along([...square, ...rows])).toEqual([1, 0, 0, 0, 0]);
    expect(along([...square, ...rows, line('keep', 68, 60, 1)])).toEqual([1, 1, 0, 0, 0]);
  });

  it('turn five times their own pixels at most once many were drawn, the nearest first', () => {
    const many = [...first, line('keep', 24, 40), line('drop', 40, 60)];
    const more = mask(many);
    expect(held(more)).toEqual([1, 1, 0, 0]);
    const stroke = line('keep', 126, 30, 8);
    const added = mask([...many, stroke]).map((v, i) => (v !== more[i] ? 1 : 0));
    const places = Array.from(added.keys()).filter((i) => added[i]);
    const own = paintStrokes([stroke], { width: WIDTH, height: HEIGHT, scaleX: 1, scaleY: 1 }).filter((v) => v > 0).length;
    expect(places.length).toBe(5 * own);
    for (const i of places) expect(Math.hypot((i % WIDTH) - 130, Math.floor(i / WIDTH) - 30)).toBeLessThan(16);
  });

  it('keep nothing where none keeps anything of the picture', () => {
    expect(cutPainted(prepared, drop(), plate, CUT_SETTINGS)).toBeNull();
    expect(cutPainted(prepared, [line('keep', 500, 500), ...drop()], plate, CUT_SETTINGS)).toBeNull();
    function drop() {
      return first.filter((s) => s.kind === 'drop');
    }
  });
});
