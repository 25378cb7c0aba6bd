import { describe, expect, it } from 'vitest';
import { applyChange } from '~/core/document/edits.ts';
import { placedPathsOf, shapeAt, standingAlone } from '~/core/document/follow.ts';
import { newSpline } from '~/core/document/part-kinds/spline.ts';
import { newDocument, newPath, newRegionTrack, newSubject } from '~/core/document/records.ts';
import type { Placed, ShotDocument, SplinePart, Track } from '~/core/document/schema.ts';
import { corner, smooth } from '~/core/path/path.ts';
import { closedShapes, followEdits, keepEdits, wasFollowed, withPlaces } from './track.ts';

const SHAPE = [smooth(10, 10, 4, 2), corner(40, 12), corner(30, 40)];
const spline = (): SplinePart => newSpline('p', 'Sign', [newPath('q', 5, SHAPE, true)]);
const start = { id: 't', name: 'Sign', frame: 5, lines: 100 };

/** A track that moves by 3, -1 a frame; frames in `lost` are not trusted. */
function moving(lost: number[] = []): Track {
  const track = newRegionTrack(start, [SHAPE], 'move');
  const [x, y] = track.pivot;
  const places = Array.from({ length: 11 }, (_, frame) => {
    const value: Placed = lost.includes(frame) ? { at: [0, 0], quality: 0.1, reason: 'hidden' } : { at: [x + 3 * (frame - 5), y - (frame - 5)], quality: 0.9 };
    return { frame, value };
  });
  return withPlaces(track, places);
}

function shot(part: SplinePart, track: Track): ShotDocument {
  const document = newDocument('Ramp', { width: 100, height: 100, frames: 20, rate: { num: 24, den: 1 }, firstNumber: 0 });
  document.cast.push({ ...newSubject('s', 'Sign'), parts: [part] });
  document.tracks.push(track);
  return document;
}
const partIn = (document: ShotDocument) => document.cast[0].parts[0] as SplinePart;
const seen = (document: ShotDocument, frame: number) => shapeAt(placedPathsOf(document, partIn(document))[0], frame);
const shifted = (dx: number, dy: number) => SHAPE.map((v) => ({ ...v, x: v.x + dx, y: v.y + dy }));

describe('a part that follows', () => {
  it('is seen where the track is, passes over what is not trusted, and comes back when the step is undone', () => {
    const document = shot(spline(), moving([7, 8]));
    const { document: after, inverse } = applyChange(document, followEdits(document, partIn(document), document.tracks[0], 5, 'go'));
    for (const frame of [0, 5, 6, 9]) expect(seen(after, frame)).toEqual(shifted(3 * (frame - 5), -(frame - 5)));
    // Between the places before and after it goes evenly; beyond the last it rests.
    expect(seen(after, 7)[0].x).toBeCloseTo(16, 9);
    expect(seen(after, 19)).toEqual(seen(after, 10));
    expect(applyChange(after, inverse).document).toEqual(document);
  });

  it('keeps what is seen on its keys, as corrections, and stands alone again with the same look on every frame', () => {
    const part = newSpline('p', 'Sign', [
      {
        ...newPath('q', 5, SHAPE, true),
        shape: {
          keys: [
            { frame: 2, value: shifted(40, 0), ease: 'linear' },
            { frame: 5, value: SHAPE, ease: 'linear' },
          ],
        },
      },
    ]);
    const document = shot(part, moving());
    const { document: after } = applyChange(document, followEdits(document, part, document.tracks[0], 5, 'stay'));
    expect(seen(after, 2)).toEqual(shifted(40, 0));
    expect(seen(after, 5)).toEqual(SHAPE);
    expect(seen(after, 8)).toEqual(shifted(9, -3));
    const alone = standingAlone(after, partIn(after));
    expect(alone.follow).toBeNull();
    const written = { ...after, cast: [{ ...after.cast[0], parts: [alone] }] };
    for (let frame = 0; frame < 20; frame++)
      for (const [i, v] of seen(written, frame).entries()) {
        const w = seen(after, frame)[i];
        expect(Math.hypot(v.x - w.x, v.y - w.y)).toBeLessThan(0.01);
      }
  });

  it('keeps points that follow a track of their own where they are seen, and its outline has none', () => {
    const other = {
      ...moving(),
      id: 'u',
      motion: { keys: [0, 8].map((frame) => ({ frame, value: { at: [50, 50 + frame], quality: 1 }, ease: 'linear' as const })) },
    };
    const pinned = SHAPE.map((v, i) => (i === 1 ? { ...v, pin: { track: 'u', frame: 0 } } : v));
    const document = shot(newSpline('p', 'Sign', [newPath('q', 5, pinned, true)]), moving());
    document.tracks.push(other);
    const before = seen(document, 8);
    const { document: after } = applyChange(document, followEdits(document, partIn(document), document.tracks[0], 8, 'go'));
    expect(seen(after, 8)).toEqual(before);
    expect(seen(after, 4).map((v) => v.x)).toEqual([-2, 40, 18]);
    expect(JSON.stringify(closedShapes(after, partIn(after), 8))).not.toContain('pin');
    const alone = standingAlone(after, partIn(after));
    expect(JSON.stringify(alone)).not.toContain('pin');
  });

  it('is outlined by its closed curves alone, where they are seen', () => {
    const part = { ...spline(), follow: { track: 't', frame: 5, takes: ['position' as const] } };
    part.paths.push(newPath('open', 5, [corner(1, 1), corner(9, 1)], false));
    expect(closedShapes(shot(part, moving()), part, 7)).toEqual([shifted(6, -2)]);
  });
});

describe('what a run found', () => {
  it('is kept as keys of the track, but never over a place that was set by hand', () => {
    const track = moving();
    const document = shot(spline(), { ...track, motion: { keys: [{ frame: 5, value: { at: [1, 2], quality: 1, anchor: true }, ease: 'linear' }] } });
    const { document: after } = applyChange(document, keepEdits(document, [track]));
    const { motion } = after.tracks[0];
    const keys = 'keys' in motion ? motion.keys : [];
    expect(keys).toHaveLength(11);
    expect(keys[5].value).toEqual({ at: [1, 2], quality: 1, anchor: true });
    expect(keys[6].value.quality).toBe(0.9);
  });

  it('counts as followed where any frame but its own is trusted', () => {
    expect(wasFollowed(moving())).toBe(true);
    expect(wasFollowed(moving([0, 1, 2, 3, 4, 6, 7, 8, 9, 10]))).toBe(false);
  });
});
