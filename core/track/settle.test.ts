import { describe, expect, it } from 'vitest';
import { asFilmed, noiseSurface } from '../../tests/warped.ts';
import type { Gray } from '../image/picture.ts';
import { flatten, type Shape } from '../path/path.ts';
import { edgeLooks, settled } from './settle.ts';

const SIZE = { width: 200, height: 160 };
const ground = noiseSurface(4, 9, 60);
const cloth = noiseSurface(8, 6, 80);
/** Where the outline of the thing lies in a direction: it bends by `by` pixels. */
const radius = (angle: number, by: number) => 46 + by * Math.cos(3 * angle);

function film(by: number, light = 1): Gray {
  const data = new Float32Array(SIZE.width * SIZE.height);
  for (let y = 0; y < SIZE.height; y++)
    for (let x = 0; x < SIZE.width; x++) {
      const [dx, dy] = [x + 0.5 - 100, y + 0.5 - 80];
      const inside = Math.max(0, Math.min(1, radius(Math.atan2(dy, dx), by) - Math.hypot(dx, dy) + 0.5));
      data[y * SIZE.width + x] = inside * (cloth(x, y) + 50) + (1 - inside) * (ground(x, y) - 40);
    }
  return asFilmed({ ...SIZE, data }, { noise: 1.5, gain: light });
}

/** Twelve smooth points on the outline of the undistorted thing. */
const round: Shape = Array.from({ length: 12 }, (_, i) => {
  const a = (i * Math.PI) / 6;
  const [c, s] = [Math.cos(a), Math.sin(a)];
  const k = 46 * (4 / 3) * Math.tan(Math.PI / 24);
  return { x: 100 + 46 * c, y: 80 + 46 * s, inX: s * k, inY: -c * k, outX: -s * k, outY: c * k };
});

/** Mean distance of the curve from the true outline. */
function off(shape: Shape, by: number): number {
  const p = flatten(shape, 1, 1, 0.2);
  let sum = 0;
  for (let i = 0; i < p.length; i += 2) sum += Math.abs(Math.hypot(p[i] - 100, p[i + 1] - 80) - radius(Math.atan2(p[i + 1] - 80, p[i] - 100), by));
  return sum / (p.length / 2);
}

describe('a curve that settles', () => {
  const looks = edgeLooks(film(0), round);

  it('bends with the outline it lay on, also in another light', () => {
    for (const light of [1, 0.75]) {
      expect(off(round, 3)).toBeGreaterThan(1.5);
      expect(off(settled(film(3, light), round, looks, { band: 5, strength: 1 }), 3)).toBeLessThan(0.6);
    }
  });

  it('stays where nothing bent, whichever way round it runs', () => {
    expect(off(settled(film(0), round, looks, { band: 5, strength: 1 }), 0)).toBeLessThan(0.3);
    const other = [...round].reverse().map((v) => ({ ...v, inX: v.outX, inY: v.outY, outX: v.inX, outY: v.inY }));
    expect(off(settled(film(3), other, edgeLooks(film(0), other), { band: 5, strength: 1 }), 3)).toBeLessThan(0.6);
  });

  it('goes as far as it is let: half the way at half the strength, nowhere at none, and never beyond the band', () => {
    const half = off(settled(film(3), round, looks, { band: 5, strength: 0.5 }), 3);
    expect(half).toBeGreaterThan(0.6);
    expect(half).toBeLessThan(1.4);
    expect(settled(film(3), round, looks, { band: 5, strength: 0 })).toBe(round);
    for (const [i, v] of settled(film(9), round, looks, { band: 2, strength: 1 }).entries())
      expect(Math.hypot(v.x - round[i].x, v.y - round[i].y)).toBeLessThanOrEqual(2.001);
  });

  it('finds nothing to settle on before a plain wall, and takes no other curve for it', () => {
    const plain: Gray = { ...SIZE, data: new Float32Array(SIZE.width * SIZE.height).fill(90) };
    for (const [i, v] of settled(plain, round, looks, { band: 5, strength: 1 }).entries()) expect([v.x, v.y]).toEqual([round[i].x, round[i].y]);
    expect(settled(film(3), round.slice(1), looks, { band: 5, strength: 1 })).toEqual(round.slice(1));
  });
});
