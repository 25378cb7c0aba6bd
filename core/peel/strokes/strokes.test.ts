import { describe, expect, it } from 'vitest';
import { DROP, KEEP, NOT_PAINTED, paintStrokes, withoutErased } from './strokes.ts';

describe('paintStrokes', () => {
  it('covers what is within the radius, in the scale of the picture, a later stroke over an earlier one', () => {
    const seeds = paintStrokes(
      [
        { kind: 'keep', radius: 4, points: [10, 20, 40, 20] },
        { kind: 'drop', radius: 4, points: [40, 20] },
      ],
      { width: 30, height: 20, scaleX: 0.5, scaleY: 0.5 },
    );
    for (let y = 0; y < 20; y++)
      for (let x = 0; x < 30; x++) {
        const [px, py] = [x + 0.5, y + 0.5];
        const drop = Math.hypot(px - 20, py - 10) <= 2;
        const keep = Math.hypot(px - Math.max(5, Math.min(20, px)), py - 10) <= 2;
        expect(seeds[y * 30 + x]).toBe(drop ? DROP : keep ? KEEP : NOT_PAINTED);
      }
  });

  it('drops all that lies outside of loops, under every stroke', () => {
    const loop = [10, 10, 50, 10, 50, 30, 30, 20, 10, 30];
    const seeds = paintStrokes(
      [
        { kind: 'keep', radius: 2, points: [70, 35] },
        { kind: 'loop', radius: 1, points: loop },
        { kind: 'loop', radius: 1, points: [60, 2, 70, 2, 65, 12] },
      ],
      { width: 80, height: 40, scaleX: 1, scaleY: 1 },
    );
    const at = (x: number, y: number) => seeds[y * 80 + x];
    expect([at(12, 12), at(48, 28), at(65, 5)]).toEqual([NOT_PAINTED, NOT_PAINTED, NOT_PAINTED]);
    // In the notch, beside, and what is kept outside.
    expect([at(30, 27), at(5, 20), at(55, 20), at(70, 35)]).toEqual([DROP, DROP, DROP, KEEP]);
    expect(seeds.filter((v) => v === NOT_PAINTED)).toHaveLength(600 + 50);
  });

  it('is as wide at each place as the pen was pressed there', () => {
    const seeds = paintStrokes([{ kind: 'keep', radius: 10, points: [20, 20, 80, 20], pressures: [0.2, 1] }], { width: 100, height: 40, scaleX: 1, scaleY: 1 });
    const widthAt = (x: number) => Array.from({ length: 40 }, (_, y) => seeds[y * 100 + x]).filter((v) => v === KEEP).length;
    expect([widthAt(20), widthAt(50), widthAt(79)]).toEqual([4, 12, 20]);
    expect(widthAt(95)).toBe(0);
  });
});

describe('withoutErased', () => {
  const line = [0, 0, 100, 0, 100, 60];

  it('leaves a stroke alone that the eraser never came near', () => {
    expect(withoutErased(line, [50, 30], 20)).toEqual([line]);
  });

  it('parts a stroke where the eraser crossed it, and keeps its own points', () => {
    const pieces = withoutErased(line, [50, -20, 50, 20], 10);
    expect(pieces).toHaveLength(2);
    const [a, b] = pieces;
    expect(a.slice(0, 2)).toEqual([0, 0]);
    expect(a.at(-2)).toBeGreaterThan(38);
    expect(a.at(-2)).toBeLessThan(40);
    expect(b[0]).toBeGreaterThan(60);
    expect(b[0]).toBeLessThan(62);
    expect(b.slice(-4)).toEqual([100, 0, 100, 60]);
  });

  it('takes ends off, and all of what it covers', () => {
    expect(withoutErased(line, [100, 60], 30)).toEqual([[0, 0, 100, 0, 100, 29]]);
    expect(withoutErased([5, 5], [4, 4], 3)).toEqual([]);
    expect(withoutErased(line, line, 2)).toEqual([]);
  });
});
