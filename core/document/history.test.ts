import { describe, expect, it } from 'vitest';
import type { Edit } from './edits.ts';
import { historyEnds, type LogEntry, standsOn } from './history.ts';
import { newSpline } from './part-kinds/spline.ts';
import { newPath, newSubject } from './records.ts';

type Step = [id: string, role: LogEntry['role'], target?: string, page?: string];
const log = (...steps: Step[]): LogEntry[] => steps.map(([id, role, target, page]) => ({ id, label: id, role, target: target ?? null, page: page ?? 'here' }));
const here = (page: string) => page === 'here';

describe('historyEnds', () => {
  it('walks back through what was done and forward through what was undone', () => {
    const done = log(['a', 'do'], ['b', 'do']);
    expect(historyEnds(done)).toMatchObject({ undo: { id: 'b' }, redo: null });
    const undone = [...done, ...log(['u', 'undo', 'b'])];
    expect(historyEnds(undone)).toMatchObject({ undo: { id: 'a' }, redo: { id: 'b' } });
    expect(historyEnds([...undone, ...log(['r', 'redo', 'b'])])).toMatchObject({ undo: { id: 'b' }, redo: null });
  });

  it('forgets what was undone once something new is done', () => {
    expect(historyEnds(log(['a', 'do'], ['u', 'undo', 'a'], ['c', 'do']))).toMatchObject({ undo: { id: 'c' }, redo: null });
    // A shot begins where it was set up.
    expect(historyEnds(log(['s', 'start']))).toMatchObject({ undo: null, redo: null });
    expect(historyEnds(log(['s', 'start'], ['a', 'do'], ['u', 'undo', 'a']))).toMatchObject({ undo: null, redo: { id: 'a' } });
  });

  it('keeps to its own steps while another page works on the shot, whose steps do not take what was undone away', () => {
    const both = log(['a', 'do'], ['x', 'do', undefined, 'there'], ['b', 'do'], ['y', 'do', undefined, 'there']);
    expect(historyEnds(both, here)).toMatchObject({ undo: { id: 'b' }, redo: null });
    const undone = [...both, ...log(['u', 'undo', 'b'], ['z', 'do', undefined, 'there'])];
    expect(historyEnds(undone, here)).toMatchObject({ undo: { id: 'a' }, redo: { id: 'b' } });
    expect(historyEnds(undone, (page) => page === 'there')).toMatchObject({ undo: { id: 'z' }, redo: null });
    expect(historyEnds(undone)).toMatchObject({ undo: { id: 'z' }, redo: null });
  });
});

describe('a step stands on an earlier one', () => {
  const path = newPath('path', 0, [], true);
  const insert: Edit = { kind: 'insert', parent: 'cast', index: 0, record: { ...newSubject('s', 'S'), parts: [newSpline('p', 'P', [path])] } };
  const keys = (id: string, ...frames: number[]): Edit => ({
    ...{ kind: 'keys', id, setting: 'opacity', clear: [] },
    set: frames.map((frame) => ({ frame, value: 1, ease: 'linear' as const })),
  });
  it.each<[string, Edit, Edit, boolean]>([
    ['a change of what was made', { kind: 'assign', id: 'path', values: { closed: false } }, insert, true],
    ['something put into what was made', { kind: 'insert', parent: 'p', index: 0, record: newPath('q', 0, [], true) }, insert, true],
    ['another thing beside it', { kind: 'insert', parent: 'cast', index: 0, record: newSubject('t', 'T') }, insert, false],
    ['the same field', { kind: 'assign', id: 'p', values: { inverted: true } }, { kind: 'assign', id: 'p', values: { inverted: false, name: 'x' } }, true],
    ['another field', { kind: 'assign', id: 'p', values: { inverted: true } }, { kind: 'assign', id: 'p', values: { name: 'x' } }, false],
    ['keys on the same frame', keys('p', 3, 9), keys('p', 9, 12), true],
    ['keys on other frames', keys('p', 3), keys('p', 9), false],
    ['the whole of a setting', { kind: 'animate', id: 'p', setting: 'opacity', value: { constant: 1 } }, keys('p', 9), true],
    ['keys of another part', keys('q', 9), keys('p', 9), false],
    [
      'an approval beside another',
      { kind: 'approve', id: 's', range: { first: 1, last: 1 }, approved: true },
      { kind: 'approve', id: 's', range: { first: 4, last: 4 }, approved: true },
      true,
    ],
  ])('%s: %#', (_name, later, earlier, stands) => {
    expect(standsOn([later], [earlier])).toBe(stands);
  });
});
