import { describe, expect, it } from 'vitest';
import { BARS } from './bars.ts';
import { FIELD, scopesOf, WAVE } from './scopes.ts';

const picture = (width: number, height: number, of: (x: number, y: number) => [number, number, number]) =>
  Uint8ClampedArray.from({ length: 4 * width * height }, (_, i) => (i % 4 === 3 ? 255 : of((i >> 2) % width, Math.floor((i >> 2) / width))[i % 4]));

describe('scopes', () => {
  it('histogram: bars where values are, each channel by itself', () => {
    const { histogram } = scopesOf(
      picture(20, 10, (x) => (x < 15 ? [255, 0, 0] : [0, 0, 255])),
      { width: 20, height: 10 },
    );
    expect([histogram.red[BARS - 1], histogram.red[0]]).toEqual([1, expect.closeTo(1 / 3, 9)]);
    expect([histogram.blue[BARS - 1], histogram.blue[0]]).toEqual([expect.closeTo(1 / 3, 9), 1]);
    expect(histogram.green[0]).toBe(1);
    // The luma of red is .2126: bar 13 of 64.
    expect(histogram.luma[13]).toBe(1);
  });

  it('waveform: each column shows the values of its own part of the picture, black at the foot', () => {
    const { wave } = scopesOf(
      picture(192, 40, (x) => [x, 128, 0]),
      { width: 192, height: 40 },
    );
    const bright = (x: number, k: number) => {
      const rows = Array.from({ length: WAVE.height }, (_, y) => (wave[4 * (y * WAVE.width + x) + k] > 0 ? WAVE.height - 1 - y : -1)).filter((y) => y >= 0);
      return rows;
    };
    for (const x of [10, 90, 180]) {
      expect(bright(x, 0)).toEqual([Math.round((x / 255) * (WAVE.height - 1))]);
      expect(bright(x, 1)).toEqual([Math.round((128 / 255) * (WAVE.height - 1))]);
      expect(bright(x, 2)).toEqual([0]);
    }
  });

  it('field of colours: grey in the middle, blue to the right, red upwards', () => {
    const where = (colour: [number, number, number]) => {
      const { field } = scopesOf(
        picture(4, 4, () => colour),
        { width: 4, height: 4 },
      );
      const p = Array.from({ length: FIELD * FIELD }, (_, i) => field[4 * i]).indexOf(255);
      return [p % FIELD, FIELD - 1 - Math.floor(p / FIELD)];
    };
    expect(where([90, 90, 90])).toEqual([48, 48]);
    // What is more than half as far from grey as can be lies at the side of the field.
    expect(where([100, 100, 140])[0]).toBeGreaterThan(58);
    expect(where([0, 0, 255])[0]).toBe(FIELD - 1);
    expect(where([255, 0, 0])[1]).toBe(FIELD - 1);
    expect(where([0, 255, 0])).toEqual([expect.any(Number), expect.any(Number)]);
    expect(where([0, 255, 0])[0]).toBeLessThan(20);
  });
});
