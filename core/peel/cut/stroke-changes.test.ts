import { describe, expect, it } from 'vitest';
import { CELLS, labPicture } from '../picture/lab.ts';
import { DROP, KEEP, NOT_PAINTED } from '../strokes/strokes.ts';
import type { MotionPull } from './motion-evidence.ts';
import { added, heldByMotion, MOST, reached, takenAway } from './stroke-changes.ts';

const [WIDTH, HEIGHT] = [120, 40];
type Area = readonly [left: number, top: number, right: number, bottom: number];
const within = ([left, top, right, bottom]: Area, i: number): boolean =>
  i % WIDTH >= left && i % WIDTH < right && Math.floor(i / WIDTH) >= top && Math.floor(i / WIDTH) < bottom;
const painted = (value: number, ...areas: Area[]) => Uint8Array.from({ length: WIDTH * HEIGHT }, (_, i) => (areas.some((area) => within(area, i)) ? value : 0));

/** A red square of ten pixels and a green piece of eight by ten, on blue. */
const RED: Area = [20, 10, 30, 20];
const GREEN: Area = [60, 10, 68, 20];
const picture = labPicture({
  width: WIDTH,
  height: HEIGHT,
  data: Uint8Array.from(
    { length: 4 * WIDTH * HEIGHT },
    (_, k) => (within(RED, k >> 2) ? [200, 40, 40, 255] : within(GREEN, k >> 2) ? [40, 180, 60, 255] : [40, 60, 160, 255])[k % 4],
  ),
});
/** A table by which the green is the subject's so likely, and nothing is known of other colours. */
function table(green: number): Float32Array {
  const out = new Float32Array(CELLS ** 3).fill(0.5);
  out[picture.cell[15 * WIDTH + 65]] = green;
  return out;
}
const [nothing, both] = [painted(0), painted(1, RED, GREEN)];
const onRed: Area = [23, 13, 27, 17];

describe('a keep stroke', () => {
  const stroke = painted(KEEP, onRed);
  const change = (now: number) => ({ picture, stroke, was: nothing, cut: { mask: both, table: table(now) } });

  it('adds a piece that it touches, and another whose colours speak for it', () => {
    expect(added(change(0.9), stroke, true)).toEqual(both);
  });

  it('adds no other that has more than five times its pixels, when bounded', () => {
    const less = { ...change(0.9), stroke: painted(KEEP, [23, 13, 27, 16]) };
    expect(added(less, less.stroke, true)).toEqual(painted(1, RED));
    expect(added(less, less.stroke, false)).toEqual(both);
  });

  it('adds no other whose colours say little, or speak against it, when bounded', () => {
    expect(added(change(0.6), stroke, true)).toEqual(painted(1, RED));
    expect(added(change(0.1), stroke, true)).toEqual(painted(1, RED));
    expect(added(change(0.6), stroke, false)).toEqual(both);
  });

  it('adds nothing that lies against a drop stroke, and takes nothing away', () => {
    const told = painted(DROP, [68, 10, 72, 20]).map((v, i) => v || stroke[i]);
    expect(added(change(0.9), told, true)).toEqual(painted(1, RED));
    const less = { ...change(0.9), was: both, cut: { mask: nothing, table: table(0.3) } };
    expect(added(less, stroke, true)).toEqual(both);
  });

  it('that is very small for a piece adds what is nearest of it, when bounded', () => {
    const dot = painted(KEEP, [24, 14, 25, 15]);
    const small = { ...change(0.6), stroke: dot };
    expect(added(small, dot, false)).toEqual(both);
    const near = added(small, dot, true);
    expect(near.filter((v) => v === 1)).toHaveLength(5);
    for (let i = 0; i < near.length; i++) if (near[i]) expect(Math.hypot((i % WIDTH) - 24, Math.floor(i / WIDTH) - 14)).toBeLessThan(2);
  });
});

describe('a drop stroke', () => {
  const stroke = painted(DROP, onRed);
  const change = (now: number) => ({ picture, stroke, was: both, cut: { mask: nothing, table: table(now) } });

  it('takes away all that comes out so, and what it reaches alone when bounded', () => {
    const large = { ...change(0.5), stroke: painted(DROP, [20, 10, 30, 12]) };
    expect(takenAway(large, null)).toEqual(nothing);
    expect(takenAway(large, MOST)).toEqual(painted(1, GREEN));
  });

  it('takes away five times its own pixels at most, when bounded, none of them elsewhere', () => {
    const dot = painted(DROP, [24, 14, 26, 16]);
    const left = takenAway({ ...change(0.4), stroke: dot }, MOST);
    expect(left.filter((v) => v === 1)).toHaveLength(180 - 20);
    expect(takenAway({ ...change(0.4), stroke: dot }, 10).filter((v) => v === 1)).toHaveLength(180 - 40);
    for (let i = 0; i < left.length; i++) if (within(GREEN, i)) expect(left[i]).toBe(1);
  });

  it('adds nothing but specks', () => {
    const speck: Area = [90, 10, 94, 14];
    const more = { ...change(0.5), was: painted(1, RED), cut: { mask: painted(1, GREEN, speck), table: table(0.5) } };
    expect(takenAway(more, null)).toEqual(painted(1, speck));
    expect(takenAway(more, MOST).filter((v, i) => v && !within(RED, i))).toHaveLength(16);
  });
});

describe('what motion speaks against', () => {
  /** What motion says of the green and of all else, and of what is known. */
  const motion = (green: number, rest: number, ofKnown = { keep: 2, drop: -2 }): MotionPull => ({
    ofKnown: () => ofKnown,
    coarse: () => new Float32Array(0),
    fine: ({ left, top, width, height }) =>
      Float32Array.from({ length: width * height }, (_, i) => (within(GREEN, (top + Math.floor(i / width)) * WIDTH + left + (i % width)) ? green : rest)),
  });
  const beta = 0.01;
  const drop = { picture, stroke: painted(DROP, onRed), was: both, cut: { mask: nothing, table: table(0.5) } };
  const keep = { picture, stroke: painted(KEEP, onRed), was: nothing, cut: { mask: both, table: table(0.5) } };

  it('is not taken away with what a drop stroke is on, since it goes with the subject', () => {
    expect(heldByMotion(drop, nothing, motion(3, -3), beta)).toEqual(painted(1, GREEN));
    expect(heldByMotion(drop, nothing, motion(-3, -3), beta)).toEqual(nothing);
    // Nothing much is not enough.
    expect(heldByMotion(drop, nothing, motion(0.2, -3), beta)).toEqual(nothing);
  });

  it('is not added with what a keep stroke is on, since it stays behind', () => {
    expect(heldByMotion(keep, both, motion(-3, 3), beta)).toEqual(painted(1, RED));
    expect(heldByMotion(keep, both, motion(3, 3), beta)).toEqual(both);
    expect(heldByMotion(keep, both, motion(0, 3), beta)).toEqual(both);
  });

  it('is nothing where it does not tell the strokes themselves apart', () => {
    expect(heldByMotion(drop, nothing, motion(3, 3, { keep: 0.3, drop: 0 }), beta)).toEqual(nothing);
    expect(heldByMotion(keep, both, motion(-3, -3, { keep: 0.3, drop: 0 }), beta)).toEqual(both);
  });

  it('is taken away close to the stroke, as a shadow that goes with the subject has to be', () => {
    const onGreen = { ...drop, stroke: painted(DROP, [63, 12, 65, 18]) };
    expect(heldByMotion(onGreen, painted(1, RED), motion(3, -3), beta)).toEqual(painted(1, RED));
    const small = { ...drop, stroke: painted(DROP, [60, 10, 62, 12]) };
    expect(heldByMotion(small, painted(1, RED), motion(3, -3), beta).filter((v) => v === 1)).toHaveLength(180 - 4 * 3);
  });
});

describe('what a stroke reaches', () => {
  const stroke = painted(KEEP, onRed);
  const change = { picture, stroke, was: nothing, cut: { mask: both, table: table(0.5) } };

  it('is what turns round it, no farther than asked', () => {
    expect(reached({ ...change, stroke: painted(KEEP, [22, 12, 28, 18]) }, 100)).toEqual(painted(1, RED));
    expect(reached(change, 1)).toEqual(painted(1, [22, 12, 28, 18]));
    expect(reached({ ...change, stroke: painted(NOT_PAINTED) }, 100)).toEqual(nothing);
  });
});
