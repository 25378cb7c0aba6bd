/** The kernels of tracking against slow plain twins. */
import { describe, expect, it } from 'vitest';
import type { Gray } from '../image/picture.ts';
import { applyTo, type Homography, inverseOf, type MotionModel, multiply, normalised, translation } from '../math/homography.ts';
import { randomFrom } from '../math/random.ts';
import { solveSymmetric } from '../math/solve.ts';
import { align } from './align.ts';
import { alignerFor } from './aligner.ts';
import { pointArea } from './area.ts';
import { patternOf, smallMotion } from './pattern.ts';
import { pyramidOf } from './pyramid.ts';
import { CELLS, type Pattern } from './samples.ts';

const random = randomFrom(5);
const noise = (width: number, height: number): Gray => ({ width, height, data: Float32Array.from({ length: width * height }, () => 255 * random()) });
const pyramid = pyramidOf(noise(121, 83));
const area = pointArea(60, 40, 12);
/** Turned, and seen a little from the side; the second reaches over two borders of the picture. */
const PLACES: Homography[] = [
  [11.4, 3.1, 61.3, -2.7, 12.2, 39.6, 0.04, -0.03, 1],
  [12, 1, 5.2, -1, 12, 4.8, 0.02, 0.01, 1],
];

/** Bilinear at a place of a level, kept within it. */
function at({ width, height, data }: Gray, x: number, y: number): number {
  const [px, py] = [Math.max(0, Math.min(width - 1, x)), Math.max(0, Math.min(height - 1, y))];
  const [x0, y0] = [Math.min(width - 2, Math.floor(px)), Math.min(height - 2, Math.floor(py))];
  const [fx, fy] = [px - x0, py - y0];
  const p = (dx: number, dy: number) => data[(y0 + dy) * width + x0 + dx];
  return (p(0, 0) * (1 - fx) + p(1, 0) * fx) * (1 - fy) + (p(0, 1) * (1 - fx) + p(1, 1) * fx) * fy;
}
const on = (level: number, homography: Homography, u: number, v: number) => applyTo(homography, u, v).map((c) => c / 2 ** level - 0.5) as [number, number];

describe('the first picture', () => {
  it.each([
    [121, 83],
    [40, 3],
    [5, 17],
  ])('is smoothed by a gaussian of 0.8 pixels, cut at two, borders repeated, at %i by %i', (width, height) => {
    const picture = noise(width, height);
    const weights = [-2, -1, 0, 1, 2].map((d) => Math.exp(-(d * d) / (2 * 0.8 ** 2)));
    const total = weights.reduce((a, b) => a + b) ** 2;
    const within = (v: number, size: number) => Math.max(0, Math.min(size - 1, v));
    const got = pyramidOf(picture).image(0).data;
    expect(got.length).toBe(picture.data.length);
    for (let i = 0; i < got.length; i++) {
      let sum = 0;
      for (let v = -2; v <= 2; v++)
        for (let u = -2; u <= 2; u++)
          sum += weights[u + 2] * weights[v + 2] * picture.data[within(Math.floor(i / width) + v, height) * width + within((i % width) + u, width)];
      expect(got[i]).toBeCloseTo(sum / total, 3);
    }
  });
});

describe('smaller pictures', () => {
  it('are the means of four pixels each way by 1 3 3 1, borders repeated, also of odd sizes', () => {
    const [first, half] = [pyramid.image(0), pyramid.image(1)];
    expect([half.width, half.height]).toEqual([60, 41]);
    const w = [1, 3, 3, 1];
    for (const [x, y] of [
      [0, 0],
      [59, 40],
      [17, 23],
      [58, 3],
    ]) {
      let sum = 0;
      for (let j = 0; j < 4; j++)
        for (let i = 0; i < 4; i++) {
          const [sx, sy] = [Math.max(0, Math.min(120, 2 * x - 1 + i)), Math.max(0, Math.min(82, 2 * y - 1 + j))];
          sum += (w[i] * w[j] * first.data[sy * 121 + sx]) / 64;
        }
      expect(half.data[y * 60 + x]).toBeCloseTo(sum, 3);
    }
    expect(pyramid.sizes.map((_, k) => pyramid.image(k).width)).toEqual([121, 60, 30, 15]);
  });
});

describe.each([0, 1])('on level %i', (level) => {
  const samples = area.samples(2 ** level, 529, 0);
  const picture = pyramid.image(level);

  it('a pattern holds what is seen, its slopes, and only what lies in the picture', () => {
    for (const homography of PLACES) {
      const pattern = patternOf(pyramid, level, samples, homography);
      let k = 0;
      for (let s = 0; s < samples.u.length; s++) {
        const [u, v] = [samples.u[s], samples.v[s]];
        const [x, y] = on(level, homography, u, v);
        if (x < -0.5 || y < -0.5 || x > picture.width - 0.5 || y > picture.height - 0.5) continue;
        expect([pattern.u[k], pattern.v[k]]).toEqual([u, v]);
        expect(pattern.value[k]).toBeCloseTo(at(picture, x, y), 2);
        const [gx, gy] = [(at(picture, x + 1, y) - at(picture, x - 1, y)) / 2, (at(picture, x, y + 1) - at(picture, x, y - 1)) / 2];
        const e = 1e-5;
        const [xu, yu] = on(level, homography, u + e, v);
        const [xv, yv] = on(level, homography, u, v + e);
        expect(Math.abs(pattern.slopeU[k] - (gx * (xu - x) + gy * (yu - y)) / e)).toBeLessThan(0.5);
        expect(Math.abs(pattern.slopeV[k] - (gx * (xv - x) + gy * (yv - y)) / e)).toBeLessThan(0.5);
        k++;
      }
      expect(pattern.u.length).toBe(k);
      if (homography === PLACES[1]) expect(k).toBeLessThan(samples.u.length);
    }
  });

  it.each([2, 4, 6, 8])('a step of %i parameters has the sums that its definition gives', (parameters) => {
    const pattern = patternOf(pyramid, level, samples, PLACES[0]);
    for (const homography of PLACES) {
      const aligner = alignerFor(pattern, pyramid, level);
      const seen = Array.from(pattern.u, (u, k) => {
        const [x, y] = on(level, homography, u, pattern.v[k]);
        return x >= 0 && y >= 0 && x < picture.width - 1 && y < picture.height - 1 ? at(picture, x, y) : Number.NaN;
      });
      expect(aligner.look(homography)).toBe(seen.filter((s) => !Number.isNaN(s)).length);
      const [gain, offset, reach] = [1.3, -6, 150];
      const residual = seen.map((s, k) => (s - offset) / gain - pattern.value[k]);
      const got = aligner.residuals(gain, offset);
      for (const [k, r] of residual.entries()) Number.isNaN(r) ? expect(got[k]).toBeNaN() : expect(got[k]).toBeCloseTo(r, 2);
      const cells = Float32Array.from({ length: CELLS * CELLS }, (_, c) => (c % 3) / 2);
      const inlier = residual.map((r, k) => (Math.abs(r) < reach ? (1 - (r / reach) ** 2) ** 2 * cells[pattern.cell[k]] : 0));
      // On the very border of agreeing either may be.
      expect(Math.abs(aligner.weigh(reach, cells) - inlier.filter((i) => i > 0.25).length)).toBeLessThanOrEqual(1);
      const right = new Float64Array(10);
      const normal = new Float64Array(100);
      const total = aligner.sums(parameters, right, normal);
      const size = parameters + 2;
      const changes = pattern.u.length > 0 ? Array.from(pattern.u, (_, k) => changesOf(pattern, k, parameters)) : [];
      const sum = (of: (k: number) => number) => inlier.reduce((s, i, k) => (i > 0 ? s + pattern.weight[k] * i * of(k) : s), 0);
      expect(total / sum(() => 1)).toBeCloseTo(1, 4);
      for (let i = 0; i < size; i++) {
        const scale = sum((k) => Math.abs(changes[k][i] * residual[k])) + 1;
        expect((right[i] - sum((k) => changes[k][i] * residual[k])) / scale).toBeCloseTo(0, 4);
        for (let j = 0; j <= i; j++) {
          const most = sum((k) => Math.abs(changes[k][i] * changes[k][j])) + 1;
          expect((normal[i * size + j] - sum((k) => changes[k][i] * changes[k][j])) / most).toBeCloseTo(0, 4);
        }
      }
      // The light, by least squares.
      const weights = inlier.map((i, k) => (i > 0 ? i * pattern.weight[k] : 0));
      const light = aligner.light(true);
      const mean = (of: (k: number) => number) => weights.reduce((s, w, k) => (w > 0 ? s + w * of(k) : s), 0) / weights.reduce((a, b) => a + b, 0);
      const [mt, ms] = [mean((k) => pattern.value[k]), mean((k) => seen[k])];
      const own = mean((k) => (pattern.value[k] - mt) * (seen[k] - ms)) / mean((k) => (pattern.value[k] - mt) ** 2);
      expect(light.gain).toBeCloseTo(own, 3);
      expect(light.offset).toBeCloseTo(ms - own * mt, 1);
    }
  });
});

const MODELS: Record<number, MotionModel> = { 2: 'move', 4: 'similarity', 6: 'affine', 8: 'perspective' };

describe('asking for many moves at once', () => {
  const pattern = patternOf(pyramid, 0, area.samples(1, 529, 0), area.homography);
  const empty: Pattern = { ...pattern, ...Object.fromEntries(['u', 'v', 'weight', 'value', 'slopeU', 'slopeV'].map((k) => [k, new Float32Array(0)])) };
  const homography: Homography = [11.4, 3.1, 61.3, -2.7, 12.2, 39.6, 0.04, -0.03, 1];
  // More than go at once; the last ones lie half and wholly beside the picture.
  const moves = [...Array.from({ length: 3000 }, () => 30 * random() - 15), -60, 0, 70, 45, -80, 0, 0, 0];

  it('is as each of them looked at on its own', () => {
    const found = alignerFor(pattern, pyramid, 0).ask(homography, moves);
    let whole = 0;
    for (let i = 0; i < moves.length; i += 2) {
      const { plain, seen } = align(pattern, pyramid, 0, multiply(translation(moves[i], moves[i + 1]), homography), { model: 'move', rounds: 0, gain: 1 });
      expect(found[i]).toBeCloseTo(plain, 4);
      expect(found[i + 1]).toBeCloseTo(seen, 6);
      if (seen === 1) whole++;
    }
    expect(whole).toBeGreaterThan(1000);
    expect([...found.slice(-4, -2)]).toEqual([0, 0]);
  });

  it('finds nothing of a pattern without samples', () => {
    expect([...alignerFor(empty, pyramid, 0).ask(homography, [0, 0, 3, 1])]).toEqual([0, 0, 0, 0]);
  });
});

describe.each([2, 4, 6, 8])('a whole alignment by %i parameters', (parameters) => {
  const samples = area.samples(1, 529, 0);
  const pattern = patternOf(pyramid, 0, samples, PLACES[0]);
  const everything = new Float32Array(CELLS * CELLS).fill(1);
  const size = parameters + 2;
  // A little off, for one of them over the border of the picture.
  const starts = [multiply(translation(0.6, -0.4), PLACES[0]), multiply(translation(52, 0.5), PLACES[0])];

  it.each(starts)('takes the step that its sums make, and tells the light and how alike it is after it', (...start) => {
    const aligner = alignerFor(pattern, pyramid, 0);
    aligner.look(start);
    const known = aligner.light(false);
    const light = known.score > 0.3 ? known : { gain: 1, offset: 0 };
    const gain = Math.max(0.25, Math.min(4, light.gain));
    aligner.residuals(gain, light.offset);
    // Everything that is seen agrees.
    aligner.weigh(1e9, everything);
    const [right, normal] = [new Float64Array(10), new Float64Array(100)];
    const total = aligner.sums(parameters, right, normal);
    for (let i = 0; i < parameters; i++) normal[i * size + i] += 0.05 * total;
    normal[parameters * size + parameters] += 1e-3 * total;
    normal[size * size - 1] += 1e-9 * total;
    expect(solveSymmetric(normal, right, size)).toBe(true);
    const homography = normalised(multiply(start, inverseOf(smallMotion(MODELS[parameters], right)) as number[]));
    const seen = aligner.look(homography);
    aligner.residuals(1, 0);
    aligner.weigh(1e9, everything);

    const score = aligner.light(true).score;
    // The second time what the sums of its changes come to is known.
    for (let time = 0; time < 2; time++) {
      const found = alignerFor(pattern, pyramid, 0).align(start, 0, 0, parameters, 1, 0);
      expect(found.homography.map((v, i) => v - homography[i]).every((off) => Math.abs(off) < 1e-4)).toBe(true);
      expect(found.gain).toBeCloseTo(gain * (1 + right[parameters]), 4);
      expect(found.offset).toBeCloseTo(light.offset + gain * right[parameters + 1], 2);
      expect(found.inside).toBe(seen);
      expect(found.score).toBeCloseTo(score, 4);
    }
  });

  it('finds the way back', () => {
    const { homography, score } = alignerFor(pattern, pyramid, 0).align(starts[0], 0, 0, parameters, 30, 1e-3);
    const [x, y] = applyTo(homography, 0, 0);
    const [wantX, wantY] = applyTo(PLACES[0], 0, 0);
    expect(Math.hypot(x - wantX, y - wantY)).toBeLessThan(0.05);
    expect(score).toBeGreaterThan(0.99);
  });

  it('says that nothing was found where too little is seen', () => {
    for (const far of [500, 1e15, Number.NaN]) {
      const away = multiply(translation(far, -far), PLACES[0]);
      expect(alignerFor(pattern, pyramid, 0).align(away, 0, 0, parameters, 10, 1e-3)).toMatchObject({ score: null, inside: 0 });
    }
  });
});

/** The change of brightness of a sample for each parameter of a small motion, then for gain and offset. */
function changesOf({ u, v, slopeU, slopeV, value }: Pattern, k: number, parameters: number): number[] {
  const [a, b, s, t] = [u[k], v[k], slopeU[k], slopeV[k]];
  const motion: Record<number, number[]> = {
    2: [s, t],
    4: [s, t, s * a + t * b, t * a - s * b],
    6: [s, t, s * a, s * b, t * a, t * b],
    8: [s, t, s * a, s * b, t * a, t * b, -(s * a + t * b) * a, -(s * a + t * b) * b],
  };
  return [...motion[parameters], value[k], 1];
}
