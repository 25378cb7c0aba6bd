import { describe, expect, it } from 'vitest';
import { applyChange } from '~/core/document/edits.ts';
import { newDocument, newPath, newSpline, newSubject } from '~/core/document/records.ts';
import type { SplinePart } from '~/core/document/schema.ts';
import { corner, smooth } from '~/core/path/path.ts';
import { shapeAt } from '../viewer/path-edits.ts';
import type { Tracked } from '../workers/track-worker.ts';
import { gapsOf, outlinesOf, trackEdits } from './track.ts';

const moved = (frame: number, quality = 1, reason: Tracked['reason'] = null): Tracked => ({
  frame,
  motion: [1, 0, 3 * (frame - 5), 0, 1, -(frame - 5), 0, 0, 1],
  quality,
  reason,
});
const spline = (): SplinePart => newSpline('p', 'Sign', [newPath('q', 5, [smooth(10, 10, 4, 2), corner(40, 12), corner(30, 40)], true)]);

describe('keys of a track', () => {
  it('move the curve with what was followed, keep its shape where it began, and take the frames that were there away', () => {
    const document = newDocument('Ramp', { width: 100, height: 100, frames: 20, rate: { num: 24, den: 1 }, firstNumber: 0 });
    const part = spline();
    document.cast.push({ ...newSubject('s', 'Sign'), parts: [part] });
    const { document: after, inverse } = applyChange(document, trackEdits(part, 5, [moved(6), moved(7), moved(4)]));
    const path = (after.cast[0].parts[0] as SplinePart).paths[0];
    expect(shapeAt(path, 5)).toEqual(shapeAt(part.paths[0], 5));
    for (const frame of [4, 6, 7])
      expect(shapeAt(path, frame)).toEqual(shapeAt(part.paths[0], 5).map((v) => ({ ...v, x: v.x + 3 * (frame - 5), y: v.y - (frame - 5) })));
    expect(applyChange(after, inverse).document).toEqual(document);
  });

  it('are not made where the place is not trusted: there the way is straight', () => {
    const [edit] = trackEdits(spline(), 5, [moved(6), moved(7, 0.2, 'hidden'), moved(8, 0.4, 'hidden'), moved(9)]);
    expect(edit).toMatchObject({ kind: 'keys', id: 'q', clear: [] });
    expect(edit.kind === 'keys' && edit.set.map((k) => k.frame)).toEqual([5, 6, 9]);
    expect(trackEdits(spline(), 5, [moved(6, 0.1, 'plain')])).toEqual([]);
  });

  it('come from the closed curves alone, and move the open ones along', () => {
    const part = spline();
    part.paths.push(newPath('open', 5, [corner(1, 1), corner(9, 1)], false));
    expect(outlinesOf(part, 5)).toHaveLength(1);
    expect(trackEdits(part, 5, [moved(6)]).map((e) => e.kind === 'keys' && e.id)).toEqual(['q', 'open']);
  });
});

describe('stretches that are not trusted', () => {
  it('are told from first to last with what was said most, whichever way they were tracked', () => {
    expect(
      gapsOf([
        moved(6),
        moved(7, 0.1, 'hidden'),
        moved(8, 0.1, 'changed'),
        moved(9, 0.1, 'hidden'),
        moved(10),
        moved(4),
        moved(3, 0.2, 'left'),
        moved(2, 0, 'left'),
      ]),
    ).toEqual([
      { first: 2, last: 3, reason: 'left' },
      { first: 7, last: 9, reason: 'hidden' },
    ]);
    expect(gapsOf([moved(6), moved(7)])).toEqual([]);
  });
});
