import { describe, expect, it } from 'vitest';
import { applyTo, multiply, scaling, translation } from '../../math/homography.ts';
import { prepareFrame } from '../motion/prepared-frame.ts';
import { halfFrame, halfMask, halfPainted, secondEstimateFrom } from './ensemble.ts';

describe('secondEstimateFrom', () => {
  it("moves the second's windows as far as the first's went on average, in pixels that are twice as large", () => {
    const [before, now] = [Float32Array.from([10, 20, 30, 40]), Float32Array.from([16, 18, 40, 36])];
    const mask = new Uint8Array(4);
    expect(secondEstimateFrom(mask, now, before, Float32Array.from([5, 10, 7, 7, 0, 0]))).toEqual({
      mask,
      centres: Float32Array.from([9, 8.5, 11, 5.5, 4, -1.5]),
    });
  });

  it('leaves them where there are none of the first to go by', () => {
    const none = new Float32Array(0);
    expect(secondEstimateFrom(new Uint8Array(1), none, none, Float32Array.from([3, 4])).centres).toEqual(Float32Array.from([3, 4]));
  });
});

describe('halfPainted', () => {
  it('is what is laid on frames of half the size: its mask, and the way back to it in pixels that are twice as large', () => {
    const frame = prepareFrame({ width: 96, height: 64, data: new Uint8Array(4 * 96 * 64).fill(90) });
    const mask = Uint8Array.from({ length: 96 * 64 }, (_, i) => (i % 96 >= 20 && i % 96 < 50 && i >= 96 * 10 ? 1 : 0));
    const back = multiply(translation(6, -4), scaling(1.1, 1.1));
    const small = halfFrame(frame);
    const half = halfPainted({ frame, mask, back }, { frame: small, mask: halfMask(mask, frame, small.fine) });
    expect([half.frame.fine.width, half.frame.fine.height]).toEqual([48, 32]);
    expect([...half.mask]).toEqual(Array.from({ length: 48 * 32 }, (_, i) => (i % 48 >= 10 && i % 48 < 25 && i >= 48 * 5 ? 1 : 0)));
    // The middle of the first pixel there is the corner of four here.
    const [x, y] = applyTo(back, 40.5, 20.5);
    const [u, v] = applyTo(half.back, 20, 10);
    expect(2 * u + 0.5).toBeCloseTo(x, 6);
    expect(2 * v + 0.5).toBeCloseTo(y, 6);
  });

  it('stays as it is where frames are too small to be halved', () => {
    const frame = prepareFrame({ width: 32, height: 24, data: new Uint8Array(4 * 32 * 24).fill(90) });
    const mask = new Uint8Array(32 * 24).fill(1);
    const small = halfFrame(frame);
    expect(halfPainted({ frame, mask, back: translation(3, 2) }, { frame: small, mask: halfMask(mask, frame, small.fine) })).toMatchObject({
      mask,
      back: translation(3, 2),
    });
  });
});
