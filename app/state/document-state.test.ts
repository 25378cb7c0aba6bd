import { describe, expect, it } from 'vitest';
import { type Edit, findRecord } from '~/core/document/edits.ts';
import { newDocument, newSubject } from '~/core/document/records.ts';
import type { LoggedChange } from '~/server/changes.ts';
import { type DocumentState, ends, reversal, startState, type Unsent, withLogged, withoutUnsent, withUnsent } from './document-state.ts';

const start = () => {
  const document = newDocument('Test', { width: 10, height: 10, frames: 5, rate: { num: 24, den: 1 }, firstNumber: 0 });
  document.cast.push(newSubject('s', 'Subject'));
  return startState(document, 4, []);
};
const rename = (name: string, id = 's'): Edit[] => [{ kind: 'assign', id, values: { name } }];
const change = (id: string, edits: Edit[]): Unsent => ({
  sent: { role: 'do', page: 'here', change: { id, label: `Change ${id}`, edits } },
  label: `Change ${id}`,
  edits,
});
const logged = (id: string, revision: number, edits: Edit[], page = 'there'): LoggedChange => ({
  id,
  label: id,
  role: 'do',
  target: null,
  revision,
  page,
  edits,
});
const nameOf = (s: DocumentState) => (findRecord(s.settled, 's') as { name: string }).name;

describe('the document as a page sees it', () => {
  it('shows a change at once and keeps it until the server has logged it', () => {
    const waiting = withUnsent(start(), change('a', rename('A')));
    expect(nameOf(waiting)).toBe('A');
    expect(waiting.unsent).toHaveLength(1);
    const { state } = withLogged(waiting, logged('a', 5, rename('A'), 'here'));
    expect([state.unsent.length, state.revision, nameOf(state)]).toEqual([0, 5, 'A']);
  });

  it('lays its own changes on top of what another page did first', () => {
    const waiting = withUnsent(start(), change('a', rename('Mine')));
    const { state, lost } = withLogged(waiting, logged('b', 5, rename('Theirs')));
    expect(nameOf(state)).toBe('Mine');
    expect((findRecord(state.base, 's') as { name: string }).name).toBe('Theirs');
    expect(lost).toEqual([]);
  });

  it('says which changes no longer fit', () => {
    const waiting = withUnsent(start(), change('a', rename('Mine')));
    const { state, lost } = withLogged(waiting, logged('b', 5, [{ kind: 'remove', id: 's' }]));
    expect(state.unsent).toEqual([]);
    expect(lost.map((l) => l.label)).toEqual(['Change a']);
  });

  it('hears of the same step twice without applying it twice', () => {
    const once = withLogged(start(), logged('b', 5, [{ kind: 'insert', parent: 'cast', index: 1, record: newSubject('t', 'T') }])).state;
    const twice = withLogged(once, logged('b', 5, [{ kind: 'insert', parent: 'cast', index: 1, record: newSubject('t', 'T') }])).state;
    expect(twice.settled.cast).toHaveLength(2);
  });

  it('drops a change that the server refused, and what stands on it', () => {
    let state = withUnsent(start(), change('a', [{ kind: 'insert', parent: 'cast', index: 1, record: newSubject('t', 'T') }]));
    state = withUnsent(state, change('b', rename('Tea', 't')));
    const after = withoutUnsent(state, 'a');
    expect(after.state.settled.cast).toHaveLength(1);
    expect(after.lost.map((l) => l.label)).toEqual(['Change b']);
  });

  it('undoes and redoes, before and after the server has heard of it', () => {
    let state = withUnsent(start(), change('a', rename('A')));
    state = withLogged(state, logged('a', 5, rename('A'), 'here')).state;
    state = withUnsent(state, change('b', rename('B')));
    expect(ends(state).undo?.id).toBe('b');
    for (const [role, id, expected] of [
      ['undo', 'u1', 'A'],
      ['undo', 'u2', 'Subject'],
      ['redo', 'r1', 'A'],
      ['redo', 'r2', 'B'],
      ['undo', 'u3', 'A'],
    ] as const) {
      const back = reversal(state, { role, page: 'here', id });
      if (!back) throw new Error(`There is nothing to ${role}.`);
      state = withUnsent(state, back);
      expect(nameOf(state)).toBe(expected);
    }
  });

  it('undoes its own steps past those of another page, and asks the server whether those stand on them', () => {
    const isOwn = (page: string) => page !== 'there';
    let state = withLogged(start(), logged('a', 5, rename('A'), 'here')).state;
    state = withLogged(state, logged('b', 6, rename('B'), 'there')).state;
    expect(ends(state, isOwn)).toMatchObject({ undo: { id: 'a' }, redo: null });
    expect(reversal(state, { role: 'undo', page: 'here', id: 'u', isOwn })).toMatchObject({ edits: null, sent: { target: 'a' } });
    // Once the other page is gone, its steps are anybody's.
    expect(reversal(state, { role: 'undo', page: 'here', id: 'u' })).toMatchObject({ sent: { target: 'b' } });
    expect(reversal(state, { role: 'undo', page: 'here', id: 'u' })?.edits).not.toBeNull();
  });

  it('leaves to the server what only the server can take back', () => {
    const state = { ...start(), log: [{ id: 'old', label: 'Old', role: 'do' as const, target: null, page: 'old' }] };
    expect(reversal(state, { role: 'undo', page: 'here', id: 'u' })).toMatchObject({ edits: null, label: 'Old', sent: { target: 'old' } });
    expect(reversal(state, { role: 'redo', page: 'here', id: 'r' })).toBeNull();
  });
});
