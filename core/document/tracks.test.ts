import { describe, expect, it } from 'vitest';
import { shapesOf } from '../path/between.ts';
import { corner } from '../path/path.ts';
import { keyFrames } from '../time/animated.ts';
import { keysForReach } from '../time/reach.ts';
import { applyChange, type Edit, EditError, parseDocument } from './edits.ts';
import { drawnFor, heldWhereTrusted, placedPathsOf, placesOf, shapeAt } from './follow.ts';
import { newSpline } from './part-kinds/spline.ts';
import { newDocument, newPath, newPointTrack, newRegionTrack, newSubject } from './records.ts';
import type { Placed, ShotDocument, SplinePart, Track } from './schema.ts';
import {
  acceptEdit,
  anchorEdit,
  around,
  averageOf,
  clearEdit,
  dropGuessesEdit,
  gapsOf,
  joinEdit,
  outlinesOn,
  removeTrackEdits,
  runOf,
  smoothEdit,
} from './tracks.ts';

const SQUARE = [corner(10, 10), corner(30, 10), corner(30, 30), corner(10, 30)];
const key = (frame: number, value: Placed) => ({ frame, value, ease: 'linear' as const });

function point(id: string, places: [number, number, number, number?][]): Track {
  const [frame, x, y] = places[0];
  const track = newPointTrack({ id, name: id, frame, lines: 540 }, x, y);
  const keys = places.map(([f, px, py, quality = 0.9], i) =>
    key(f, { at: [px, py], quality, ...(quality < 0.5 ? { reason: 'hidden' as const } : {}), ...(i === 0 ? { anchor: true as const } : {}) }),
  );
  return { ...track, motion: { keys: keys.sort((a, b) => a.frame - b.frame) } };
}
function shot(...tracks: Track[]): ShotDocument {
  const document = newDocument('Ramp', { width: 100, height: 100, frames: 40, rate: { num: 24, den: 1 }, firstNumber: 0 });
  const part: SplinePart = { ...newSpline('p', 'Sign', [newPath('q', 0, SQUARE, true)]), follow: { track: tracks[0].id, frame: 0, takes: ['position'] } };
  document.cast.push({ ...newSubject('s', 'Sign'), parts: [part] });
  document.tracks.push(...tracks);
  return document;
}
const apply = (document: ShotDocument, edit: Edit | null): Track => applyChange(document, [edit as Edit]).document.tracks[0];
const rows = (track: Track) => placesOf(track).map((k) => [k.frame, ...k.value.at]);

describe('a document with tracks', () => {
  it('lets no track go that something follows, and knows no following without a track', () => {
    const document = shot(point('t', [[0, 5, 5]]));
    expect(() => applyChange(document, [{ kind: 'remove', id: 't' }])).toThrow('Sign follows a track that is not in this shot');
    expect(() => parseDocument({ ...document, tracks: [] })).toThrow(EditError);
    expect(parseDocument(JSON.parse(JSON.stringify(document)))).toEqual(document);
  });

  it('gives what followed its motion as keys when the track is taken away, and all back when that is undone', () => {
    const document = shot(
      point('t', [
        [0, 5, 5],
        [1, 8, 5],
        [2, 11, 5],
      ]),
    );
    const { document: after, inverse } = applyChange(document, removeTrackEdits(document, 't'));
    expect(after.tracks).toEqual([]);
    const [path] = placedPathsOf(after, after.cast[0].parts[0]);
    expect([0, 1, 2, 9].map((f) => shapeAt(path, f)[0].x)).toEqual([10, 13, 16, 16]);
    expect(applyChange(after, inverse).document).toEqual(document);
  });

  it('guards approved frames against a change of the track they follow, and no others', () => {
    const document = shot(
      point('t', [
        [0, 5, 5],
        [10, 15, 5],
        [20, 25, 5],
      ]),
    );
    document.cast[0].approved = [{ first: 14, last: 14 }];
    expect(() => applyChange(document, [anchorEdit(document.tracks[0], 20, 30, 5)])).toThrow('Frame 14 of Sign is approved');
    expect(() => applyChange(document, [anchorEdit(document.tracks[0], 5, 30, 5)])).not.toThrow();
    expect(() => applyChange(document, [{ kind: 'assign', id: 't', values: { name: 'Other' } }])).not.toThrow();
    const elsewhere = { ...document, tracks: [...document.tracks, point('free', [[0, 1, 1]])] };
    expect(() => applyChange(elsewhere, [anchorEdit(elsewhere.tracks[1], 14, 9, 9)])).not.toThrow();
  });

  it('takes no place of three numbers', () => {
    const document = shot(point('t', [[0, 5, 5]]));
    const edit: Edit = { kind: 'keys', id: 't', setting: 'motion', set: [key(1, { at: [1, 2, 3], quality: 1 })], clear: [] };
    expect(() => applyChange(document, [edit])).toThrow('2, 6 or 8 numbers');
  });
});

describe('guesses of a track', () => {
  const track = point('t', [
    [0, 5, 5],
    [1, 6, 5, 0.3],
    [2, 7, 5, 0.2],
    [3, 8, 5],
    [4, 9, 5, 0.1],
  ]);

  it('are taken for true on a range in one go, where they are; others stay guesses', () => {
    const accepted = apply(shot(track), acceptEdit(track, { first: 1, last: 3 }));
    expect(rows(accepted)).toEqual(rows(track));
    expect(gapsOf(accepted)).toEqual([{ first: 4, last: 4, reason: 'hidden' }]);
    expect(acceptEdit(track, { first: 3, last: 3 })).toBeNull();
  });

  it('are taken away on a range in one go, and nothing that is trusted with them', () => {
    const left = apply(shot(track), dropGuessesEdit(track, { first: 0, last: 39 }));
    expect(rows(left).map(([frame]) => frame)).toEqual([0, 3]);
    expect(dropGuessesEdit(left, { first: 0, last: 39 })).toBeNull();
  });
});

describe('going on by hand beside a stretch that was followed well', () => {
  const document = shot(
    point('t', [
      [0, 5, 5],
      [10, 15, 5],
      [11, 16, 5, 0.1],
      [20, 40, 5],
      [30, 50, 5],
    ]),
  );
  const [path] = placedPathsOf(document, document.cast[0].parts[0]);
  const kind = shapesOf(path.between, path.closed);
  const keysAt = (frame: number) => keyFrames(heldWhereTrusted(path, frame, kind));
  // The curve drawn ten pixels lower on a frame, as an edit between keys does it.
  const lowered = (frame: number) => {
    const drawn = drawnFor(
      path,
      frame,
      shapeAt(path, frame).map((v) => ({ ...v, y: v.y + 10 })),
    );
    const keys = keysForReach(
      heldWhereTrusted(path, frame, kind),
      { frame, value: drawn, reach: 'between-keys', context: { frames: 40, range: null, fade: 0 } },
      kind,
    );
    return { ...path, shape: { keys: keys ?? [] } };
  };

  it('the trusted frames next to it are keyed by themselves, and no trusted frame changes', () => {
    expect(keysAt(14)).toEqual([0, 10, 20]);
    const after = lowered(14);
    for (const frame of [0, 5, 10, 20, 25, 30]) expect(shapeAt(after, frame)).toEqual(shapeAt(path, frame));
    expect(shapeAt(after, 14)[0].y).toBeCloseTo(shapeAt(path, 14)[0].y + 10, 6);
    expect(shapeAt(after, 12)[0].y).toBeGreaterThan(shapeAt(path, 12)[0].y + 1);
  });

  it('a second frame of the same gap needs no more of them; beyond the last trusted frame one is enough; on a trusted frame none', () => {
    const after = lowered(14);
    expect(keyFrames(heldWhereTrusted(after, 17, kind))).toEqual([0, 10, 14, 20]);
    expect(keysAt(36)).toEqual([0, 30]);
    expect(keysAt(10)).toEqual([0]);
  });
});

describe('points of a curve that follow a track of their own', () => {
  const pinned = (document: ShotDocument): ShotDocument => {
    const [part] = document.cast[0].parts as SplinePart[];
    const shape = SQUARE.map((v, i) => (i === 2 ? { ...v, pin: { track: 'u', frame: 1 } } : v));
    return {
      ...document,
      cast: [{ ...document.cast[0], parts: [{ ...part, paths: [{ ...part.paths[0], shape: { keys: [{ frame: 0, value: shape, ease: 'linear' }] } }] }] }],
    };
  };
  const document = pinned(
    shot(
      point('t', [
        [0, 5, 5],
        [4, 13, 5],
      ]),
      point('u', [
        [1, 50, 50],
        [3, 50, 70],
      ]),
    ),
  );
  const seen = (d: ShotDocument, frame: number) => shapeAt(placedPathsOf(d, d.cast[0].parts[0])[0], frame).map((v) => [v.x, v.y]);

  it('go with that, the others with the track of the whole', () => {
    expect(seen(document, 1)).toEqual([
      [12, 10],
      [32, 10],
      [30, 30],
      [12, 30],
    ]);
    expect(seen(document, 2)).toEqual([
      [14, 10],
      [34, 10],
      [30, 40],
      [14, 30],
    ]);
  });

  it('are edited where they are seen', () => {
    const [path] = placedPathsOf(document, document.cast[0].parts[0]);
    const shape = shapeAt(path, 3);
    const drawn = drawnFor(path, 3, shape);
    const edit: Edit = { kind: 'keys', id: 'q', setting: 'shape', set: [{ frame: 3, value: drawn, ease: 'linear' }], clear: [] };
    expect(seen(applyChange(document, [edit]).document, 3)).toEqual(seen(document, 3));
  });

  it('keep their motion as keys when the track goes, and guard approved frames against its changes', () => {
    expect(() => applyChange(document, [{ kind: 'remove', id: 'u' }])).toThrow('follows a track');
    const { document: after } = applyChange(document, removeTrackEdits(document, 'u'));
    for (const frame of [0, 1, 2, 3, 9]) expect(seen(after, frame)).toEqual(seen(document, frame));
    const approved = { ...document, cast: [{ ...document.cast[0], approved: [{ first: 2, last: 2 }] }] };
    expect(() => applyChange(approved, [anchorEdit(approved.tracks[1], 3, 9, 9)])).toThrow('approved');
    expect(() => applyChange(approved, [anchorEdit(approved.tracks[1], 5, 9, 9)])).not.toThrow();
  });
});

describe('editing a track by hand', () => {
  const track = point('t', [
    [0, 0, 0],
    [1, 2, 0],
    [2, 4, 5],
    [3, 6, 0],
    [4, 0, 0, 0.1],
    [5, 10, 0],
  ]);
  const document = shot(track);

  it('sets a place that tracking starts from, and passes through again after it was moved', () => {
    const after = apply(document, anchorEdit(track, 3, 7, 1));
    expect(placesOf(after)[3].value).toEqual({ at: [7, 1], quality: 1, anchor: true });
    expect(around(after, 3)).toEqual({ first: 0, last: 5 });
    const run = runOf(document, after, { first: 0, last: 5 });
    expect(run?.anchors.map((a) => [a.frame, a.at])).toEqual([
      [0, [0, 0]],
      [3, [7, 1]],
    ]);
    expect(run?.known.map((k) => k.frame)).toEqual([0, 1, 2, 3, 5]);
  });

  it('goes on with another detail, at a distance from where it was', () => {
    const after = apply(document, anchorEdit(track, 3, 26, 12, true));
    expect(placesOf(after)[3].value).toEqual({ at: [6, 0], quality: 1, anchor: true, aside: [20, 12] });
    // Moved after that, it keeps the distance.
    expect(placesOf(apply({ ...document, tracks: [after] }, anchorEdit(after, 3, 8, 0)))[3].value.aside).toEqual([20, 12]);
  });

  it('deletes a range in one go, but never where it was set', () => {
    expect(rows(apply(document, clearEdit(track, { first: 0, last: 3 })))).toEqual([
      [0, 0, 0],
      [4, 0, 0],
      [5, 10, 0],
    ]);
    expect(clearEdit(track, { first: 0, last: 0 })).toBeNull();
  });

  it('smooths within a range what is trusted and was not set by hand', () => {
    const after = apply(document, smoothEdit(track, { first: 1, last: 2 }, 1));
    const [a, b, c, , e] = placesOf(after);
    expect(a.value.at).toEqual([0, 0]);
    expect(c.value.at[1]).toBeLessThan(3);
    expect(b.value.at[1]).toBeGreaterThan(0);
    expect(e.value).toEqual({ at: [0, 0], quality: 0.1, reason: 'hidden' });
  });

  it('goes on as another track where its own way ends, without a jump', () => {
    const other = point('u', [
      [4, 50, 50],
      [5, 52, 51],
      [6, 54, 52],
      [7, 56, 53],
    ]);
    expect(rows(apply(document, joinEdit(track, other))).slice(5)).toEqual([
      [5, 10, 0],
      [6, 12, 1],
      [7, 14, 2],
    ]);
    expect(joinEdit(track, { ...other, motion: { keys: [] as never } })).toBeNull();
  });

  it('lies in the middle of several on the frames that all of them have', () => {
    const other = point('u', [
      [1, 10, 2],
      [2, 10, 2],
      [4, 1, 1],
      [5, 20, 4],
    ]);
    const middle = averageOf('m', 'Middle', [track, other]) as Track;
    expect(rows(middle)).toEqual([
      [1, 6, 1],
      [2, 7, 3.5],
      [5, 15, 2],
    ]);
    expect(placesOf(middle)[0].value.anchor).toBe(true);
    expect(averageOf('m', 'Middle', [track])).toBeNull();
  });

  it('says where it is not to be trusted, with what was said most', () => {
    const lost = point('t', [
      [0, 0, 0],
      [1, 1, 1, 0.1],
      [2, 1, 1, 0.2],
      [3, 1, 1, 0.9],
      [6, 1, 1, 0.1],
    ]);
    expect(gapsOf(lost)).toEqual([
      { first: 1, last: 2, reason: 'hidden' },
      { first: 6, last: 6, reason: 'hidden' },
    ]);
  });

  it('gives the outlines of a region where it is on a frame, and none where it is lost', () => {
    const region = newRegionTrack({ id: 'r', name: 'Sign', frame: 2, lines: 540 }, [SQUARE], 'move');
    const way = { keys: [...placesOf(region), key(3, { at: [25, 22], quality: 0.9 }), key(4, { at: [90, 90], quality: 0.1, reason: 'hidden' })] };
    expect([2, 3].map((f) => [...(outlinesOn({ ...region, motion: way }, f)?.[0].slice(0, 2) ?? [])])).toEqual([
      [10, 10],
      [15, 12],
    ]);
    expect([4, 9].map((f) => outlinesOn({ ...region, motion: way }, f))).toEqual([null, null]);
  });

  it('ignores what a Spline covers where the place was set', () => {
    const region = { ...newRegionTrack({ id: 'r', name: 'Sign', frame: 2, lines: 540 }, [SQUARE], 'affine'), ignore: 'p' };
    const own = shot(track, region);
    const [ignored] = runOf(own, region, { first: 0, last: 9 })?.anchors[0].ignored ?? [];
    // The Spline follows the point, which has moved by 4, 5 then.
    expect([...ignored.slice(0, 2)]).toEqual([14, 15]);
    expect(runOf(own, { ...region, motion: { keys: [key(1, { at: [1, 1], quality: 1 })] } }, { first: 0, last: 9 })).toBeNull();
  });
});
