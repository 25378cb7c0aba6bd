import { describe, expect, it } from 'vitest';
import { type Homography, translation } from '../../math/homography.ts';
import { randomFrom } from '../../math/random.ts';
import { type Motion, motionOf } from '../motion/layers.ts';
import { prepareFrame } from '../motion/prepared-frame.ts';
import { PEEL_SETTINGS } from '../settings.ts';
import { anchorModel, type PropagationStep, propagateFrame } from './propagate-frame.ts';

const [W, H] = [192, 128];
const random = randomFrom(6);
const waves = Array.from({ length: 14 }, () => [(random() - 0.5) * 0.5, (random() - 0.5) * 0.5, random() * 6]);
const grainy = (x: number, y: number) => waves.reduce((s, [a, b, c]) => s + Math.sin(a * x + b * y + c), 0) * 6;

/** A warm square on bluish waves, the last of it `covered`; or all to the right of it as warm as it is. */
function pictureAt(left: number, top: number, size: number, { covered = 0, alike = false } = {}) {
  const data = new Uint8Array(4 * W * H);
  const mask = new Uint8Array(W * H);
  for (let y = 0; y < H; y++)
    for (let x = 0; x < W; x++) {
      const own = x >= left && x < left + size - covered && y >= top && y < top + size;
      const p = own ? grainy(2 * (x - left) + 300, 2 * (y - top)) : grainy(x, y);
      data.set([...(own || (alike && x >= left + size) ? [150 + p, 100 + p, 60] : [80, 96 + p, 132 + p]), 255], 4 * (y * W + x));
      mask[y * W + x] = own ? 1 : 0;
    }
  return { frame: prepareFrame({ width: W, height: H, data }), mask };
}

type Pictured = ReturnType<typeof pictureAt>;
const step = (before: Pictured, next: Pictured, motion: Motion): PropagationStep => ({
  before: before.frame,
  mask: before.mask,
  next: next.frame,
  motion,
  model: anchorModel(before.frame, before.mask),
  seeds: null,
  settings: PEEL_SETTINGS.carry,
});

describe('what is too small to tell how it moves', () => {
  const [before, next] = [pictureAt(40, 50, 18), pictureAt(72, 44, 18)];
  const flow = (by: number) => {
    const { width, height } = before.frame.coarse;
    return { width, height, data: new Float32Array(2 * width * height).fill(by) };
  };
  // A motion of which going forth and back tells that it is wrong everywhere.
  const motion = motionOf(flow(0), flow(5));
  const carried = (pace: Homography | null) => propagateFrame(step(before, next, motion), { pace });
  const right = (mask: Uint8Array) => mask.reduce((sum, v, i) => sum + (v && next.mask[i] ? 1 : 0), 0);

  it('goes on as it went before', () => {
    const { mask, pace } = carried(translation(32, -6));
    expect(right(mask)).toBeGreaterThan(18 * 18 - 20);
    expect(mask.reduce((a, b) => a + b, 0)).toBeLessThan(18 * 18 + 20);
    expect(pace?.slice(0, 6).map((v) => Math.round(100 * v) / 100)).toEqual([1, 0, 32, 0, 1, -6]);
  });

  it('is lost where that is not known', () => {
    const { mask, pace } = carried(null);
    expect(right(mask)).toBe(0);
    expect(pace).toBeNull();
  });
});

describe('what is measured of a frame', () => {
  const GONE = 8;
  const squareAt = (left: number, how: { covered?: number; alike?: boolean } = {}) => pictureAt(left, 30, 60, how);
  /** Of a square that has gone to the right, as the motion says of all. */
  const signals = (before: ReturnType<typeof squareAt>, next: ReturnType<typeof squareAt>) => {
    const { coarse, factor } = before.frame;
    const flow = (by: number) => ({
      ...coarse,
      data: Float32Array.from({ length: 2 * coarse.width * coarse.height }, (_, i) => (i % 2 === 0 ? by / factor : 0)),
    });
    const motion = motionOf(flow(GONE), flow(-GONE));
    return propagateFrame(step(before, next, motion)).signals;
  };
  const plain = signals(squareAt(50), squareAt(50 + GONE));

  it('is how much of its edge is not where the motion brings it', () => {
    expect(plain.strayed).toBeLessThan(0.05);
    // One side of four is covered.
    const { strayed } = signals(squareAt(50), squareAt(50 + GONE, { covered: 8 }));
    expect(strayed).toBeGreaterThan(0.2);
    expect(strayed).toBeLessThan(0.45);
  });

  it('is how much of what is beside its edge has the colours of the other side', () => {
    expect(plain.unlike).toBeLessThan(0.05);
    const { unlike } = signals(squareAt(50, { alike: true }), squareAt(50 + GONE, { alike: true }));
    expect(unlike).toBeGreaterThan(0.08);
    expect(unlike).toBeLessThan(0.4);
  });
});
