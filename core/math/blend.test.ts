import { describe, expect, it } from 'vitest';
import { BLEND, BLENDS } from './blend.ts';

const STEPS = Array.from({ length: 21 }, (_, i) => i / 20);

describe('blend modes', () => {
  it.each(BLENDS)('%s keeps values in [0,1]', (mode) => {
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
});
