import { describe, expect, it } from 'vitest';
import { secondFrom } from './second-opinion.ts';

describe('secondFrom', () => {
  it("moves the second's windows as far as the first's went on average, in pixels that are twice as large", () => {
    const [before, now] = [Float32Array.from([10, 20, 30, 40]), Float32Array.from([16, 18, 40, 36])];
    const mask = new Uint8Array(4);
    expect(secondFrom(mask, now, before, Float32Array.from([5, 10, 7, 7, 0, 0]))).toEqual({ mask, places: Float32Array.from([9, 8.5, 11, 5.5, 4, -1.5]) });
  });

  it('leaves them where there are none of the first to go by', () => {
    const none = new Float32Array(0);
    expect(secondFrom(new Uint8Array(1), none, none, Float32Array.from([3, 4])).places).toEqual(Float32Array.from([3, 4]));
  });
});
