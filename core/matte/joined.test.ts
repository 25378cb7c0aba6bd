import { describe, expect, it } from 'vitest';
import { applyChange } from '../document/edits.ts';
import { removeEdits } from '../document/leaders.ts';
import { newJoined } from '../document/part-kinds/joined.ts';
import { newSpline } from '../document/part-kinds/spline.ts';
import { newDocument, newPath, newSubject } from '../document/records.ts';
import type { ShotDocument } from '../document/schema.ts';
import { corner } from '../path/path.ts';
import { renderMatte } from './render-matte.ts';
import { NO_IMPORTS } from './sources.ts';

const SIZE = { width: 40, height: 20 };
/** "Rider" is the left half, "Trike" the middle; "Both" is joined of them, "Rest" is the rider less the trike. */
function shot(): ShotDocument {
  const document = newDocument('Test', { ...SIZE, frames: 10, rate: { num: 24, den: 1 }, firstNumber: 0 });
  const box = (id: string, left: number, right: number) => {
    const path = newPath(`${id}-path`, 0, [corner(left, 0), corner(right, 0), corner(right, 20), corner(left, 20)], true);
    return { ...newSubject(id, id), parts: [newSpline(`${id}-part`, id, [path])] };
  };
  const both = { ...newSubject('both', 'Both'), parts: [newJoined('j1', 'Rider', 'rider'), newJoined('j2', 'Trike', 'trike')] };
  const rest = {
    ...newSubject('rest', 'Rest'),
    parts: [newJoined('j3', 'Rider', 'rider'), { ...newJoined('j4', 'Trike', 'trike'), operation: 'subtract' as const }],
  };
  document.cast.push(both, rest, box('rider', 0, 20), box('trike', 10, 30));
  return document;
}
const at = async (document: ShotDocument, subject: string, ...places: number[]) => {
  const { data } = await renderMatte(document, subject, 0, NO_IMPORTS, SIZE);
  return places.map((x) => Math.round(100 * data[10 * SIZE.width + x]) / 100);
};

describe('subjects joined, or one less another', () => {
  it('have the mattes of both, with their edges, and follow what changes there', async () => {
    expect(await at(shot(), 'both', 5, 15, 25, 35)).toEqual([1, 1, 1, 0]);
    expect(await at(shot(), 'rest', 5, 15, 25, 35)).toEqual([1, 0, 0, 0]);
    const soft = applyChange(shot(), [
      { kind: 'animate', id: 'trike', setting: 'edge.opacity', value: { constant: 0.5 } },
      { kind: 'animate', id: 'trike', setting: 'edge.grow', value: { constant: -4 } },
    ]).document;
    expect(await at(soft, 'rest', 5, 12, 16)).toEqual([1, 1, 0.5]);
    expect(await at(soft, 'both', 25, 28)).toEqual([0.5, 0]);
  });

  it('are joined of those that are there, and never of themselves', () => {
    const join = (id: string, subject: string) => () => applyChange(shot(), [{ kind: 'assign', id, values: { subject } }]);
    expect(join('j1', 'both')).toThrow('would be joined of itself');
    expect(join('j3', 'both')).not.toThrow();
    expect(join('j1', 'nobody')).toThrow('is not in this shot');
    const around = applyChange(shot(), [{ kind: 'assign', id: 'j3', values: { subject: 'both' } }]).document;
    expect(() => applyChange(around, [{ kind: 'assign', id: 'j1', values: { subject: 'rest' } }])).toThrow('would be joined of itself');
    expect(() => applyChange(shot(), [{ kind: 'remove', id: 'trike' }])).toThrow('is joined of a subject that is not in this shot');
    const without = applyChange(shot(), removeEdits(shot(), 'trike'));
    expect(without.document.cast.find((s) => s.id === 'both')?.parts.map((p) => p.id)).toEqual(['j1']);
    expect(applyChange(without.document, without.inverse).document).toEqual(shot());
  });

  it('guard their approved frames against changes of what they are joined of', () => {
    const approved = applyChange(shot(), [{ kind: 'approve', id: 'both', range: { first: 3, last: 4 }, approved: true }]).document;
    expect(() => applyChange(approved, [{ kind: 'animate', id: 'trike', setting: 'edge.grow', value: { constant: 2 } }])).toThrow('of Both are approved');
    expect(() => applyChange(approved, [{ kind: 'assign', id: 'trike', values: { name: 'Cargo trike' } }])).not.toThrow();
  });
});
