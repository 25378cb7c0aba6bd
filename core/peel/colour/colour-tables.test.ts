import { describe, expect, it } from 'vitest';
import { labPicture } from '../picture/lab.ts';
import { DROP, KEEP } from '../strokes/strokes.ts';
import { likelierThanBeside, tableOf } from './colour-tables.ts';

describe('likelierThanBeside', () => {
  const [W, H] = [60, 40];
  const warm = (i: number) => i % W >= 30;
  const data = new Uint8Array(4 * W * H);
  for (let i = 0; i < W * H; i++) data.set(warm(i) ? [180 + (i % 7), 110, 60, 255] : [70, 100 + (i % 5), 140, 255], 4 * i);
  const picture = labPicture({ width: W, height: H, data });
  const pixels = Int32Array.from({ length: W * H }, (_, i) => i);
  const seeds = Uint8Array.from(pixels, (i) => (warm(i) ? KEEP : DROP));
  const table = tableOf(picture, seeds, pixels, null);
  const square = (left: number) => Uint8Array.from(pixels, (i) => (i % W >= left && i % W < left + 6 && i >= 15 * W && i < 25 * W ? 1 : 0));

  it('is one where the mask has the colours of the subject and all beside it has not, and the other way round', () => {
    const whole = Uint8Array.from(pixels, (i) => (warm(i) ? 1 : 0));
    expect(likelierThanBeside(picture, whole, table)).toBeGreaterThan(0.99);
    expect(
      likelierThanBeside(
        picture,
        whole.map((v) => 1 - v),
        table,
      ),
    ).toBeLessThan(-0.99);
  });

  it('is nothing where all is alike, whichever side that is, and of nothing', () => {
    for (const left of [5, 48]) expect(Math.abs(likelierThanBeside(picture, square(left), table)), `${left}`).toBeLessThan(0.01);
    expect(likelierThanBeside(picture, new Uint8Array(W * H), table)).toBe(0);
  });

  it('asks what is beside the mask but for the mixed pixels at its edge', () => {
    // A third of what is round it is the subject's, in a stripe that begins two pixels from it.
    const value = likelierThanBeside(picture, square(22), table);
    expect(value).toBeLessThan(-0.15);
    expect(value).toBeGreaterThan(-0.5);
  });
});
