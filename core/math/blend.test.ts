import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { BLEND, BLENDS, type Blend, blender, CHANNEL_BLENDS } from './blend.ts';

const colour = fc.array(fc.double({ min: 0, max: 1, noNaN: true }), { minLength: 3, maxLength: 3 });
const STEPS = Array.from({ length: 21 }, (_, i) => i / 20);

describe('blend modes', () => {
  it.each(CHANNEL_BLENDS)('%s keeps values in [0,1]', (mode) => {
    for (const b of STEPS)
      for (const s of STEPS) {
        const v = BLEND[mode](b, s);
        expect(v).toBeGreaterThanOrEqual(0);
        expect(v).toBeLessThanOrEqual(1 + 1e-12);
      }
  });

  it('have the laws of the standard', () => {
    for (const b of STEPS)
      for (const s of STEPS) {
        expect(BLEND.screen(b, s)).toBeCloseTo(1 - BLEND.multiply(1 - b, 1 - s), 12);
        expect(BLEND.overlay(b, s)).toBe(BLEND['hard-light'](s, b));
        expect(BLEND.difference(b, s)).toBe(Math.max(b, s) - Math.min(b, s));
        // Burning is dodging of the negatives.
        if (b < 1 && s > 0) expect(BLEND['color-burn'](b, s)).toBeCloseTo(1 - BLEND['color-dodge'](1 - b, 1 - s), 12);
      }
  });

  it('leave the picture alone at their neutral values', () => {
    for (const b of STEPS) {
      for (const mode of ['multiply', 'darken', 'color-burn'] as const) expect(BLEND[mode](b, 1)).toBeCloseTo(b, 12);
      for (const mode of ['screen', 'lighten', 'color-dodge', 'difference', 'exclusion', 'plus-lighter'] as const) expect(BLEND[mode](b, 0)).toBeCloseTo(b, 12);
      for (const mode of ['hard-light', 'soft-light'] as const) expect(BLEND[mode](b, 0.5)).toBeCloseTo(b, 12);
    }
  });

  it.each(BLENDS)('%s of colours keeps them in [0,1]', (mode) => {
    const mixed = blender(mode);
    fc.assert(
      fc.property(colour, colour, (b, s) => {
        const out = Float64Array.from(s);
        mixed(Float64Array.from(b), out);
        return out.every((v) => v >= -1e-9 && v <= 1 + 1e-9);
      }),
    );
  });

  it('of whole colours take hue, saturation and luminosity from where the standard says', () => {
    const lum = (c: ArrayLike<number>) => 0.3 * c[0] + 0.59 * c[1] + 0.11 * c[2];
    const made = (mode: Blend, b: number[], s: number[]) => {
      const out = Float64Array.from(s);
      blender(mode)(Float64Array.from(b), out);
      return [...out];
    };
    fc.assert(
      fc.property(colour, colour, (b, s) => {
        for (const mode of ['hue', 'saturation', 'color'] as const) expect(lum(made(mode, b, s))).toBeCloseTo(lum(b), 9);
        expect(lum(made('luminosity', b, s))).toBeCloseTo(lum(s), 9);
      }),
    );
    // A grey takes the colour away, and has none to give.
    const grey = made('saturation', [0.8, 0.3, 0.1], [0.5, 0.5, 0.5]);
    expect(Math.max(...grey) - Math.min(...grey)).toBeCloseTo(0, 9);
    // By hand: red of the same luminosity as a grey of .5 is (1, 2/7, 2/7).
    expect(made('color', [0.5, 0.5, 0.5], [1, 0, 0])).toEqual([expect.closeTo(1, 9), expect.closeTo(2 / 7, 9), expect.closeTo(2 / 7, 9)]);
  });
});
