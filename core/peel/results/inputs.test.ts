import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { CUT_SETTINGS, PROPAGATION_SETTINGS } from '../settings.ts';
import { neighbours } from '../strokes/plan.ts';
import { anchorsOf, inputsBefore, keysInUse, mendsOf, type PeelControls, type PeelInputs, peelKeys, peelSettings, stateKeys } from './inputs.ts';

const FRAMES = 40;
type Strokes = PeelInputs['strokes'];
const inputs = (strokes: Strokes, more: Partial<PeelControls> = {}): PeelInputs => ({
  strokes,
  hidden: [],
  held: [],
  fencing: null,
  quality: 'fine',
  look: 10,
  smoothness: 1,
  separatePieces: false,
  specks: 60,
  holes: 60,
  ...more,
});
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

describe('a fence', () => {
  it('makes every frame another one, and is told apart from another fence', () => {
    const free = inputs([stroke(3, 'keep')]);
    const [a, b] = ['a fence', 'another'].map((fencing) => ({ ...free, fencing }));
    for (let f = 0; f < FRAMES; f++) expect(new Set([free, a, b].map((i) => peelKeys(i)(f))).size).toBe(3);
    expect(keysOf(a)).toEqual(keysOf({ ...a }));
    expect(stateKeys(a)(3, 5)).not.toBe(stateKeys(free)(3, 5));
  });
});

const mend = (frame: number, kind: 'keep' | 'drop' = 'keep', x = 0) => ({ ...stroke(frame, kind, x), mends: true });
const changesBetween = (before: PeelInputs, after: PeelInputs) => keysOf(after).flatMap((k, f) => (k === keysOf(before)[f] ? [] : [f]));
const range = (first: number, last: number) => Array.from({ length: last - first + 1 }, (_, i) => first + i);

describe('a frame that is mended', () => {
  const start = inputs([stroke(5, 'keep')]);

  it('is an anchor whatever is painted there, and mends what came of the frames painted before it', () => {
    const i = inputs([stroke(5, 'keep'), mend(30, 'drop'), mend(15)]);
    expect(anchorsOf(i)).toEqual([5, 15, 30]);
    expect(mendsOf(i)).toEqual([30, 15]);
    expect(keysOf(inputsBefore(i, 30))).toEqual(keysOf(start));
    expect(keysOf(inputsBefore(i, 15))).toEqual(keysOf(inputs([stroke(5, 'keep'), mend(30, 'drop')])));
  });

  it('has the frames up to its neighbours found anew, and no others', () => {
    const one = inputs([...start.strokes, mend(30)]);
    expect(changesBetween(start, one)).toEqual(range(6, 39));
    const two = inputs([...one.strokes, mend(15)]);
    expect(changesBetween(one, two)).toEqual(range(6, 29));
    // One more stroke on either does the same again, though the later one was made from the earlier.
    expect(changesBetween(two, inputs([...two.strokes, mend(15, 'drop', 9)]))).toEqual(range(6, 29));
    expect(changesBetween(two, inputs([...two.strokes, mend(30, 'drop', 9)]))).toEqual(range(6, 39));
  });

  it('changes with what it mends', () => {
    const i = inputs([stroke(5, 'keep'), mend(15), mend(25)]);
    expect(changesBetween(i, inputs([...i.strokes, stroke(5, 'keep', 9)]))).toEqual(range(0, 39));
  });

  it('stands by itself where nothing is left that was painted before', () => {
    expect(anchorsOf(inputs([mend(15), mend(25, 'drop')]))).toEqual([15, 25]);
    expect(mendsOf(inputs([mend(15), mend(25, 'drop')]))).toEqual([25]);
    expect(anchorsOf(inputs([mend(25, 'drop')]))).toEqual([]);
    expect(keysOf(inputs([mend(25, 'drop')]))[25]).toBeNull();
  });

  it('does not change when a frame that it decides is approved, nor when that is held against what is painted later', () => {
    const mended = inputs([stroke(5, 'keep'), mend(20)]);
    const held = { ...mended, held: [{ frame: 25, key: peelKeys(mended)(25) as string }] };
    expect(keysOf(held)).toEqual(keysOf(mended));
    const later = { ...held, strokes: [...held.strokes, mend(35)] };
    // The held one parts them now, and what it is carried from stays as it was.
    expect(changesBetween(held, later)).toEqual(range(21, 39).filter((f) => f !== 25));
  });

  it('is named soon, however many others each was mended between', () => {
    // Each lies between the two before it.
    const inward: number[] = [];
    for (let [low, high] = [6, 39]; low < high; low += 1, high -= 1) inward.push(high, low);
    const many = inputs([stroke(5, 'keep'), ...inward.map((f) => mend(f))]);
    expect(new Set(keysOf(many)).size).toBe(35);
    expect(mendsOf(many)).toHaveLength(34);
  });

  it('has what it mends, and what that was carried through, among the names in use', () => {
    const i = inputs([stroke(5, 'keep'), mend(30), mend(15)]);
    const used = keysInUse(i, FRAMES);
    for (const m of [15, 30]) {
      const before = inputsBefore(i, m);
      expect(used).toContain(peelKeys(before)(m));
      expect(used).toContain(stateKeys(before)(5, m));
    }
  });
});

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
        const anchors = anchorsOf(after);
        for (let f = 0; f < FRAMES; f++) {
          const { from = f, to = f } = neighbours(anchors, f);
          expect(was[f] !== is[f], `frame ${f}`).toBe(anchors.length > 0 && frame >= from && frame <= to);
        }
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
    const names = [{}, { look: 11 }, { smoothness: 2 }, { separatePieces: true }, { quality: 'draft' as const }, { specks: 9 }, { holes: 9 }].map((more) =>
      peelKeys(inputs(strokes, more))(0),
    );
    expect(new Set(names).size).toBe(7);
    expect(peelSettings(inputs(strokes))).toEqual({ cut: CUT_SETTINGS, carry: PROPAGATION_SETTINGS });
  });

  it('is found under the names in use, and what it is carried through too', () => {
    fc.assert(
      fc.property(someStrokes, (strokes) => {
        const i = inputs(strokes);
        const used = keysInUse(i, FRAMES);
        for (const key of keysOf(i)) if (key) expect(used).toContain(key);
        const [anchor] = anchorsOf(i);
        if (anchor !== undefined && anchor > 0) expect(used).toContain(stateKeys(i)(anchor, 0));
      }),
      { seed: 6, numRuns: 100 },
    );
  });

  it('does not change on the way from an anchor when another is painted beyond', () => {
    const [before, after] = [inputs([stroke(10, 'keep')]), inputs([stroke(10, 'keep'), stroke(30, 'keep')])];
    expect(stateKeys(after)(10, 25)).toBe(stateKeys(before)(10, 25));
    expect(peelKeys(after)(25)).not.toBe(peelKeys(before)(25));
  });

  it('stays the name it was held under, and parts what lies on both sides of it once it would be another', () => {
    const plain = inputs([stroke(10, 'keep')]);
    const hold = (i: PeelInputs, ...frames: number[]) => ({
      ...i,
      held: [...i.held, ...frames.map((frame) => ({ frame, key: peelKeys(i)(frame) as string }))],
    });
    const held = hold(plain, 20);
    const was = keysOf(plain);
    // Holding it changes nothing for the others.
    expect(keysOf(held)).toEqual(was);
    expect(anchorsOf(held)).toEqual([10]);
    const painted = (i: PeelInputs, frame: number) => ({ ...i, strokes: [...i.strokes, stroke(frame, 'drop', 77)] });
    const changes = (before: PeelInputs, after: PeelInputs) => keysOf(after).flatMap((k, f) => (k === keysOf(before)[f] ? [] : [f]));
    const mended = painted(held, 15);
    expect(anchorsOf(mended)).toEqual([10, 20]);
    expect(changes(held, mended)).toEqual(Array.from({ length: FRAMES }, (_, f) => f).filter((f) => f > 10 && f !== 20));
    expect(changes(mended, painted(mended, 20))).toEqual([]);
    expect(changes(held, painted(held, 30))[0]).toBe(30);
    // One more that is found from it is as it would be found.
    const two = hold(mended, 25);
    expect(keysOf(two)).toEqual(keysOf(mended));
    expect(anchorsOf(two)).toEqual([10, 20]);
    // All are held by now, and what was painted is taken back: nothing has changed.
    expect(keysOf({ ...two, strokes: plain.strokes, held: held.held })).toEqual(was);
  });

  it('changes where the subject is said to be out of sight, and where carrying passes that', () => {
    const plain = inputs([stroke(10, 'keep')]);
    const hiding = { ...plain, hidden: [{ first: 20, last: 24 }] };
    const [was, is] = [keysOf(plain), keysOf(hiding)];
    for (let f = 0; f < FRAMES; f++) expect(was[f] !== is[f], `frame ${f}`).toBe(f >= 20);
  });
});
