import fc from 'fast-check';
import { expect, it } from 'vitest';
import { fromHsl, toHsl } from './hue.ts';

const share = fc.double({ min: 0, max: 1, noNaN: true });

it('goes to hue, saturation and lightness and back', () => {
  fc.assert(
    fc.property(share, share, share, (r, g, b) => {
      const [hsl, rgb] = [new Float64Array(3), new Float64Array(3)];
      toHsl(r, g, b, hsl);
      fromHsl(hsl[0], hsl[1], hsl[2], rgb);
      for (const [k, v] of [r, g, b].entries()) expect(rgb[k]).toBeCloseTo(v, 6);
    }),
  );
});

it('knows the colours of the standard', () => {
  const of = (r: number, g: number, b: number) => {
    const out = new Float64Array(3);
    toHsl(r, g, b, out);
    return [...out].map((v) => Math.round(v * 1000) / 1000);
  };
  // Red, yellow, teal (hsl(180 100% 25%)), grey.
  expect([of(1, 0, 0), of(1, 1, 0), of(0, 0.5, 0.5), of(0.5, 0.5, 0.5)]).toEqual([
    [0, 1, 0.5],
    [0.167, 1, 0.5],
    [0.5, 1, 0.25],
    [0, 0, 0.5],
  ]);
});
