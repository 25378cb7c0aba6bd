import { describe, expect, it } from 'vitest';
import { featherProfile } from '../../tests/feather-profile.ts';
import type { Gray } from '../image/picture.ts';
import { fillPolylines } from '../path/fill.ts';
import { contourAt } from './contour.ts';
import { signedDistance } from './distance.ts';
import { type EdgeValues, finishEdge, PLAIN_EDGE } from './edge.ts';

const SIZE = 120;
const CX = 60.3;
const CY = 59.6;
const RADIUS = 30;

/** A disc by a polygon of so many corners that it is one to a thousandth of a pixel. */
function disc(radius = RADIUS, cx = CX, cy = CY): Gray {
  const n = 1500;
  const p = new Float64Array(2 * n);
  for (let i = 0; i < n; i++) {
    p[2 * i] = cx + radius * Math.cos((i / n) * 2 * Math.PI);
    p[2 * i + 1] = cy + radius * Math.sin((i / n) * 2 * Math.PI);
  }
  return fillPolylines([p], SIZE, SIZE);
}

const toDiscEdge = (x: number, y: number, radius = RADIUS): number => radius - Math.sqrt((x + 0.5 - CX) ** 2 + (y + 0.5 - CY) ** 2);

/** Everything on one side of a slanting line. */
function halfPlane(): { matte: Gray; distance(x: number, y: number): number } {
  const angle = 0.4;
  const nx = Math.cos(angle);
  const ny = Math.sin(angle);
  const far = 500;
  const at = (along: number, out: number): [number, number] => [60 - ny * along + nx * out, 60 + nx * along + ny * out];
  const polygon = Float64Array.from([at(-far, 0), at(far, 0), at(far, -far), at(-far, -far)].flat());
  return { matte: fillPolylines([polygon], SIZE, SIZE), distance: (x, y) => -((x + 0.5 - 60) * nx + (y + 0.5 - 60) * ny) };
}

describe('signedDistance', () => {
  it('is the distance to a disc within a twentieth of a pixel, clamped to the reach', () => {
    const reach = 14;
    const field = signedDistance(disc(), 0.5, reach);
    if (!field) throw new Error('There is an outline.');
    for (let y = 0; y < field.height; y++)
      for (let x = 0; x < field.width; x++) {
        const exact = Math.max(-reach, Math.min(reach, toDiscEdge(x + field.left, y + field.top)));
        expect(Math.abs(field.data[y * field.width + x] - exact)).toBeLessThan(0.05);
      }
  });

  it.each([9, 40, 110])('agrees with a twin that asks every segment of the outline for every pixel, within %i pixels', (reach) => {
    const matte = fillPolylines([Float64Array.from([10.2, 12.4, 70.6, 20.1, 64.3, 50.8, 90.5, 80.2, 30.7, 101.3, 41.2, 60.6])], SIZE, SIZE);
    const field = signedDistance(matte, 0.5, reach);
    const { segments, count } = contourAt(matte, 0.5);
    if (!field) throw new Error('There is an outline.');
    for (let y = 0; y < field.height; y += 2)
      for (let x = 0; x < field.width; x += 2) {
        let nearest = reach * reach;
        for (let s = 0; s < count; s++) {
          const [ax, ay, bx, by] = segments.subarray(4 * s, 4 * s + 4);
          const px = x + field.left + 0.5;
          const py = y + field.top + 0.5;
          const length = (bx - ax) ** 2 + (by - ay) ** 2;
          const t = length > 0 ? Math.max(0, Math.min(1, ((px - ax) * (bx - ax) + (py - ay) * (by - ay)) / length)) : 0;
          nearest = Math.min(nearest, (px - ax - t * (bx - ax)) ** 2 + (py - ay - t * (by - ay)) ** 2);
        }
        expect(Math.abs(Math.abs(field.data[y * field.width + x]) - Math.sqrt(nearest))).toBeLessThan(0.03);
      }
  });

  it('comes to an end where many segments are equally near, as beside straight edges', () => {
    for (let k = 0; k < 60; k++) {
      const x = 20 + k * 0.37;
      const square = fillPolylines([Float64Array.from([x, 30.1, x + 50, 30.1, x + 50, 81.7, x, 81.7])], SIZE, SIZE);
      const field = signedDistance(square, 0.5, 9);
      if (!field) throw new Error('There is something inside.');
      for (let v = 0; v < field.height; v++)
        for (let u = 0; u < field.width; u++) {
          const [px, py] = [u + field.left + 0.5, v + field.top + 0.5];
          const inside = Math.min(px - x, x + 50 - px, py - 30.1, 81.7 - py);
          // Inside a square the nearest side is all there is; near its corners coverage cuts them a little.
          const besideCorner = Math.max(Math.min(px - x, x + 50 - px), Math.min(py - 30.1, 81.7 - py)) < 3;
          if (inside > 0.5 && inside < 8 && !besideCorner) expect(Math.abs(field.data[v * field.width + u] - inside)).toBeLessThan(0.06);
        }
    }
  });

  it('says that there is none where nothing is inside', () => {
    expect(signedDistance({ width: 8, height: 8, data: new Float32Array(64) }, 0.5, 5)).toBeNull();
  });
});

const finished = (matte: Gray, values: Partial<EdgeValues>): Gray => finishEdge(matte, { ...PLAIN_EDGE, ...values });

describe('finishEdge', () => {
  it('leaves a matte alone where nothing is asked for', () => {
    expect(finished(disc(), { grow: 0, featherIn: 0, featherOut: 0, falloff: 'smooth' })).toEqual(disc());
  });

  it.each(['linear', 'smooth', 'gaussian'] as const)('feathers a disc by its exact profile (%s)', (falloff) => {
    const { data } = finished(disc(), { grow: 2, featherIn: 5, featherOut: 8, falloff });
    for (let y = 0; y < SIZE; y++)
      for (let x = 0; x < SIZE; x++) {
        const exact = featherProfile(toDiscEdge(x, y) + 2, 5, 8, falloff);
        expect(Math.abs(data[y * SIZE + x] - exact)).toBeLessThan(2 / 255);
      }
  });

  it('feathers a half-plane by its exact profile, straight on over the border of the picture', () => {
    const { matte, distance } = halfPlane();
    const { data } = finished(matte, { grow: 0, featherIn: 6, featherOut: 6, falloff: 'linear' });
    for (let y = 0; y < SIZE; y++)
      for (let x = 0; x < SIZE; x++) expect(Math.abs(data[y * SIZE + x] - featherProfile(distance(x, y), 6, 6, 'linear'))).toBeLessThan(2 / 255);
  });

  it('grows and shrinks a disc to the disc of that radius', () => {
    for (const grow of [-7.5, 0.4, 11]) {
      const moved = finished(disc(), { grow, featherIn: 0, featherOut: 0, falloff: 'linear' }).data;
      const area = moved.reduce((a, b) => a + b, 0);
      expect(area / (Math.PI * (RADIUS + grow) ** 2)).toBeCloseTo(1, 2);
    }
  });

  it('keeps the edge of a subject that fades', () => {
    const faded = disc();
    for (let i = 0; i < faded.data.length; i++) faded.data[i] *= 0.3;
    const whole = finished(disc(), { grow: 0, featherIn: 4, featherOut: 4, falloff: 'smooth' }).data;
    const soft = finished(faded, { grow: 0, featherIn: 4, featherOut: 4, falloff: 'smooth' }).data;
    for (let i = 0; i < soft.length; i += 7) expect(soft[i]).toBeCloseTo(whole[i] * 0.3, 3);
  });

  it('fills rows that lie wholly inside, outside the box of distances', () => {
    const { matte } = halfPlane();
    const { data } = finished(matte, { grow: 0, featherIn: 2, featherOut: 2, falloff: 'linear' });
    expect(data[60 * SIZE]).toBe(1);
    expect(data[60 * SIZE + SIZE - 1]).toBe(0);
  });
});
