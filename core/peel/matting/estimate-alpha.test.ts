import { describe, expect, it } from 'vitest';
import { randomFrom } from '../../math/random.ts';
import { labPicture } from '../picture/lab.ts';
import { estimateEdgeAlpha, estimateZoneAlpha } from './estimate-alpha.ts';
import { finishedAlpha, settledMask } from './soft-edge.ts';

const [WIDTH, HEIGHT] = [220, 160];
type Colour = [number, number, number];
const WARM: Colour = [200, 140, 80];
const COLD: Colour = [60, 80, 120];

/** A disc of 46 pixels with this alpha round its edge (by distance outwards and angle), before a ground, with grain. */
function scene(edge: (out: number, angle: number) => number, inside = WARM, outside = COLD, grain = 8) {
  const random = randomFrom(4);
  const data = new Uint8Array(4 * WIDTH * HEIGHT);
  const alpha = new Float32Array(WIDTH * HEIGHT);
  for (let i = 0; i < alpha.length; i++) {
    const [x, y] = [(i % WIDTH) + 0.5 - WIDTH / 2, Math.floor(i / WIDTH) + 0.5 - HEIGHT / 2];
    alpha[i] = Math.max(0, Math.min(1, edge(Math.hypot(x, y) - 46, Math.atan2(y, x))));
    const n = grain * (random() - 0.5);
    for (let c = 0; c < 3; c++) data[4 * i + c] = outside[c] + (inside[c] - outside[c]) * alpha[i] + n;
    data[4 * i + 3] = 255;
  }
  return { picture: labPicture({ width: WIDTH, height: HEIGHT, data }), alpha, mask: Uint8Array.from(alpha, (a) => (a > 0.5 ? 1 : 0)) };
}

const error = (of: Float32Array, truth: Float32Array) => of.reduce((s, v, i) => s + Math.abs(v - truth[i]), 0);
const crisp = (out: number) => 0.5 - out;
/** Strands that thin out over sixteen pixels. */
const hair = (out: number, angle: number) => Math.max(0.5 - out, out < 16 ? (1 - out / 16) * (Math.sin(40 * angle) > 0.2 ? 0.9 : 0) : 0);

describe('unmixing', () => {
  it('finds the alpha of a plain edge to a third of the error of the mask, also where the mask is a pixel off', () => {
    const { picture, alpha, mask } = scene(crisp);
    const large = scene((out) => 0.5 - (out - 1.2)).mask;
    for (const m of [mask, large]) {
      const found = finishedAlpha(m, picture, null);
      expect(error(found, alpha)).toBeLessThan(error(Float32Array.from(mask), alpha) / 3);
    }
  });

  it('finds how translucent strands are, found out to their tips, by the colours of what they grow from', () => {
    // Twelve of them, eight to ten pixels wide, that fade out.
    const strands = (out: number, angle: number) => {
      const off = (46 + out) * (((angle + Math.PI) % (Math.PI / 6)) - Math.PI / 12);
      return Math.max(crisp(out), out < 22 && Math.abs(off) < 4.5 ? 1 - out / 22 : 0);
    };
    const { picture, alpha } = scene(strands);
    const mask = Uint8Array.from(alpha, (a) => (a > 0.15 ? 1 : 0));
    const found = finishedAlpha(mask, picture, null);
    expect(error(found, alpha)).toBeLessThan(error(Float32Array.from(mask), alpha) / 3);
  });

  it('finds half of hair and more where the edge is called soft', () => {
    const { picture, alpha, mask } = scene(hair);
    const zone = Uint8Array.from(alpha, (_, i) => {
      const out = Math.hypot((i % WIDTH) + 0.5 - WIDTH / 2, Math.floor(i / WIDTH) + 0.5 - HEIGHT / 2) - 46;
      return out > -4 && out < 19 ? 1 : 0;
    });
    const found = finishedAlpha(mask, picture, zone);
    expect(error(found, alpha)).toBeLessThan(error(Float32Array.from(mask), alpha) / 3);
    expect(error(found, alpha)).toBeLessThan(error(finishedAlpha(mask, picture, null), alpha) / 2);
  });

  it('finds the alpha of blur in the zone, and changes nothing elsewhere', () => {
    const { picture, alpha, mask } = scene((out) => 0.5 - out / 9);
    const zone = Uint8Array.from(alpha, (_, i) => (i % WIDTH > 130 ? 1 : 0));
    const settled = settledMask(mask, picture);
    const found = settled.slice();
    estimateZoneAlpha(found, mask, zone, picture);
    const right = (data: Float32Array) => data.map((v, i) => (i % WIDTH > 136 ? v : 0));
    expect(error(right(found), right(alpha))).toBeLessThan(error(right(settled), right(alpha)) / 3);
    for (let i = 0; i < found.length; i++) if (i % WIDTH < 126) expect(found[i]).toBe(settled[i]);
  });

  it('leaves an edge alone between colours that are alike, and where there is nothing', () => {
    const alike = scene(crisp, [92, 100, 112], [84, 96, 110], 40);
    const settled = settledMask(alike.mask, alike.picture);
    const found = settled.slice();
    estimateEdgeAlpha(found, alike.mask, alike.picture);
    expect(found).toEqual(settled);
    const nothing = new Float32Array(WIDTH * HEIGHT);
    estimateEdgeAlpha(nothing, new Uint8Array(WIDTH * HEIGHT), alike.picture);
    estimateZoneAlpha(nothing, alike.mask, new Uint8Array(WIDTH * HEIGHT), alike.picture);
    expect(nothing.every((v) => v === 0)).toBe(true);
  });
});
