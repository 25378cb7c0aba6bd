import { describe, expect, it } from 'vitest';
import { demoFootage } from '../bench/peel/footage.ts';
import { over50, ranksOf, type Told, together, toldOf } from '../bench/peel/stretch.ts';
import { WHOLE_BATTERY } from '../tests/battery.ts';

const FRAMES = 40;
/** Of the share of the battery. */
const SHORT = 20;
const MINUTES = 4;

describe('doubt on the demo film', () => {
  it('orders the frames of one stretch by how wrong they are, better than their distance from the painted one', async () => {
    const told = await toldOf(demoFootage('ferry-ramp', 12, SHORT), 'exact mask');
    expect(told.fs).toHaveLength(SHORT - 1);
    const { doubt, distance } = ranksOf(told);
    expect(doubt).toBeGreaterThan(distance);
    expect(doubt).toBeGreaterThan(0.5);
  });

  it.runIf(WHOLE_BATTERY)(
    'orders the frames of a stretch by how wrong they are, clearly better than their distance from the painted one, and tells wrong from right ones',
    async () => {
      const stretches: Told[] = [];
      for (const [name, first] of [
        ['storm-lantern', 0],
        ['dune-kite', 0],
        ['ferry-ramp', 12],
      ] as const) {
        const told = await toldOf(demoFootage(name, first, FRAMES), 'exact mask');
        expect(told.fs).toHaveLength(FRAMES - 1);
        stretches.push(told);
      }
      const [ranks, all] = [stretches.map(ranksOf), together(stretches)];
      const mean = (key: 'doubt' | 'distance') => ranks.reduce((sum, r) => sum + r[key], 0) / ranks.length;
      expect(mean('doubt')).toBeGreaterThan(0.6);
      expect(mean('doubt')).toBeGreaterThan(mean('distance') + 0.2);
      const wrong = over50(all, -1, 0.9);
      expect(wrong.of).toBeGreaterThan(20);
      expect(wrong.over / wrong.of).toBeGreaterThanOrEqual(0.9);
      const right = over50(all, 0.97, 2);
      expect(right.of).toBeGreaterThan(10);
      // Of hard stretches: of all frames of the battery it is one in fifty.
      expect(right.over / right.of).toBeLessThan(0.5);
    },
    MINUTES * 60_000,
  );
});
