import { describe, expect, it } from 'vitest';
import { randomFrom } from '../../math/random.ts';
import { boxMean } from '../picture/box-mean.ts';
import { type FrameBytes, halvedFrame, labPicture } from '../picture/lab.ts';
import { softenToPicture } from './edge-width.ts';
import { refined } from './refine.ts';
import { finishedAlpha, settledMask } from './soft-edge.ts';

const [WIDTH, HEIGHT] = [320, 240];

/** A warm disc of 70 pixels with a wavy edge before cold ground, both with grain, its alpha blurred by box means of this radius. */
function picture(blur: number): { frame: FrameBytes; alpha: Float32Array } {
  const random = randomFrom(4);
  const inside = (x: number, y: number) => {
    const [dx, dy] = [x - 160, y - 120];
    return Math.hypot(dx, dy) < 70 + 6 * Math.sin(9 * Math.atan2(dy, dx));
  };
  let alpha = new Float32Array(WIDTH * HEIGHT);
  // Areas from 4 by 4 places in each pixel.
  for (let i = 0; i < alpha.length; i++)
    for (let k = 0; k < 16; k++) if (inside((i % WIDTH) + ((k % 4) + 0.5) / 4, Math.floor(i / WIDTH) + (Math.floor(k / 4) + 0.5) / 4)) alpha[i] += 1 / 16;
  if (blur > 0) alpha = boxMean(boxMean(alpha, WIDTH, HEIGHT, blur), WIDTH, HEIGHT, blur) as typeof alpha;
  const data = new Uint8Array(4 * WIDTH * HEIGHT);
  for (let i = 0; i < alpha.length; i++) {
    const grain = 14 * (random() - 0.5);
    for (let c = 0; c < 3; c++) data[4 * i + c] = alpha[i] * [190, 120, 60][c] + (1 - alpha[i]) * [40, 70, 110][c] + grain;
    data[4 * i + 3] = 255;
  }
  return { frame: { width: WIDTH, height: HEIGHT, data }, alpha };
}

const maskOf = (alpha: Float32Array) => Uint8Array.from(alpha, (v) => (v > 0.5 ? 1 : 0));
/** Sum of the differences, in pixels. */
const errorOf = (a: ArrayLike<number>, truth: Float32Array): number => truth.reduce((sum, v, i) => sum + Math.abs(a[i] - v), 0);

describe('the width of an edge', () => {
  it('is taken from the picture where that is blurred', () => {
    const { frame, alpha } = picture(6);
    const lab = labPicture(frame);
    const mask = maskOf(alpha);
    const crisp = settledMask(mask, lab);
    const soft = crisp.slice();
    softenToPicture(soft, mask, lab);
    expect(errorOf(soft, alpha)).toBeLessThan(0.35 * errorOf(crisp, alpha));
    expect(Math.max(...soft)).toBeLessThanOrEqual(1);
    expect(Math.min(...soft)).toBeGreaterThanOrEqual(0);
  });

  it('is left alone where the picture is crisp, and where there is no subject', () => {
    const { frame, alpha } = picture(0);
    const lab = labPicture(frame);
    const crisp = settledMask(maskOf(alpha), lab);
    const same = crisp.slice();
    softenToPicture(same, maskOf(alpha), lab);
    expect(same).toEqual(crisp);
    const empty = new Float32Array(WIDTH * HEIGHT);
    softenToPicture(empty, new Uint8Array(WIDTH * HEIGHT), lab);
    expect(empty.includes(1)).toBe(false);
  });

  it.each([
    [0.08, 3],
    [0.2, 3],
    [0.8, 2],
    [0.9, 1.4],
  ])('is found with the place of a soft edge that was cut where %f of the subject shows, with an error %f times as small', (level, times) => {
    const { frame, alpha } = picture(6);
    const lab = labPicture(frame);
    const mask = Uint8Array.from(alpha, (v) => (v > level ? 1 : 0));
    expect(errorOf(finishedAlpha(mask, lab, null), alpha)).toBeLessThan(errorOf(settledMask(mask, lab), alpha) / times);
  });
});

describe('a matte made fine at the size of the plate', () => {
  const small = (blur: number) => {
    const { frame, alpha } = picture(blur);
    const proxy = halvedFrame(frame);
    const half = halvedFrame({ width: WIDTH, height: HEIGHT, data: Uint8Array.from({ length: 4 * alpha.length }, (_, i) => 255 * alpha[i >> 2]) });
    const mask = Uint8Array.from({ length: half.width * half.height }, (_, i) => (half.data[4 * i] > 127 ? 1 : 0));
    return { frame, alpha, matte: { width: proxy.width, height: proxy.height, data: finishedAlpha(mask, labPicture(proxy), null) } };
  };

  it.each([0, 6])('comes much nearer to the truth than one that is only made larger (blur %i)', (blur) => {
    const { frame, alpha, matte } = small(blur);
    const larger = Float32Array.from({ length: WIDTH * HEIGHT }, (_, i) => matte.data[Math.floor(i / WIDTH / 2) * matte.width + Math.floor((i % WIDTH) / 2)]);
    const fine = refined(matte, frame);
    expect([fine.width, fine.height]).toEqual([WIDTH, HEIGHT]);
    expect(errorOf(fine.data, alpha)).toBeLessThan((blur === 0 ? 0.6 : 0.9) * errorOf(larger, alpha));
  });

  it('keeps what was found soft, and is nothing where nothing was found', () => {
    const { frame, matte } = small(0);
    // As where an edge was called soft: a wide ramp on the left side.
    const soft = { ...matte, data: matte.data.map((v, i) => (i % matte.width < 70 ? Math.min(v, Math.max(0, ((i % matte.width) - 40) / 30)) : v)) };
    const fine = refined(soft, frame);
    expect(fine.data[120 * WIDTH + 110]).toBeGreaterThan(0.3);
    expect(fine.data[120 * WIDTH + 110]).toBeLessThan(0.7);
    const nothing = refined({ ...matte, data: new Float32Array(matte.data.length) }, frame);
    expect(nothing.data.every((v) => v === 0)).toBe(true);
  });
});
