import { beforeAll, describe, expect, it } from 'vitest';
import { asFilmed, noiseSurface, seenThrough } from '../../tests/warped.ts';
import type { Gray } from '../image/picture.ts';
import { applyTo, type Homography, multiply, translation } from '../math/homography.ts';
import { atOf, motionOf } from '../math/motion.ts';
import { type RunFrame, runTracks, type TrackRun } from './run.ts';
import { suggestedPoints } from './suggest.ts';

const SIZE = { width: 240, height: 160 };
const FRAMES = 13;
const surface = noiseSurface(7);
const motion = (f: number): Homography =>
  multiply(translation(2.5 * f, f), [Math.cos(0.01 * f), -Math.sin(0.01 * f), 0, Math.sin(0.01 * f), Math.cos(0.01 * f), 0, 0, 0, 1]);
let film: Gray[];
let looked: number[] = [];
const luma = async (frame: number) => {
  looked.push(frame);
  return film[frame];
};
const BOX = Float64Array.of(60, 50, 130, 50, 130, 110, 60, 110);

beforeAll(() => {
  film = Array.from({ length: FRAMES }, (_, f) => asFilmed(seenThrough(surface, motion(f), SIZE), { seed: f }));
});

const truth = (f: number, x: number, y: number, since = 0): [number, number] => {
  const [u, v] = inverse(since, x, y);
  return applyTo(motion(f), u, v);
};
function inverse(f: number, x: number, y: number): [number, number] {
  const [dx, dy] = [x - 2.5 * f, y - f];
  const [c, s] = [Math.cos(0.01 * f), Math.sin(0.01 * f)];
  return [c * dx + s * dy, -s * dx + c * dy];
}

function point(x: number, y: number, more: Partial<TrackRun> = {}): TrackRun {
  return {
    kind: 'point',
    model: 'move',
    pivot: [x, y],
    outlines: [],
    pattern: 10,
    search: 32,
    stops: false,
    anchors: [{ frame: 0, at: [x, y] }],
    known: [],
    first: 0,
    last: FRAMES - 1,
    ...more,
  };
}
async function run(...runs: TrackRun[]): Promise<RunFrame[]> {
  looked = [];
  const told: RunFrame[] = [];
  for await (const t of runTracks(luma, SIZE, runs)) told.push(t);
  return told;
}
const off = ({ frame, at }: RunFrame, x: number, y: number, since = 0) => {
  const [u, v] = truth(frame, x, y, since);
  return Math.hypot(at[0] - u, at[1] - v);
};

describe('a run', () => {
  it('goes both ways from where a point was set, and tells every other frame once', async () => {
    const told = await run(point(...truth(6, 90, 70), { anchors: [{ frame: 6, at: truth(6, 90, 70) }] }));
    expect(told.map((t) => t.frame)).toEqual([7, 8, 9, 10, 11, 12, 5, 4, 3, 2, 1, 0]);
    for (const t of told) expect(off(t, 90, 70)).toBeLessThan(0.3);
  });

  it('takes points that begin together in one pass over the frames', async () => {
    const told = await run(point(80, 60), point(120, 90));
    expect(told).toHaveLength(2 * (FRAMES - 1));
    expect(looked.filter((f) => f === 9)).toHaveLength(1);
  });

  it('goes on from what is known, still by the pattern of the start', async () => {
    const known = [0, 1, 2, 3, 4, 5].map((frame) => ({ frame, at: truth(frame, 90, 70) }));
    const told = await run(point(90, 70, { known, first: 5, last: 6 }));
    expect(told.map((t) => t.frame)).toEqual([6]);
    expect(off(told[0], 90, 70)).toBeLessThan(0.3);
    expect([...new Set(looked)]).toEqual([0, 5, 6]);
  });

  it('goes on from what is known where the thing has changed since the start', async () => {
    const other = noiseSurface(31);
    const changing = Array.from({ length: FRAMES }, (_, f) => {
      const share = Math.min(1, f / 8);
      return asFilmed(
        seenThrough((x, y) => surface(x, y) * (1 - share) + other(x, y) * share, motion(f), SIZE),
        { seed: f },
      );
    });
    const known = Array.from({ length: 9 }, (_, frame) => ({ frame, at: truth(frame, 90, 70) }));
    const told: RunFrame[] = [];
    for await (const t of runTracks(async (f) => changing[f], SIZE, [point(90, 70, { known, first: 8 })])) told.push(t);
    expect(told.map((t) => t.frame)).toEqual([9, 10, 11, 12]);
    for (const t of told) {
      expect(t.quality).toBeGreaterThan(0.5);
      expect(off(t, 90, 70)).toBeLessThan(0.3);
    }
  });

  it('between two places set by hand comes from both, so that it passes through them', async () => {
    // The second was put 3 pixels off: the way bends to it, little by little.
    const [x, y] = truth(8, 90, 70);
    const told = await run(
      point(90, 70, {
        anchors: [
          { frame: 0, at: [90, 70] },
          { frame: 8, at: [x + 3, y] },
        ],
        last: 8,
      }),
    );
    const last = new Map(told.map((t) => [t.frame, t]));
    expect([...last.keys()].toSorted((a, b) => a - b)).toEqual([1, 2, 3, 4, 5, 6, 7]);
    const wrong = [1, 2, 3, 4, 5, 6, 7].map((f) => off(last.get(f) as RunFrame, 90, 70));
    expect(wrong[0]).toBeLessThan(0.7);
    expect(wrong[6]).toBeGreaterThan(2.3);
    for (let i = 1; i < 7; i++) expect(wrong[i]).toBeGreaterThan(wrong[i - 1]);
  });

  it('ends where it is lost, if it is to: the frame on which it was lost is told, and no more', async () => {
    // It leaves the picture at the right.
    const leaving = { ...point(225, 80), model: 'move' as const };
    const [whole, cut] = [await run(leaving), await run({ ...leaving, stops: true })];
    expect(whole).toHaveLength(FRAMES - 1);
    expect(cut.length).toBeLessThan(FRAMES - 1);
    expect(cut.map((t) => t.quality < 0.5)).toEqual([...cut.slice(1).map(() => false), true]);
    // One that is still seen goes on.
    const both = await run({ ...leaving, stops: true }, point(80, 60, { stops: true }));
    expect(both.filter((t) => t.track === 1)).toHaveLength(FRAMES - 1);
    expect(both.filter((t) => t.track === 0)).toHaveLength(cut.length);
  });

  it('keeps the distance to what is followed aside', async () => {
    const told = await run(point(90, 70, { anchors: [{ frame: 0, at: [90, 70], aside: [30, 20] }] }));
    for (const { frame, at } of told) {
      const [u, v] = truth(frame, 120, 90);
      expect(Math.hypot(at[0] - (u - 30), at[1] - (v - 20))).toBeLessThan(0.3);
    }
  });

  it('of a region gives its whole motion, on pictures of half the size as well', async () => {
    const region: TrackRun = { ...point(95, 80), kind: 'region', model: 'similarity', outlines: [BOX] };
    const halves = film.map(({ width, height, data }) => {
      const half = { width: width / 2, height: height / 2, data: new Float32Array((width * height) / 4) };
      for (let y = 0; y < half.height; y++)
        for (let x = 0; x < half.width; x++) {
          const i = 2 * y * width + 2 * x;
          half.data[y * half.width + x] = (data[i] + data[i + 1] + data[i + width] + data[i + width + 1]) / 4;
        }
      return half;
    });
    for (const [source, near] of [
      [film, 0.2],
      [halves, 0.5],
    ] as const)
      for await (const { frame, at, quality } of runTracks(async (f) => source[f], SIZE, [region])) {
        expect(quality).toBeGreaterThan(0.7);
        for (let i = 0; i < BOX.length; i += 2) {
          const [u, v] = applyTo(motionOf(at, [95, 80]), BOX[i], BOX[i + 1]);
          const [p, q] = truth(frame, BOX[i], BOX[i + 1]);
          expect(Math.hypot(u - p, v - q)).toBeLessThan(near);
        }
      }
  });

  it('leaves out what is to be ignored, and is silent where nothing is left', async () => {
    const region: TrackRun = { ...point(95, 80), kind: 'region', model: 'move', outlines: [BOX] };
    const half = Float64Array.of(95, 40, 140, 40, 140, 120, 95, 120);
    const [first] = await run({ ...region, anchors: [{ frame: 0, at: [95, 80], ignored: [half] }] });
    expect(off(first, 95, 80)).toBeLessThan(0.6);
    expect(await run({ ...region, anchors: [{ frame: 0, at: [95, 80], ignored: [BOX] }] })).toEqual([]);
  });

  it('tells which piece of it something hides', async () => {
    const hiding = film.map(({ width, height, data }, f) => {
      const covered = data.slice();
      // A board over the left of what is followed.
      if (f > 1) for (let y = 40; y < 130; y++) for (let x = 50; x < 84 + 2.5 * f; x++) covered[y * width + x] = 40 + ((x * 7 + y * 13) % 90);
      return { width, height, data: covered };
    });
    const region: TrackRun = { ...point(95, 80), kind: 'region', model: 'similarity', outlines: [BOX], last: 4 };
    const told: RunFrame[] = [];
    for await (const t of runTracks(async (f) => hiding[f], SIZE, [region])) told.push(t);
    expect(told[0].leftOut).toBeUndefined();
    for (const { leftOut, at, frame } of told.slice(1)) {
      expect(off({ at, frame } as RunFrame, 95, 80)).toBeLessThan(0.5);
      // Two digits a row of eight cells: the left ones are marked, the right ones are not.
      const rows = (leftOut ?? '').match(/../g) ?? [];
      expect(rows.slice(2, 6).every((r) => r[0] !== '0' && r[1] === '0')).toBe(true);
    }
  });

  it('starts from how the thing is turned where it was set', async () => {
    const whole = motion(9);
    const region: TrackRun = { ...point(95, 80), kind: 'region', model: 'similarity', outlines: [BOX], first: 9 };
    const told = await run({ ...region, anchors: [{ frame: 9, at: atOf(whole, [95, 80], 'similarity') }] });
    expect(told.map((t) => t.frame)).toEqual([10, 11, 12]);
    for (const t of told) expect(off(t, 95, 80)).toBeLessThan(0.3);
  });
});

describe('suggested points', () => {
  it('lie inside the outline, apart from each other, and where they can be followed', async () => {
    const places = suggestedPoints(film[0], SIZE, [BOX], 4);
    expect(places.length).toBeGreaterThanOrEqual(4);
    expect(places.length).toBeLessThanOrEqual(8);
    for (let i = 0; i < places.length; i += 2) {
      expect(places[i]).toBeGreaterThan(59);
      expect(places[i]).toBeLessThan(131);
      for (let k = 0; k < i; k += 2) expect(Math.hypot(places[i] - places[k], places[i + 1] - places[k + 1])).toBeGreaterThanOrEqual(20);
      for (const t of await run(point(places[i], places[i + 1]))) expect(off(t, places[i], places[i + 1])).toBeLessThan(0.3);
    }
  });

  it('are none on a plain wall', () => {
    expect(suggestedPoints({ ...SIZE, data: new Float32Array(240 * 160).fill(90) }, SIZE, [BOX], 5)).toEqual([]);
  });
});
