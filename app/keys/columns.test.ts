import { describe, expect, it } from 'vitest';
import { newSpline } from '~/core/document/part-kinds/spline.ts';
import { newPath, newSubject } from '~/core/document/records.ts';
import { newLaneEffect } from '~/core/effects/lane-effect.ts';
import { corner } from '~/core/path/path.ts';
import { columnsOf } from './columns.ts';

const keys = (...frames: number[]) => ({ keys: frames.map((frame) => ({ frame, value: 1, ease: 'linear' as const })) });

describe('the columns of the Sheet', () => {
  it('are the parts and whatever is keyed, with the keys of all curves of a part together', () => {
    const subject = newSubject('s', 'Kite');
    const shapes = (...frames: number[]) => ({ keys: frames.map((frame) => ({ frame, value: [corner(0, 0)], ease: 'linear' as const })) });
    const paths = [
      { ...newPath('a', 0, [], true), shape: shapes(3, 9) },
      { ...newPath('b', 0, [], true), shape: shapes(9, 14) },
    ];
    subject.parts.push({ ...newSpline('p', 'Tail', paths), opacity: keys(2) });
    subject.edge = { ...subject.edge, featherOut: keys(0, 30) };
    const blur = { ...newLaneEffect('e', 'behind', 's', 'gaussian-blur'), mix: keys(5) };
    blur.settings.x = keys(7, 8);
    const foreign = { ...newLaneEffect('f', 'behind', 'other', 'solid'), mix: keys(1) };
    const columns = columnsOf(subject, [blur, foreign]);
    expect(columns.map((c) => [c.owner, c.label, c.keys])).toEqual([
      ['Tail', 'shape', [3, 9, 14]],
      ['Tail', 'opacity', [2]],
      ['Edge', 'feather out', [0, 30]],
      ['Gaussian blur', 'mix', [5]],
      ['Gaussian blur', 'Across', [7, 8]],
    ]);
    expect(columns[0].has.has(14)).toBe(true);
    expect(columnsOf(null, [])).toEqual([]);
    // On Compose what is in the lanes comes first, whatever subject it is relative to.
    expect(columnsOf(subject, [blur, foreign], [], null, true).map((c) => c.label)).toEqual(['mix', 'Across', 'mix', 'shape', 'opacity', 'feather out']);
  });
});
