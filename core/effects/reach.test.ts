import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { whereOn } from '../../tests/where.ts';
import { newRgba } from '../image/picture.ts';
import { EFFECTS } from './index.ts';
import { newLaneEffect, runEffect } from './lane-effect.ts';
import { startsOf, valuesAt } from './settings.ts';

const [WIDTH, HEIGHT] = [120, 90];

describe('how far an effect reaches', () => {
  it.each(EFFECTS.filter((e) => e.reach).map((e) => [e.label, e] as const))('%s shows nothing farther from what it is given', (_label, effect) => {
    fc.assert(
      fc.property(fc.double({ min: 0, max: 0.12, noNaN: true }), fc.integer({ min: 0, max: 40 }), fc.constantFrom(0.5, 1, 2), (share, frame, scale) => {
        const settings = startsOf(effect.settings);
        for (const [key, described] of Object.entries(effect.settings))
          if (described.kind === 'number' && described.unit === 'px' && key !== 'size')
            settings[key] = { constant: described.min + share * Math.min(60, described.max - described.min) };
        const values = valuesAt(effect.settings, settings, frame);
        const layer = newRgba(WIDTH, HEIGHT);
        for (let y = 30; y < 60; y++) for (let x = 50; x < 70; x++) layer.data.set([0.5, 0.7, 0.2, 1], (y * WIDTH + x) * 4);
        runEffect(layer, { ...newLaneEffect('x', 'front', null, effect.id), settings }, whereOn({ width: WIDTH, height: HEIGHT }, { scale, frame }));
        // Whole pixels are moved, so a pixel more may be touched on each side.
        const reach = (effect.reach?.(values) ?? 0) * scale + 2;
        for (let y = 0; y < HEIGHT; y++)
          for (let x = 0; x < WIDTH; x++) {
            const away = Math.max(50 - x, x - 69, 30 - y, y - 59);
            if (away > reach && layer.data[(y * WIDTH + x) * 4 + 3] > 0) return false;
          }
        return true;
      }),
      { numRuns: 40 },
    );
  });

  it('is said by those that move or spread pixels', () => {
    const quiet = EFFECTS.filter((e) => !e.reach && !e.whole && !e.cuts);
    for (const effect of quiet) {
      const settings = Object.fromEntries(Object.entries(effect.settings).map(([key, s]) => [key, { constant: s.kind === 'number' ? s.max : s.start }]));
      const layer = newRgba(WIDTH, HEIGHT);
      for (let y = 30; y < 60; y++) for (let x = 50; x < 70; x++) layer.data.set([0.5, 0.7, 0.2, 1], (y * WIDTH + x) * 4);
      runEffect(layer, { ...newLaneEffect('x', 'front', null, effect.id), settings }, whereOn({ width: WIDTH, height: HEIGHT }, { frame: 3 }));
      // A solid fills all that it is given, and what it is given says where it is seen.
      if (effect.id !== 'solid') expect([effect.id, layer.data[(20 * WIDTH + 60) * 4 + 3]]).toEqual([effect.id, 0]);
    }
  });
});
