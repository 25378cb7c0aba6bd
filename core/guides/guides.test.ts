import { describe, expect, it } from 'vitest';
import { newPeel } from '../document/part-kinds/peel.ts';
import { newSpline } from '../document/part-kinds/spline.ts';
import { newDocument, newPath, newPointTrack, newStroke, newSubject } from '../document/records.ts';
import type { Part } from '../document/schema.ts';
import { newElement } from '../elements/index.ts';
import { corner } from '../path/path.ts';
import { GUIDES, type GuideFacts, guideById } from './guides.ts';

const SQUARE = [corner(0, 0), corner(9, 0), corner(9, 9)];

function facts(parts: Part[] | null, more: Partial<GuideFacts> = {}): GuideFacts {
  const document = newDocument('Test', { width: 96, height: 54, frames: 84, rate: { num: 24, den: 1 }, firstNumber: 0 });
  const subject = parts ? { ...newSubject('s', 'Courier'), parts } : null;
  if (subject) document.cast.push(subject);
  return {
    document,
    subject,
    found: 0,
    doubtful: 0,
    missing: 0,
    secondsToCarry: 0,
    carrying: null,
    written: 0,
    skipped: new Set(),
    bench: 'isolate',
    view: 'tint',
    ...more,
  };
}
const ticks = (id: string, state: GuideFacts) => guideById(id)?.steps.map((s) => s.done(state));
const peel = (...kinds: ('keep' | 'drop')[]) =>
  newPeel(
    'peel',
    'Peel',
    kinds.map((k, i) => newStroke(`${i}`, 4, k, [5, 5])),
  );

describe('guides', () => {
  it('have nothing done on an untouched shot', () => {
    for (const { id } of GUIDES) expect(ticks(id, facts(null))).not.toContain(true);
  });

  it('by strokes: each step ticks itself off, in any order', () => {
    expect(ticks('strokes', facts([peel('keep')], { found: 1, missing: 83 }))).toEqual([true, false, false, false, false]);
    expect(ticks('strokes', facts([peel('keep', 'drop')], { found: 84, doubtful: 3 }))).toEqual([true, true, true, false, false]);
    const soft = facts([peel('keep', 'drop')], { found: 84 });
    if (soft.subject) soft.subject.edge.featherIn = { constant: 2 };
    expect(ticks('strokes', soft)).toEqual([true, true, true, true, true]);
    // While it is being carried it is not carried yet.
    expect(ticks('strokes', facts([peel('keep')], { found: 84, carrying: { done: 3, total: 84 } }))?.[2]).toBe(false);
  });

  it('by hand and by tracking', () => {
    const path = newPath('q', 0, SQUARE, true);
    const keyed = { ...path, shape: { keys: [0, 20].map((frame) => ({ frame, value: SQUARE, ease: 'linear' as const })) } };
    expect(ticks('hand', facts([newSpline('p', 'P', [path])]))).toEqual([true, false, false, false]);
    expect(ticks('hand', facts([newSpline('p', 'P', [keyed])], { view: 'matte' }))).toEqual([true, true, true, false]);
    const tracked = facts([{ ...newSpline('p', 'P', [path]), follow: { track: 't', frame: 0, takes: ['position'] } }]);
    const track = newPointTrack({ id: 't', name: 'T', frame: 0, lines: 54 }, 5, 5);
    tracked.document.tracks.push(track);
    expect(ticks('track', tracked)).toEqual([true, true, true, false]);
    tracked.document.lanes.push({ ...newElement(tracked.document, 'e', 'front', null, 'card'), follow: { track: 't', frame: 0, takes: ['position'] } });
    expect(ticks('track', tracked)).toEqual([true, true, true, true]);
  });

  it('a title behind, and writing', () => {
    const state = facts([peel('keep')], { found: 84 });
    state.document.lanes.push(newElement(state.document, 'e', 'behind', 's', 'title'));
    expect(ticks('title', state)).toEqual([true, true, true, false, false]);
    state.document.lanes[0] = { ...newElement(state.document, 'e', 'behind', 's', 'title'), words: 'HARBOUR' };
    expect(ticks('title', { ...state, written: 1 })).toEqual([true, true, true, true, true]);
    expect(ticks('write', facts([peel('keep')], { found: 84, bench: 'output' }))).toEqual([true, true, true, false]);
  });
});
