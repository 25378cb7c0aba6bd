import { describe, expect, it } from 'vitest';
import { randomFrom } from '../../math/random.ts';
import { labPicture } from '../picture/lab.ts';
import { halfwayMask, settledMask, softMask } from './soft-edge.ts';

const [WIDTH, HEIGHT] = [160, 120];
const depth = (x: number, y: number) => 36.3 - Math.hypot(x + 0.5 - 80.2, y + 0.5 - 60.4);
const exact = Float32Array.from({ length: WIDTH * HEIGHT }, (_, i) => Math.max(0, Math.min(1, 0.5 + depth(i % WIDTH, Math.floor(i / WIDTH)) / 1.5)));
/** The disc as a mask, its edge moved outwards by `by` pixels. */
const disc = (by: number) => Uint8Array.from({ length: WIDTH * HEIGHT }, (_, i) => (depth(i % WIDTH, Math.floor(i / WIDTH)) > -by ? 1 : 0));
const picture = (inside: number[], outside: number[], grain: number, alpha = exact) => {
  const random = randomFrom(6);
  const data = new Uint8Array(4 * WIDTH * HEIGHT);
  for (let i = 0; i < exact.length; i++) {
    const n = grain * (random() - 0.5);
    data.set([0, 1, 2].map((c) => Math.max(0, Math.min(255, outside[c] + (inside[c] - outside[c]) * alpha[i] + n))).concat(255), 4 * i);
  }
  return labPicture({ width: WIDTH, height: HEIGHT, data });
};
const error = (alpha: Float32Array) => alpha.reduce((sum, a, i) => sum + Math.abs(a - exact[i]), 0);

describe('softMask', () => {
  it('keeps lines and gaps of a pixel', () => {
    const mask = Uint8Array.from({ length: 40 * 20 }, (_, i) => (i % 40 === 8 || (i % 40 > 20 && i % 40 !== 30) ? 1 : 0));
    const alpha = softMask(mask, 40, 20);
    expect([...alpha].map((a) => (a > 0.5 ? 1 : 0))).toEqual([...mask]);
  });
});

describe('settledMask', () => {
  const sharp = picture([190, 140, 80], [50, 70, 110], 16);

  it.each([-1.2, -0.6, 0.6, 1.2])('moves an edge that is %f pixels off back to where the picture has it', (by) => {
    const [soft, settled, right] = [softMask(disc(by), WIDTH, HEIGHT), settledMask(disc(by), sharp), softMask(disc(0), WIDTH, HEIGHT)].map(error);
    expect(settled).toBeLessThan(0.7 * soft);
    // Nearly as good as if the mask had been right, whose error is that of the edge's width.
    expect(settled).toBeLessThan(1.4 * right);
  });

  it('leaves an edge that is right', () => {
    expect(error(settledMask(disc(0), sharp))).toBeLessThan(1.1 * error(softMask(disc(0), WIDTH, HEIGHT)));
  });

  it('leaves an edge where the picture shows none', () => {
    const plain = picture([90, 90, 90], [90, 90, 90], 6);
    const [soft, settled] = [softMask(disc(0.6), WIDTH, HEIGHT), settledMask(disc(0.6), plain)];
    expect(Math.max(...soft.map((v, i) => Math.abs(v - settled[i])))).toBeLessThan(0.12);
  });

  it('leaves thin parts as they are', () => {
    const line = Uint8Array.from({ length: WIDTH * HEIGHT }, (_, i) => (Math.abs(Math.floor(i / WIDTH) - 60) < 2 ? 1 : 0));
    expect(settledMask(line, sharp)).toEqual(softMask(line, WIDTH, HEIGHT));
  });
});

describe('halfwayMask', () => {
  const differing = (a: Uint8Array, b: Uint8Array) => a.reduce((sum, v, i) => sum + (v === b[i] ? 0 : 1), 0);

  it('puts an edge that was cut at the outer end of a blur half way', () => {
    const blurred = Float32Array.from(exact, (_, i) => Math.max(0, Math.min(1, 0.5 + depth(i % WIDTH, Math.floor(i / WIDTH)) / 14)));
    const half = halfwayMask(disc(5), picture([190, 140, 80], [50, 70, 110], 6, blurred));
    expect(differing(disc(5), disc(0))).toBeGreaterThan(1000);
    expect(differing(half, disc(0))).toBeLessThan(250);
  });

  it('leaves one that is crisp, and what is thin', () => {
    const sharp = picture([190, 140, 80], [50, 70, 110], 16);
    for (const by of [-0.6, 0, 0.6]) expect(halfwayMask(disc(by), sharp)).toEqual(disc(by));
    const line = Uint8Array.from({ length: WIDTH * HEIGHT }, (_, i) => (Math.abs(Math.floor(i / WIDTH) - 60) < 2 ? 1 : 0));
    expect(halfwayMask(line, picture([90, 90, 90], [90, 90, 90], 6))).toEqual(line);
  });
});
