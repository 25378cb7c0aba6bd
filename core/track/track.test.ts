import { describe, expect, it } from 'vitest';
import { shareOf } from '../../tests/battery.ts';
import { asFilmed, noiseSurface, seenThrough } from '../../tests/warped.ts';
import type { Gray } from '../image/picture.ts';
import { applyTo, type Homography, inverseOf, MOTION_MODELS, type MotionModel, multiply, translation } from '../math/homography.ts';
import { fillPolylines } from '../path/fill.ts';
import { type Area, cornersAt, pointArea, regionArea } from './area.ts';
import { TRUSTED } from './quality.ts';
import { type TrackTask, trackTowards } from './track-shot.ts';
import { pointsFromFile } from './tracks-file.ts';

const SIZE = { width: 320, height: 200 };
const QUAD = [90, 60, 190, 64, 186, 140, 86, 136];
const region = (quad = QUAD): Area => regionArea(fillPolylines([Float64Array.from(quad)], SIZE.width, SIZE.height), quad) as Area;
const about = (x: number, y: number, m: Homography) => multiply(translation(x, y), multiply(m, translation(-x, -y)));
const turned = (angle: number, scale: number): Homography => {
  const [c, s] = [Math.cos(angle) * scale, Math.sin(angle) * scale];
  return [c, -s, 0, s, c, 0, 0, 0, 1];
};
const middle = (list: number[], share = 0.5) => [...list].sort((a, b) => a - b)[Math.min(list.length - 1, Math.floor(list.length * share))];

/** Pictures of a surface that moves: frame 0 as it is. */
function film(motion: (frame: number) => Homography, frames: number, light: (frame: number) => { gain?: number; offset?: number } = () => ({})): Gray[] {
  const surface = noiseSurface(3, 3.5);
  return Array.from({ length: frames }, (_, f) => asFilmed(seenThrough(surface, motion(f), SIZE), { ...light(f), noise: 1.2, seed: f + 1 }));
}

/** The same with a board before a part of it, down to a row, on frames 8 to 14. */
function behindBoard(motion: (frame: number) => Homography, frames: number, bottom: number): Gray[] {
  const board = noiseSurface(99, 5, 90);
  return film(motion, frames).map(({ width, height, data }, f) => {
    if (f < 8 || f > 14) return { width, height, data };
    const covered = data.slice();
    for (let y = 60; y < bottom; y++) for (let x = 120; x < 210; x++) covered[y * width + x] = board(x, y) / 2;
    return { width, height, data: covered };
  });
}

const point = (x: number, y: number): TrackTask => ({ area: pointArea(x, y, 10), region: false, model: 'similarity', search: 24 });
const whole = (model: MotionModel, area = region()): TrackTask => ({ area, region: true, model, search: 24 });

async function follow(pictures: Gray[], tasks: TrackTask[], start = 0, end = pictures.length - 1) {
  const out = [];
  for await (const step of trackTowards(async (f) => pictures[f], tasks, start, end)) out.push(step);
  return out;
}

/** How far the corners of a region are off, at worst. */
function cornersOff(area: Area, homography: Homography, truth: Homography): number {
  const found = cornersAt(area, homography);
  let worst = 0;
  for (let k = 0; k < QUAD.length; k += 2) {
    const [x, y] = applyTo(truth, QUAD[k], QUAD[k + 1]);
    worst = Math.max(worst, Math.hypot(found[k] - x, found[k + 1] - y));
  }
  return worst;
}

describe('points', () => {
  const grid = Array.from({ length: 12 }, (_, i) => [80 + (i % 4) * 38, 62 + Math.floor(i / 4) * 34] as const);

  it.each([
    ['a move', (f: number) => translation(2.3 * f, 5 * Math.sin(f / 4)), undefined],
    ['turn and growth', (f: number) => multiply(translation(f, f / 2), about(140, 100, turned(0.02 * f, 1 + 0.012 * f))), undefined],
    ['a change of the light', (f: number) => translation(1.7 * f, -f), (f: number) => ({ gain: 1 - 0.02 * f, offset: 1.5 * f })],
    ['a shaking camera', (f: number) => translation(9 * Math.sin(f * 1.3), 7 * Math.sin(f * 1.9)), undefined],
  ])('are followed through %s: half of them within 0.1 px, nineteen of twenty within 0.5', async (_name, motion, light) => {
    const pictures = film(motion, 16, light);
    const off: number[] = [];
    for (const { frame, found } of await follow(
      pictures,
      grid.map(([x, y]) => point(x, y)),
    ))
      found.forEach(({ homography, quality }, i) => {
        const [x, y] = applyTo(motion(frame), ...grid[i]);
        const [u, v] = applyTo(homography, 0, 0);
        expect(quality).toBeGreaterThanOrEqual(TRUSTED);
        off.push(Math.hypot(u - x, v - y));
      });
    expect(middle(off)).toBeLessThan(0.1);
    expect(middle(off, 0.95)).toBeLessThan(0.5);
  });

  it('do not drift: after two hundred frames to and fro they are where they began', async () => {
    const motion = (f: number) => multiply(translation(20 * Math.sin(f / 9), 12 * Math.sin(f / 13)), about(140, 100, turned(0.1 * Math.sin(f / 17), 1)));
    const forty = film(motion, 48);
    // There, back, and there again.
    const turn = (f: number) => (f % 94 < 48 ? f % 94 : 94 - (f % 94));
    const pictures = Array.from({ length: 200 }, (_, f) => forty[turn(f)]);
    const last = (await follow(pictures, [point(150, 100)])).at(-1);
    const [x, y] = applyTo(motion(turn(199)), 150, 100);
    const [u, v] = applyTo(last?.found[0].homography as Homography, 0, 0);
    expect(Math.hypot(u - x, v - y)).toBeLessThan(0.25);
  });

  it('are said to be lost behind something, with the reason, and are found again where their motion brought them', async () => {
    const steps = await follow(
      behindBoard((f) => translation(2 * f, 0), 24, 140),
      [point(140, 100)],
    );
    for (const { frame, found } of steps) {
      const [{ homography, quality, reason }] = found;
      if (frame >= 8 && frame <= 14) {
        expect(quality).toBeLessThan(TRUSTED);
        expect(reason).toBe('hidden');
      } else {
        expect(quality).toBeGreaterThanOrEqual(TRUSTED);
        expect(reason).toBeNull();
        expect(Math.abs(applyTo(homography, 0, 0)[0] - 140 - 2 * frame)).toBeLessThan(0.3);
      }
    }
  });

  it('are found again within three frames where they went another way while they were hidden', async () => {
    const pictures = behindBoard((f) => translation(2 * f, f > 10 ? 20 : 0), 22, 160);
    for (const { frame, found } of await follow(pictures, [point(140, 100)])) {
      const [{ homography, quality }] = found;
      if (frame >= 8 && frame <= 14) expect(quality, `frame ${frame}`).toBeLessThan(TRUSTED);
      if (frame < 17) continue;
      expect(quality, `frame ${frame}`).toBeGreaterThanOrEqual(TRUSTED);
      const [x, y] = applyTo(homography, 0, 0);
      expect(Math.hypot(x - 140 - 2 * frame, y - 120)).toBeLessThan(0.3);
    }
  });

  it('are not found again in a lookalike beside what hides them', async () => {
    const [surface, other, board] = [noiseSurface(3, 3.5), noiseSurface(41, 3.5), noiseSurface(99, 5, 90)];
    // 60 pixels to the right of what is followed lies nearly the same.
    const doubled = (x: number, y: number) => (x > 180 && x < 222 ? 0.8 * surface(x - 60, y) + 0.2 * other(x, y) : surface(x, y));
    const motion = (f: number) => translation(0.7 * f, 0);
    const pictures = Array.from({ length: 24 }, (_, f) => {
      const { data } = seenThrough(doubled, motion(f), SIZE);
      if (f >= 8) for (let y = 60; y < 140; y++) for (let x = 110; x < 172; x++) data[y * SIZE.width + x] = board(x, y) / 2;
      return asFilmed({ ...SIZE, data }, { noise: 1.2, seed: f + 1 });
    });
    for (const { frame, found } of await follow(pictures, [{ ...point(140, 100), search: 32 }])) {
      if (frame < 8) expect(found[0].quality).toBeGreaterThanOrEqual(TRUSTED);
      else expect(found[0], `frame ${frame}`).toMatchObject({ reason: 'hidden' });
    }
  });

  it('on a plain wall, and beyond the border, are never trusted, and it is said why', async () => {
    const plain: Gray[] = Array.from({ length: 4 }, (_, f) => asFilmed({ ...SIZE, data: new Float32Array(320 * 200).fill(120) }, { noise: 1.5, seed: f }));
    for (const { found } of await follow(plain, [point(100, 100)])) expect(found[0]).toMatchObject({ reason: 'plain' });
    const leaving = film((f) => translation(12 * f, 0), 14);
    const last = (await follow(leaving, [point(230, 100)])).at(-1)?.found[0];
    expect(last?.quality).toBeLessThan(TRUSTED);
    expect(last?.reason).toBe('left');
  });

  it.each(shareOf([2, 2.4, 4]))('on a straight edge, where grain of %f grey levels alone tells how far along they are, are never trusted', async (noise) => {
    const surface = noiseSurface(5, 3.5);
    const filmed = (detail: number) => {
      const edge = (x: number, y: number) => (x < 150 ? 60 : 170) + detail * surface(x, y);
      return Array.from({ length: 10 }, (_, f) => asFilmed(seenThrough(edge, translation(0.8 * f, 1.7 * f), SIZE), { noise, seed: f + 1 }));
    };
    const reasons = (await follow(filmed(0.02), [point(150, 100)])).map(({ found: [{ quality, reason }] }) => (quality < TRUSTED ? reason : null));
    expect(reasons).not.toContain(null);
    expect(reasons).toContain('plain');
    // Where there is some detail along it they are.
    for (const { frame, found } of await follow(filmed(0.35), [point(150, 100)])) {
      expect(found[0].quality).toBeGreaterThanOrEqual(TRUSTED);
      expect(Math.abs(applyTo(found[0].homography, 0, 0)[1] - 100 - 1.7 * frame)).toBeLessThan(1);
    }
  });

  it('are followed backwards as well, and in a shot of one frame nowhere', async () => {
    const motion = (f: number) => translation(-2 * f, f);
    const pictures = film(motion, 10);
    const steps = await follow(pictures, [point(140, 109)], 9, 0);
    expect(steps.map((s) => s.frame)).toEqual([8, 7, 6, 5, 4, 3, 2, 1, 0]);
    const [x, y] = applyTo(steps[8].found[0].homography, 0, 0);
    expect(Math.hypot(x - 158, y - 100)).toBeLessThan(0.2);
    expect(await follow(pictures.slice(0, 1), [point(140, 100)], 0, 0)).toEqual([]);
  });
});

describe('two that are tracked at the same time', () => {
  const films = [film((f) => translation(3 * f, f), 8), film((f) => translation(-2 * f, 2 * Math.sin(f)), 8)];
  const tasks = [[point(120, 90), whole('affine')], [point(200, 120)]];

  it('know nothing of each other, also where one was left off before', async () => {
    const alone = [];
    for (const [i, pictures] of films.entries()) alone.push(await follow(pictures, tasks[i]));
    for await (const _ of trackTowards(async (f) => films[1][f], tasks[1], 0, 7)) break;
    const runs = films.map((pictures, i) => trackTowards(async (f) => pictures[f], tasks[i], 0, 7));
    for (let frame = 1; frame < 8; frame++)
      for (const [i, run] of runs.entries()) {
        const { value } = await run.next();
        expect(value).toEqual(alone[i][frame - 1]);
      }
    for (const run of runs) expect((await run.next()).done).toBe(true);
  });

  it('is told where a picture has another size than the first', async () => {
    const other = { width: 200, height: 100, data: new Float32Array(20000) };
    await expect(follow([films[0][0], other], tasks[1])).rejects.toThrow('another size');
    // What comes after it is as ever.
    expect((await follow(films[0], [point(120, 90)])).at(-1)?.found[0].reason).toBeNull();
  });
});

describe('a region', () => {
  const MOTIONS: Record<MotionModel, (f: number) => Homography> = {
    move: (f) => translation(2.5 * f, f),
    similarity: (f) => multiply(translation(f, f / 2), about(140, 100, turned(0.025 * f, 1 + 0.02 * f))),
    affine: (f) => multiply(translation(f, 0), about(140, 100, [1 + 0.012 * f, 0.008 * f, 0, -0.004 * f, 1 - 0.006 * f, 0, 0, 0, 1])),
    perspective: (f) => multiply(translation(f, 0), about(140, 100, [1 + 0.006 * f, 0.004 * f, 0, -0.003 * f, 1 + 0.008 * f, 0, 0.00008 * f, -0.00005 * f, 1])),
  };
  it.each(MOTION_MODELS)('moves by its model to within a fifth of a pixel at every corner: %s', async (model) => {
    const pictures = film(MOTIONS[model], 16);
    const task = whole(model);
    for (const { frame, found } of await follow(pictures, [task])) {
      expect(found[0].quality).toBeGreaterThan(0.8);
      expect(cornersOff(task.area, found[0].homography, MOTIONS[model](frame))).toBeLessThan(0.2);
    }
  });

  it('holds while something passes over a quarter of it, and a highlight over another part', async () => {
    const motion = MOTIONS.perspective;
    const other = noiseSurface(77, 4);
    const pictures = film(motion, 16).map(({ width, height, data }, f) => {
      const out = data.slice();
      for (let y = 0; y < height; y++)
        for (let x = 0; x < width; x++) {
          if (Math.abs(x - 60 - 8 * f) < 13) out[y * width + x] = other(x - 8 * f, y);
          if ((x - 160 - f) ** 2 + (y - 80) ** 2 < 120) out[y * width + x] = 250;
        }
      return { width, height, data: out };
    });
    const task = whole('perspective');
    for (const { frame, found } of await follow(pictures, [task])) {
      expect(found[0].quality).toBeGreaterThanOrEqual(TRUSTED);
      // A corner behind it hangs on the rest; once it has passed, all of them are as near as ever.
      expect(cornersOff(task.area, found[0].homography, motion(frame))).toBeLessThan(frame < 8 ? 3 : frame < 10 ? 1 : 0.3);
    }
  });

  it('is nothing with fewer than sixteen pixels', () => {
    expect(regionArea(fillPolylines([Float64Array.from([5, 5, 8, 5, 8, 8])], 320, 200), [])).toBeNull();
  });
});

describe('homographies', () => {
  it('undo each other when one is the inverse of the other', () => {
    const m: Homography = [1.1, 0.05, 20, -0.04, 0.95, 8, 0.0002, -0.0001, 1];
    const [x, y] = applyTo(multiply(inverseOf(m) as number[], m), 321, 123);
    expect([x, y]).toEqual([expect.closeTo(321, 6), expect.closeTo(123, 6)]);
    expect(inverseOf([1, 2, 3, 2, 4, 6, 0, 0, 1])).toBeNull();
  });
});

describe('files of points', () => {
  it.each([
    ['nothing to track', { version: 1 }],
    [
      'a region of two points',
      {
        version: 1,
        region: {
          frame: 0,
          polygon: [
            [0, 0],
            [5, 5],
          ],
        },
      },
    ],
    [
      'two points of one name',
      {
        version: 1,
        points: [
          { id: 'a', frame: 0, x: 1, y: 1 },
          { id: 'a', frame: 0, x: 2, y: 2 },
        ],
      },
    ],
    ['another version', { version: 2, points: [{ id: 'a', frame: 0, x: 1, y: 1 }] }],
  ])('are refused: %s', (_name, value) => {
    expect(() => pointsFromFile(value)).toThrow();
  });
});
