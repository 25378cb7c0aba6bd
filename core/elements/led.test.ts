/** Elements that follow curves and one another. */
import { describe, expect, it } from 'vitest';
import { applyChange } from '../document/edits.ts';
import { removeEdits } from '../document/leaders.ts';
import { newSpline } from '../document/part-kinds/spline.ts';
import { newDocument, newPath, newPointTrack, newSubject } from '../document/records.ts';
import type { Element, ShotDocument } from '../document/schema.ts';
import { applyTo, type Homography } from '../math/homography.ts';
import { ASPECTS, type Aspect } from '../math/motion.ts';
import { corner, type Shape } from '../path/path.ts';
import { newElement } from './index.ts';
import { ledMotion, placeAt } from './place.ts';

const PLATE = { width: 640, height: 360, frames: 50, rate: { num: 24, den: 1 }, firstNumber: 0 };
const BOX = { width: 100, height: 60 };
const square = (x: number, y: number, side: number, turn = 0): Shape =>
  [
    [-1, -1],
    [1, -1],
    [1, 1],
    [-1, 1],
  ].map(([u, v]) => {
    const [c, s] = [(Math.cos(turn) * side) / 2, (Math.sin(turn) * side) / 2];
    return corner(x + u * c - v * s, y + u * s + v * c);
  });

/** A Spline that is keyed by hand from frame 10 to 20. */
function shot(then: Shape, now: Shape): ShotDocument {
  const document = newDocument('Led', PLATE);
  const path = newPath('q', 10, then, true);
  path.shape = { keys: [then, now].map((value, i) => ({ frame: 10 + 10 * i, value, ease: 'linear' as const })) };
  document.cast.push({ ...newSubject('s', 'Window'), parts: [newSpline('p', 'Window', [path])] });
  return document;
}
function card(document: ShotDocument, id: string, leader: string | null, more: Partial<Element> = {}, takes: Aspect[] = [...ASPECTS]): Element {
  const made = { ...newElement(document, id, 'front', null, 'card'), follow: leader ? { track: leader, frame: 10, takes } : null, ...more };
  document.lanes.push(made);
  return made;
}
const at = (m: Homography | null, x = 0, y = 0) => applyTo(m as Homography, x, y).map((v) => Math.round(v * 1000) / 1000);

describe('an element that follows a Spline', () => {
  it('goes where its keys take its points: moved, turned, scaled, and under perspective', () => {
    const document = shot(square(100, 100, 40), square(200, 150, 80, Math.PI / 2));
    const item = card(document, 'c', 'p', { settings: { x: { constant: 110 }, y: { constant: 100 } } });
    expect(at(placeAt(document, item, BOX, 10))).toEqual([110, 100]);
    // Ten pixels right of the middle: turned by a quarter and twice as far, that is twenty below it.
    expect(at(placeAt(document, item, BOX, 20))).toEqual([200, 170]);
    const moves = card(document, 'm', 'p', { settings: { x: { constant: 110 }, y: { constant: 100 } } }, ['position']);
    expect(at(placeAt(document, moves, BOX, 20))).toEqual([210, 150]);
    const trapezoid = [corner(150, 100), corner(260, 120), corner(250, 210), corner(160, 230)];
    const skewed = shot(square(100, 100, 40), trapezoid);
    const lies = card(skewed, 'c', 'p', { settings: { x: { constant: 120 }, y: { constant: 80 } } });
    // It was put on a corner, and is there still.
    expect(at(placeAt(skewed, lies, BOX, 20))).toEqual([260, 120]);
  });

  it('eases into following and out of it by a keyed amount', () => {
    const document = shot(square(100, 100, 40), square(200, 100, 40));
    const key = (frame: number, value: number) => ({ frame, value, ease: 'linear' as const });
    const item = card(document, 'c', 'p', { settings: { x: { constant: 0 }, y: { constant: 0 } }, followAmount: { keys: [key(20, 1), key(30, 0)] } });
    expect([15, 20, 25, 30, 40].map((f) => at(placeAt(document, item, BOX, f))[0])).toEqual([50, 100, 50, 0, 0]);
    // Half of half a turn is a quarter of one, and nothing is flattened on the way.
    const turning = shot(square(100, 100, 40), square(100, 100, 40, Math.PI * 0.8));
    const half = card(turning, 'c', 'p', { followAmount: { constant: 0.5 } });
    const motion = ledMotion(turning, half, 20) as Homography;
    expect(Math.atan2(motion[3], motion[0])).toBeCloseTo(Math.PI * 0.4, 6);
    expect(Math.hypot(motion[0], motion[3])).toBeCloseTo(1, 6);
  });

  it('goes on by hand where the track of the curve was lost', () => {
    const document = shot(square(100, 100, 40), square(130, 100, 40));
    const track = newPointTrack({ id: 't', name: 'Track', frame: 10, lines: 360 }, 100, 100);
    const place = (frame: number, x: number, quality: number) => ({ frame, value: { at: [x, 100], quality }, ease: 'linear' as const });
    track.motion = { keys: [place(10, 100, 1), place(15, 140, 1), place(16, 300, 0)] };
    document.tracks.push(track);
    document.cast[0].parts[0] = { ...document.cast[0].parts[0], follow: { track: 't', frame: 10, takes: ['position'] } } as never;
    const item = card(document, 'c', 'p', { settings: { x: { constant: 100 }, y: { constant: 100 } } });
    // The track's 40 pixels, and the 30 of the keys.
    expect(at(placeAt(document, item, BOX, 20))[0]).toBe(170);
  });
});

describe('an element that follows another', () => {
  it('is fixed to it, however that is placed', () => {
    const document = shot(square(100, 100, 40), square(200, 100, 40));
    const key = (frame: number, value: number) => ({ frame, value, ease: 'linear' as const });
    card(document, 'lead', 'p', { settings: { x: { constant: 100 }, y: { constant: 100 }, scale: { keys: [key(10, 100), key(20, 200)] } } });
    const item = card(document, 'c', 'lead', { settings: { x: { constant: 90 }, y: { constant: 100 } } });
    // Ten left of its leader, which is a hundred farther on and twice as large.
    expect(at(placeAt(document, item, BOX, 20))).toEqual([180, 100]);
  });

  it('is refused where that makes a circle, in words', () => {
    const document = shot(square(100, 100, 40), square(200, 100, 40));
    card(document, 'a', null, { name: 'Prop' });
    card(document, 'b', 'a', { name: 'Beam' });
    card(document, 'c', 'b', { name: 'Glow' });
    const follow = (track: string) => ({ track, frame: 0, takes: [...ASPECTS] });
    expect(() => applyChange(document, [{ kind: 'assign', id: 'a', values: { follow: follow('c') } }])).toThrow(
      /^Prop cannot follow Glow: it would follow itself/,
    );
    expect(() => applyChange(document, [{ kind: 'assign', id: 'a', values: { follow: follow('a') } }])).toThrow('Prop cannot follow Prop');
    expect(() => applyChange(document, [{ kind: 'remove', id: 'b' }])).toThrow('Glow follows something that is not in this shot');
    const { document: after, inverse } = applyChange(document, removeEdits(document, 'b'));
    expect(after.lanes.map((l) => [l.id, l.follow])).toEqual([
      ['a', null],
      ['c', null],
    ]);
    expect(applyChange(after, inverse).document).toEqual(document);
    // One that is drawn while it is being set is not looked at for ever.
    document.lanes[0] = { ...document.lanes[0], follow: follow('c') };
    expect(placeAt(document, document.lanes[2] as Element, BOX, 5)).toBeNull();
  });
});
