import { describe, expect, it } from 'vitest';
import { IDENTITY, translation } from '../math/homography.ts';
import { newGray, newRgba } from './picture.ts';
import { seenThrough } from './warp.ts';

const wave = (x: number, y: number) => 0.5 + 0.3 * Math.sin(x / 5) * Math.cos(y / 6);
function filled(dx: number, dy: number) {
  const gray = newGray(48, 36);
  for (let y = 0; y < 36; y++) for (let x = 0; x < 48; x++) gray.data[y * 48 + x] = wave(x + 0.5 + dx, y + 0.5 + dy);
  return gray;
}

describe('a picture seen through a motion', () => {
  it('is itself where nothing moves, and shifted by whole pixels to the last bit', () => {
    const picture = filled(0, 0);
    expect(seenThrough(picture, IDENTITY).data).toEqual(picture.data);
    const moved = seenThrough(picture, translation(3, -2));
    expect(moved.data[10 * 48 + 10]).toBe(picture.data[8 * 48 + 13]);
  });

  it('shows what lies between pixels nearly as if it had been sampled there', () => {
    const [moved, sampled] = [seenThrough(filled(0, 0), translation(1.3, 0.6)), filled(1.3, 0.6)];
    for (let y = 4; y < 32; y++) for (let x = 4; x < 42; x++) expect(Math.abs(moved.data[y * 48 + x] - sampled.data[y * 48 + x])).toBeLessThan(0.001);
  });

  it('is the same by rows and columns as by all sixteen neighbours, smaller, larger, flipped and of another size', () => {
    const picture = filled(0, 0);
    const size = { width: 31, height: 50 };
    for (const motion of [
      [1.7, 0, 0.4, 0, 0.6, -2.3, 0, 0, 1],
      [-0.8, 0, 40.2, 0, 1.4, 1.1, 0, 0, 1],
      [2, 0, -9, 0, -2, 77, 0, 0, 2],
    ]) {
      // A turn too small to be seen takes the other way.
      const turned = motion.map((v, i) => (i === 1 ? 1e-12 : v));
      const [one, other] = [seenThrough(picture, motion, size).data, seenThrough(picture, turned, size).data];
      expect(one.some((v) => v > 0.5)).toBe(true);
      for (let i = 0; i < one.length; i++) expect(Math.abs(one[i] - other[i])).toBeLessThan(1e-5);
    }
  });

  it('has nothing from beyond its border, in any channel, and stays within 0 and 1', () => {
    const picture = newRgba(20, 10);
    picture.data.fill(1);
    const { data } = seenThrough(picture, translation(-6.5, 0));
    expect([...data.slice(4 * (5 * 20 + 2), 4 * (5 * 20 + 2) + 4)]).toEqual([0, 0, 0, 0]);
    expect([...data.slice(4 * (5 * 20 + 12), 4 * (5 * 20 + 12) + 4)]).toEqual([1, 1, 1, 1]);
    expect(Math.max(...data)).toBeLessThanOrEqual(1);
    expect(Math.min(...data)).toBeGreaterThanOrEqual(0);
  });
});
