import { describe, expect, it } from 'vitest';
import { asFilmed, noiseSurface, seenThrough } from '../../tests/warped.ts';
import { applyTo, type Homography, multiply, translation } from '../math/homography.ts';
import { fillPolylines } from '../path/fill.ts';
import { cornersAt, regionArea } from './area.ts';
import { featuresOf, motionOfFeatures } from './features.ts';
import { pyramidOf } from './pyramid.ts';
import { trackTowards } from './track-shot.ts';

const SIZE = { width: 420, height: 300 };
const surface = noiseSurface(21, 5);
const turned = (by: number, k: number): Homography => [Math.cos(by) * k, -Math.sin(by) * k, 0, Math.sin(by) * k, Math.cos(by) * k, 0, 0, 0, 1];
/** About the middle of what is followed. */
const jump = multiply(translation(205, 178), multiply(turned(0.9, 1.2), translation(-140, -140)));
const filmed = (motion: Homography, seed: number) => asFilmed(seenThrough(surface, motion, SIZE), { seed, gain: 0.9 });
/** As trackers look at it. */
const seen = (motion: Homography, seed: number) => pyramidOf(filmed(motion, seed)).image(0);
const QUAD = [100, 100, 180, 100, 180, 180, 100, 180];
const all = { left: 0, top: 0, right: SIZE.width, bottom: SIZE.height };

describe('features', () => {
  const [a, b] = [seen(translation(0, 0), 1), seen(jump, 2)];
  const inside = (x: number, y: number) => x > 100 && x < 180 && y > 100 && y < 180;

  it('of a piece lie in it, and their pairs tell how it moved, turned and grew', () => {
    const from = featuresOf(a, all, 60, inside);
    expect(from.length).toBeGreaterThan(20);
    for (const f of from) expect(inside(f.x, f.y)).toBe(true);
    const motion = motionOfFeatures(from, featuresOf(b, all, 600)) as Homography;
    for (let k = 0; k < QUAD.length; k += 2) {
      const [x, y] = applyTo(motion, QUAD[k], QUAD[k + 1]);
      const [u, v] = applyTo(jump, QUAD[k], QUAD[k + 1]);
      expect(Math.hypot(x - u, y - v)).toBeLessThan(2);
    }
  });

  it('of another picture tell nothing', () => {
    const other = seenThrough(noiseSurface(99, 5), translation(0, 0), SIZE);
    expect(motionOfFeatures(featuresOf(a, all, 60, inside), featuresOf(other, all, 600))).toBeNull();
    expect(featuresOf({ ...SIZE, data: new Float32Array(SIZE.width * SIZE.height).fill(80) }, all, 60)).toEqual([]);
    expect(featuresOf(a, { left: 0, top: 0, right: 8, bottom: 8 }, 60)).toEqual([]);
  });

  it('find a region again that jumped, turned and grew at once', async () => {
    const area = regionArea(fillPolylines([Float64Array.from(QUAD)], SIZE.width, SIZE.height), QUAD);
    if (!area) throw new Error('There is no area.');
    const film = [filmed(translation(0, 0), 1), filmed(translation(1, 0), 3), filmed(jump, 2), filmed(multiply(translation(2, 1), jump), 4)];
    const found: number[] = [];
    for await (const step of trackTowards(async (f) => film[f], [{ area, region: true, model: 'perspective', search: 100 }], 0, 3)) {
      const [{ homography, quality }] = step.found;
      if (step.frame < 2) continue;
      expect(quality, `frame ${step.frame}`).toBeGreaterThan(0.5);
      const truth = step.frame === 2 ? jump : multiply(translation(2, 1), jump);
      const corners = cornersAt(area, homography);
      for (let k = 0; k < QUAD.length; k += 2) {
        const [u, v] = applyTo(truth, QUAD[k], QUAD[k + 1]);
        found.push(Math.hypot(corners[k] - u, corners[k + 1] - v));
      }
    }
    expect(Math.max(...found)).toBeLessThan(0.5);
  });
});
