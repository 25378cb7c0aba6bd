import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { anchorsOf, decidedBy, type PeelInputs, peelKeys, peelSettings } from './inputs.ts';
import { nearestAnchor, stretches } from './plan.ts';
import { CARRY_SETTINGS, CUT_SETTINGS } from './settings.ts';

const FRAMES = 40;
type Strokes = PeelInputs['strokes'];
const inputs = (strokes: Strokes, more: Partial<PeelInputs> = {}): PeelInputs => ({ strokes, look: 10, smoothness: 1, separatePieces: false, ...more });
const stroke = (frame: number, kind: 'keep' | 'drop', x = 0, enabled = true) => ({ frame, kind, radius: 3, points: [x, 1], enabled });
const keysOf = (i: PeelInputs) => Array.from({ length: FRAMES }, (_, f) => peelKeys(i)(f));
const someStrokes = fc.array(
  fc.record({
    frame: fc.integer({ min: 0, max: FRAMES - 1 }),
    kind: fc.constantFrom('keep' as const, 'drop' as const),
    radius: fc.constant(3),
    points: fc.constant([5, 5]),
    enabled: fc.boolean(),
  }),
  { maxLength: 8 },
);

describe('what decides a frame', () => {
  it('is named the same for all frames between the same strokes, and differently on both sides of another', () => {
    const keys = keysOf(inputs([stroke(10, 'keep'), stroke(20, 'drop')]));
    expect(new Set(keys.slice(0, 20)).size).toBe(1);
    expect(new Set(keys.slice(20)).size).toBe(1);
    expect(keys[19]).not.toBe(keys[20]);
    expect(keys[0]).toMatch(/^[0-9a-f]{32}$/);
  });

  it('changes with a stroke on no frame but those that the stroke decides, and on all of them', () => {
    fc.assert(
      fc.property(someStrokes, fc.integer({ min: 0, max: FRAMES - 1 }), fc.constantFrom('keep' as const, 'drop' as const), (strokes, frame, kind) => {
        const before = inputs(strokes);
        const after = inputs([...strokes, stroke(frame, kind, 77)]);
        const [was, is] = [keysOf(before), keysOf(after)];
        const decided = decidedBy(after, frame);
        for (let f = 0; f < FRAMES; f++) expect(was[f] !== is[f], `frame ${f}`).toBe(decided !== null && f >= decided.first && f <= decided.last);
      }),
      { seed: 5, numRuns: 300 },
    );
  });

  it('counts no stroke that is switched off', () => {
    expect(keysOf(inputs([stroke(10, 'keep'), stroke(12, 'drop', 4, false)]))).toEqual(keysOf(inputs([stroke(10, 'keep')])));
    expect(anchorsOf(inputs([stroke(3, 'keep', 0, false), stroke(9, 'keep'), stroke(9, 'keep', 1), stroke(2, 'drop')]))).toEqual([9]);
    expect(keysOf(inputs([stroke(3, 'drop')]))).toEqual(Array.from({ length: FRAMES }, () => null));
  });

  it('changes with every setting', () => {
    const strokes = [stroke(10, 'keep')];
    const names = [{}, { look: 11 }, { smoothness: 2 }, { separatePieces: true }].map((more) => peelKeys(inputs(strokes, more))(0));
    expect(new Set(names).size).toBe(4);
    expect(peelSettings(inputs(strokes))).toEqual({ cut: CUT_SETTINGS, carry: CARRY_SETTINGS });
  });

  it('is what the nearest anchor is, the earlier of two as near', () => {
    expect([0, 14, 15, 16, 39].map((f) => nearestAnchor([10, 20], f))).toEqual([10, 10, 10, 20, 20]);
  });
});

describe('stretches', () => {
  it('part the frames at the anchor nearest to the middle, each frame in one of them', () => {
    expect(stretches([2, 18, 30], 0, 39)).toEqual([
      { first: 18, last: 39 },
      { first: 0, last: 17 },
    ]);
    expect(stretches([2], 0, 39)).toEqual([{ first: 0, last: 39 }]);
  });
});
