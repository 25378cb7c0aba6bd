import { describe, expect, it } from 'vitest';
import { newLaneEffect } from '../effects/lane-effect.ts';
import { corner } from '../path/path.ts';
import { nextStep, type Standing, type StepId, stepsLeft } from './next-step.ts';
import { newPeel } from './part-kinds/peel.ts';
import { newSpline } from './part-kinds/spline.ts';
import { newDocument, newPath, newPointTrack, newStroke, newSubject } from './records.ts';
import type { Part } from './schema.ts';

const SQUARE = [corner(0, 0), corner(9, 0), corner(9, 9)];

function standing(parts: Part[] | null, more: Partial<Standing> = {}): Standing {
  const document = newDocument('Test', { width: 96, height: 54, frames: 84, rate: { num: 24, den: 1 }, firstNumber: 0 });
  const subject = parts ? { ...newSubject('s', 'Courier'), parts } : null;
  if (subject) document.cast.push(subject);
  return { document, subject, found: 0, doubtful: 0, missing: 0, secondsToCarry: 0, carrying: null, written: 0, skipped: new Set(), ...more };
}
const peel = () => newPeel('peel', 'Peel', [newStroke('k', 40, 'keep', [5, 5])]);
const softened = (s: Standing): Standing => {
  if (s.subject) s.subject.edge.featherOut = { constant: 2 };
  return s;
};
const ids = (s: Standing | null) => stepsLeft(s).map((step) => step.id);

describe('the next step', () => {
  it('goes from footage through all of the work, in the order in which it is done', () => {
    const order: [StepId, Standing | null][] = [
      ['footage', null],
      ['isolate', standing(null)],
      ['isolate', standing([])],
      ['carry', standing([peel()], { found: 1, missing: 83, secondsToCarry: 41.3 })],
      ['carrying', standing([peel()], { found: 12, missing: 72, carrying: { done: 12, total: 84 } })],
      ['soften', standing([peel()], { found: 84, doubtful: 6 })],
      ['review', softened(standing([peel()], { found: 84, doubtful: 6 }))],
      ['compose', softened(standing([peel()], { found: 84 }))],
    ];
    for (const [id, s] of order) expect(nextStep(s)?.id).toBe(id);
    const composed = softened(standing([peel()], { found: 84 }));
    composed.document.lanes.push(newLaneEffect('e', 'behind', 's', 'solid'));
    expect(ids(composed)).toEqual(['write']);
    // What needs no subject may be all of it, as in shots that were joined.
    const joined = standing(null);
    joined.document.lanes.push(newLaneEffect('e', 'front', null, 'grade'));
    expect(ids(joined)).toEqual(['write']);
    expect(ids({ ...composed, written: 1 })).toEqual(['fetch']);
  });

  it('says what it takes', () => {
    expect(nextStep(standing([peel()], { found: 1, missing: 83, secondsToCarry: 41.3 }))).toMatchObject({
      label: 'Carry through 83 frames (about 41 s)',
      why: 'Courier is found where you painted, and nowhere else yet.',
    });
    expect(nextStep(standing([peel()], { missing: 2000, secondsToCarry: 500 }))?.label).toBe('Carry through 2000 frames (about 8 min)');
    expect(nextStep(softened(standing([peel()], { found: 84, doubtful: 1 })))?.label).toBe('Review one doubtful frame');
  });

  it('of curves: close them, track what stands still, mend what was lost', () => {
    const open = newSpline('p', 'Door', [newPath('q', 0, SQUARE, false)]);
    expect(nextStep(standing([open]))?.id).toBe('close');
    const closed = newSpline('p', 'Door', [newPath('q', 0, SQUARE, true)]);
    expect(nextStep(standing([closed]))).toMatchObject({ id: 'track', label: 'Track it through 84 frames' });
    const s = standing([{ ...closed, follow: { track: 't', frame: 0, takes: ['position'] } }]);
    const track = newPointTrack({ id: 't', name: 'T', frame: 0, lines: 54 }, 5, 5);
    const place = (frame: number, quality: number) => ({
      frame,
      value: { at: [5, 5], quality, ...(quality < 0.5 ? { reason: 'hidden' as const } : {}) },
      ease: 'linear' as const,
    });
    s.document.tracks.push({ ...track, motion: { keys: [place(0, 1), place(1, 0.2), place(2, 0.1)] } });
    expect(nextStep(s)).toMatchObject({ id: 'mend-track', label: 'Mend 2 frames of the track' });
    const still = standing([closed]);
    still.document.plate.frames = 1;
    expect(nextStep(still)?.id).toBe('soften');
  });

  it('changes no edge once frames are approved, which would be refused', () => {
    const s = standing([peel()], { found: 84, doubtful: 6 });
    s.document.cast[0].approved = [{ first: 3, last: 3 }];
    expect(stepsLeft(s).map((step) => step.id)).not.toContain('soften');
    expect(nextStep(s)?.id).toBe('review');
  });

  it('is not one that the artist has put aside', () => {
    const s = standing([peel()], { found: 84, doubtful: 6, skipped: new Set<StepId>(['review', 'soften']) });
    expect(nextStep(s)?.id).toBe('compose');
  });
});
