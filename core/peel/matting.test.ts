import { describe, expect, it } from 'vitest';
import { randomFrom } from '../math/random.ts';
import { labPicture } from './lab.ts';
import { guidedAlpha, solveSoftZone } from './matting.ts';
import { settledMask } from './soft-edge.ts';

/** A disc on a ground, its edge as soft as `width` pixels, with grain; and its alpha. */
function softDisc(size: { width: number; height: number }, radius: number, softness: number) {
  const { width, height } = size;
  const random = randomFrom(4);
  const data = new Uint8Array(4 * width * height);
  const alpha = new Float32Array(width * height);
  for (let i = 0; i < alpha.length; i++) {
    const d = radius - Math.hypot((i % width) + 0.5 - width / 2, Math.floor(i / width) + 0.5 - height / 2);
    alpha[i] = Math.max(0, Math.min(1, 0.5 + d / softness));
    const n = 8 * (random() - 0.5);
    for (let c = 0; c < 3; c++) data[4 * i + c] = [60, 80, 120][c] + ([200, 150, 90][c] - [60, 80, 120][c]) * alpha[i] + n;
    data[4 * i + 3] = 255;
  }
  return { picture: labPicture({ ...size, data }), alpha, mask: Uint8Array.from(alpha, (a) => (a > 0.5 ? 1 : 0)) };
}

describe('guidedAlpha', () => {
  it('is what least squares in every window give, by a plain twin', () => {
    const [width, height, radius] = [22, 17, 2];
    const { picture, mask } = softDisc({ width, height }, 6, 5);
    const fast = guidedAlpha(mask, picture, radius);
    const colour = (i: number) => [picture.lab[3 * i] / 100, picture.lab[3 * i + 1] / 100, picture.lab[3 * i + 2] / 100];
    const around = (i: number) => {
      const [x, y] = [i % width, Math.floor(i / width)];
      const out: number[] = [];
      for (let v = Math.max(0, y - radius); v <= Math.min(height - 1, y + radius); v++)
        for (let u = Math.max(0, x - radius); u <= Math.min(width - 1, x + radius); u++) out.push(v * width + u);
      return out;
    };
    // In each window: the ridge regression of the mask on colour, by Gaussian elimination.
    const lines = Array.from({ length: width * height }, (_, i) => {
      const window = around(i);
      const n = window.length;
      const mean = [0, 1, 2].map((c) => window.reduce((s, j) => s + colour(j)[c], 0) / n);
      const meanMask = window.reduce((s, j) => s + mask[j], 0) / n;
      const rows = [0, 1, 2].map((r) => [
        ...[0, 1, 2].map((c) => window.reduce((s, j) => s + (colour(j)[r] - mean[r]) * (colour(j)[c] - mean[c]), 0) / n + (r === c ? 1e-4 : 0)),
        window.reduce((s, j) => s + (colour(j)[r] - mean[r]) * (mask[j] - meanMask), 0) / n,
      ]);
      for (let k = 0; k < 3; k++)
        for (let r = 0; r < 3; r++) {
          if (r === k) continue;
          const f = rows[r][k] / rows[k][k];
          for (let c = k; c < 4; c++) rows[r][c] -= f * rows[k][c];
        }
      const slope = rows.map((row, k) => row[3] / row[k]);
      return { slope, base: meanMask - slope.reduce((s, v, c) => s + v * mean[c], 0) };
    });
    for (let i = 0; i < width * height; i++) {
      const window = around(i);
      const value = window.reduce((s, j) => s + lines[j].base + lines[j].slope.reduce((t, v, c) => t + v * colour(i)[c], 0), 0) / window.length;
      expect(Math.abs(fast[i] - Math.max(0, Math.min(1, value)))).toBeLessThan(2e-3);
    }
  });
});

describe('solveSoftZone', () => {
  const size = { width: 200, height: 160 };
  const { picture, alpha, mask } = softDisc(size, 48, 7);
  const error = (of: Float32Array, where: (i: number) => boolean) => of.reduce((s, v, i) => s + (where(i) ? Math.abs(v - alpha[i]) : 0), 0);
  const zone = Uint8Array.from({ length: size.width * size.height }, (_, i) => (i % size.width > 120 ? 1 : 0));

  it('finds the alpha of a blurred edge there, to a third of the error of the settled mask, and changes nothing elsewhere', () => {
    const settled = settledMask(mask, picture);
    const solved = settled.slice();
    solveSoftZone(solved, mask, zone, picture);
    const inZone = (i: number) => i % size.width > 126;
    expect(error(solved, inZone)).toBeLessThan(error(settled, inZone) / 3);
    for (let i = 0; i < solved.length; i++) if (i % size.width < 116) expect(solved[i]).toBe(settled[i]);
  });

  it('does nothing where the zone is empty', () => {
    const settled = settledMask(mask, picture);
    const solved = settled.slice();
    solveSoftZone(solved, mask, new Uint8Array(zone.length), picture);
    expect(solved).toEqual(settled);
  });
});
