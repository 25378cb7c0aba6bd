import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { shapeOver } from '../path/between.ts';
import { corner, type Shape } from '../path/path.ts';
import { peelKeys } from '../peel/results/inputs.ts';
import { withRange } from '../time/ranges.ts';
import { isApproved } from './approval.ts';
import { applyChange, type Edit } from './edits.ts';
import { peelTask } from './fence.ts';
import { newPeel } from './part-kinds/peel.ts';
import { newSpline } from './part-kinds/spline.ts';
import { newDocument, newPath, newStroke, newSubject } from './records.ts';
import type { Path, PeelPart, ShotDocument } from './schema.ts';

const at = (x: number): Shape => [corner(x, 0), corner(x + 10, 0), corner(x, 10)];

function example(between: Path['between'] = 'straight'): ShotDocument {
  const document = newDocument('Example', { width: 100, height: 50, frames: 60, rate: { num: 24, den: 1 }, firstNumber: 1001 });
  const path = newPath('path', 0, at(0), true);
  path.between = between;
  path.shape = { keys: [5, 15, 25, 35, 45].map((frame) => ({ frame, value: at(frame), ease: 'linear' as const })) };
  const subject = newSubject('subject', 'Courier');
  subject.parts.push(newSpline('part', 'Body', [path]), newSpline('other', 'Arm'));
  document.cast.push(subject);
  return document;
}
const approve = (document: ShotDocument, first: number, last: number) =>
  applyChange(document, [{ kind: 'approve', id: 'subject', range: { first, last }, approved: true }]).document;

describe('approved frames', () => {
  it('are kept as ranges, rising and apart', () => {
    fc.assert(
      fc.property(fc.array(fc.tuple(fc.integer({ min: 0, max: 50 }), fc.integer({ min: 0, max: 12 }), fc.boolean()), { maxLength: 12 }), (steps) => {
        const plain = new Set<number>();
        let ranges: { first: number; last: number }[] = [];
        for (const [first, more, on] of steps) {
          ranges = withRange(ranges, { first, last: first + more }, on);
          for (let f = first; f <= first + more; f++) on ? plain.add(f) : plain.delete(f);
        }
        const held = ranges.flatMap((r) => Array.from({ length: r.last - r.first + 1 }, (_, i) => r.first + i));
        expect(held).toEqual([...plain].sort((a, b) => a - b));
        for (let i = 1; i < ranges.length; i++) expect(ranges[i].first).toBeGreaterThan(ranges[i - 1].last + 1);
      }),
      { seed: 2 },
    );
  });

  it('are guarded against every edit that changes them, and the words say which', () => {
    const document = approve(example(), 20, 22);
    const key = (frame: number): Edit => ({ kind: 'keys', id: 'path', setting: 'shape', set: [{ frame, value: at(99), ease: 'linear' }], clear: [] });
    for (const edits of [
      [key(21)],
      [key(15)],
      [key(25)],
      [key(18)],
      [{ kind: 'keys', id: 'path', setting: 'shape', set: [], clear: [15] }],
      [{ kind: 'assign', id: 'part', values: { inverted: true } }],
      [{ kind: 'remove', id: 'part' }],
      [{ kind: 'remove', id: 'subject' }],
      [{ kind: 'animate', id: 'subject', setting: 'edge.grow', value: { constant: 3 } }],
      [{ kind: 'assign', id: 'part', values: { range: { first: 0, last: 10 } } }],
    ] as Edit[][])
      expect(() => applyChange(document, edits)).toThrow(/Courier.*(is|are) approved/);
    expect(() => applyChange(document, [key(21)])).toThrow(/1021/);
  });

  it('leave alone what changes other frames, names or colours', () => {
    const document = approve(example(), 20, 22);
    const key = (frame: number): Edit => ({ kind: 'keys', id: 'path', setting: 'shape', set: [{ frame, value: at(99), ease: 'linear' }], clear: [] });
    for (const edits of [
      [key(30)],
      [key(45)],
      [key(5)],
      [key(2)],
      [{ kind: 'assign', id: 'part', values: { name: 'Torso', colour: 'sand', locked: true } }],
      [{ kind: 'insert', parent: 'other', index: 0, record: newPath('open', 21, at(4), false) }],
      [{ kind: 'animate', id: 'subject', setting: 'edge.cleaning', value: { constant: 0.5 } }],
      [{ kind: 'approve', id: 'subject', range: { first: 21, last: 21 }, approved: false }, key(19)].slice(0, 1),
    ] as Edit[][])
      expect(() => applyChange(document, edits)).not.toThrow();
  });

  it('are free once released, and approving is taken back like any step', () => {
    const document = approve(example(), 20, 22);
    const { document: released, inverse } = applyChange(document, [{ kind: 'approve', id: 'subject', range: { first: 0, last: 59 }, approved: false }]);
    expect(isApproved(released.cast[0], 21)).toBe(false);
    expect(() => applyChange(released, [{ kind: 'remove', id: 'part' }])).not.toThrow();
    expect(applyChange(released, inverse).document).toEqual(document);
  });

  it('never change, whatever keys are set, moved or taken away', () => {
    fc.assert(
      fc.property(
        fc.constantFrom('straight', 'smooth', 'turning') as fc.Arbitrary<Path['between']>,
        fc.integer({ min: 0, max: 59 }),
        fc.array(fc.tuple(fc.integer({ min: 0, max: 59 }), fc.integer({ min: -50, max: 50 })), { maxLength: 4 }),
        fc.subarray([5, 15, 25, 35, 45], { maxLength: 3 }),
        (between, frame, set, clear) => {
          const document = approve(example(between), frame, frame);
          const unique = [...new Map(set.map(([f, x]) => [f, x])).entries()];
          const edit: Edit = {
            kind: 'keys',
            id: 'path',
            setting: 'shape',
            set: unique.map(([f, x]) => ({ frame: f, value: at(x), ease: 'linear' as const })),
            clear,
          };
          let after: ShotDocument;
          try {
            after = applyChange(document, [edit]).document;
          } catch {
            return;
          }
          const shape = (d: ShotDocument) => {
            const part = d.cast[0].parts[0];
            const path = part.type === 'spline' ? part.paths[0] : null;
            return path ? shapeOver(path.shape, path.between, true, frame) : null;
          };
          expect(shape(after)).toEqual(shape(document));
        },
      ),
      { seed: 7, numRuns: 400 },
    );
  });

  it('of a Peel are free of strokes that do not decide them', () => {
    const stroke = (id: string, frame: number, kind: 'keep' | 'drop') => newStroke(id, frame, kind, [1, 2], 4);
    const document = example();
    document.cast[0].parts = [newPeel('peel', 'Crate', [stroke('a', 10, 'keep'), stroke('b', 40, 'keep'), { ...stroke('off', 12, 'drop'), enabled: false }])];
    const guarded = approve(document, 14, 20);
    const add = (frame: number, kind: 'keep' | 'drop'): Edit[] => [{ kind: 'insert', parent: 'peel', index: 0, record: stroke('new', frame, kind) }];
    const refused = (edits: Edit[], on = guarded) => expect(() => applyChange(on, edits)).toThrow(/approved/);
    const taken = (edits: Edit[], on = guarded) => expect(applyChange(on, edits).inverse.length).toBeGreaterThan(0);
    // They go with the anchors on both sides, and with all that is painted between those.
    taken(add(8, 'drop'));
    taken(add(41, 'drop'));
    refused(add(30, 'drop'));
    refused(add(10, 'drop'));
    refused(add(40, 'drop'));
    refused([{ kind: 'assign', id: 'off', values: { enabled: true } }]);
    refused([{ kind: 'remove', id: 'b' }]);
    refused([{ kind: 'assign', id: 'peel', values: { look: 20 } }]);
    refused([{ kind: 'hide', id: 'peel', ranges: [{ first: 30, last: 31 }] }]);
    taken([{ kind: 'hide', id: 'peel', ranges: [{ first: 50, last: 51 }] }]);

    // Held, they stay whatever is painted elsewhere, and only letting go of them would change them.
    const part = document.cast[0].parts[0] as PeelPart;
    const range = { first: 14, last: 20 };
    const set = Array.from({ length: 7 }, (_, i) => ({ frame: 14 + i, key: peelKeys(peelTask(document, part))(14 + i) as string }));
    const held = applyChange(document, [
      { kind: 'approve', id: 'subject', range, approved: true },
      { kind: 'hold', id: 'peel', set, clear: [] },
    ]).document;
    for (const edits of [add(30, 'drop'), add(10, 'drop'), [{ kind: 'remove', id: 'b' }], [{ kind: 'assign', id: 'peel', values: { look: 20 } }]] as Edit[][])
      taken(edits, held);
    refused([{ kind: 'remove', id: 'peel' }], held);
    refused(add(16, 'drop'), held);
    const later = applyChange(held, add(10, 'drop')).document;
    refused([{ kind: 'hold', id: 'peel', set: [], clear: [15] }], later);
    const { document: free, inverse } = applyChange(later, [
      { kind: 'approve', id: 'subject', range, approved: false },
      { kind: 'hold', id: 'peel', set: [], clear: set.map((h) => h.frame) },
    ]);
    expect((free.cast[0].parts[0] as PeelPart).held).toEqual([]);
    expect(applyChange(free, inverse).document).toEqual(later);
  });
});
