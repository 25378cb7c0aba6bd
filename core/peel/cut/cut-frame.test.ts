import { describe, expect, it } from 'vitest';
import { randomFrom } from '../../math/random.ts';
import { density, fitMixture } from '../colour/colour-model.ts';
import { prepareFrame } from '../motion/prepared-frame.ts';
import { halvedFrame, labOf, labPicture } from '../picture/lab.ts';
import { eachComponent } from '../picture/masks.ts';
import { maskDistance } from '../picture/signed-distance.ts';
import { CUT_SETTINGS } from '../settings.ts';
import { DROP, KEEP, type PaintedStroke, paintStrokes } from '../strokes/strokes.ts';
import { cutFrame as cut } from './cut-frame.ts';

const [WIDTH, HEIGHT] = [200, 140];
const inRing = (x: number, y: number) => Math.hypot(x - 100, y - 70) < 45 && Math.hypot(x - 100, y - 70) > 18;
const second = (x: number, y: number) => Math.hypot(x - 20, y - 120) < 10;

/** A sandy ring with a hole, and a piece of the same sand elsewhere, on speckled blue. */
function picture() {
  const random = randomFrom(4);
  const data = new Uint8Array(4 * WIDTH * HEIGHT);
  for (let y = 0; y < HEIGHT; y++)
    for (let x = 0; x < WIDTH; x++) {
      const n = 24 * (random() - 0.5);
      const sand = inRing(x, y) || second(x, y);
      data.set(sand ? [190 + n, 150 + n, 90 + n, 255] : [50 + n, 80 + n, 130 + n, 255], 4 * (y * WIDTH + x));
    }
  return { width: WIDTH, height: HEIGHT, data };
}
const truth = Uint8Array.from({ length: WIDTH * HEIGHT }, (_, i) => (inRing(i % WIDTH, Math.floor(i / WIDTH)) ? 1 : 0));
const wrong = (mask: Uint8Array) => mask.reduce((sum, m, i) => sum + (m !== truth[i] ? 1 : 0), 0);
const onRing: PaintedStroke = { kind: 'keep', radius: 4, points: [70, 60, 72, 90] };
const around: PaintedStroke = { kind: 'drop', radius: 3, points: [40, 15, 160, 15, 160, 130, 60, 130] };
const paint = (strokes: PaintedStroke[]) => paintStrokes(strokes, { width: WIDTH, height: HEIGHT, scaleX: 1, scaleY: 1 });

const cutFrame = (...how: Parameters<typeof cut>) => cut(...how).mask;

describe('cutFrame', () => {
  const frame = prepareFrame(picture());

  it('finds the subject with its hole to the pixel, and drops a piece that no keep stroke touches', () => {
    expect(wrong(cutFrame(frame, paint([onRing, around]), 2))).toBeLessThan(30);
  });

  it('lets separate pieces stay where that is wished', () => {
    const mask = cutFrame(frame, paint([onRing, around]), 2, { ...CUT_SETTINGS, separatePieces: true });
    expect(mask[120 * WIDTH + 20]).toBe(1);
  });

  it('fills holes below the wished size, but none that is painted as dropped', () => {
    const filled = { ...CUT_SETTINGS, holes: 2000 };
    expect(cutFrame(frame, paint([onRing, around]), 2, filled)[70 * WIDTH + 100]).toBe(1);
    const dot: PaintedStroke = { kind: 'drop', radius: 3, points: [100, 70] };
    expect(cutFrame(frame, paint([onRing, around, dot]), 3, filled)[70 * WIDTH + 100]).toBe(0);
  });

  it('holds to what is painted, pixel by pixel, also against the colours', () => {
    const strokes: PaintedStroke[] = [onRing, around, { kind: 'keep', radius: 3, points: [140, 40] }, { kind: 'drop', radius: 2, points: [130, 70] }];
    const seeds = paint(strokes);
    const mask = cutFrame(frame, seeds, strokes.length);
    for (let i = 0; i < seeds.length; i++) if (seeds[i] !== 0) expect(mask[i]).toBe(seeds[i] === KEEP ? 1 : 0);
  });

  it('is made no worse by more strokes that are right', () => {
    let before = wrong(cutFrame(frame, paint([onRing, around]), 2));
    const more: PaintedStroke[] = [onRing, around];
    for (let k = 0; k < 12; k++) {
      const a = (k / 12) * 2 * Math.PI;
      more.push({ kind: 'keep', radius: 3, points: [100 + 32 * Math.cos(a), 70 + 32 * Math.sin(a)] });
      const now = wrong(cutFrame(frame, paint(more), more.length));
      // A thousandth of the subject's area.
      expect(now).toBeLessThanOrEqual(before + 6);
      before = Math.min(before, now);
    }
  });

  it('cuts anew within the reach of a stroke alone, and there as if all were cut', () => {
    const stroke = paint([{ kind: 'drop', radius: 3, points: [138, 60, 138, 80] }]);
    const seeds = paint([onRing, around]).map((v, i) => stroke[i] || v);
    const before = { mask: new Uint8Array(WIDTH * HEIGHT).fill(1), stroke, leans: false, teaches: false };
    const all = cutFrame(frame, seeds, 8, CUT_SETTINGS, { ...before, reach: Number.POSITIVE_INFINITY });
    const near = cutFrame(frame, seeds, 8, CUT_SETTINGS, { ...before, reach: 12 });
    expect(all.includes(0)).toBe(true);
    // The stroke covers 135 to 141 across and 57 to 83 down.
    const within = (x: number, y: number) => x >= 135 - 12 && x < 141 + 12 && y >= 57 - 12 && y < 83 + 12;
    expect(near).toEqual(all.map((v, i) => (within(i % WIDTH, Math.floor(i / WIDTH)) ? v : 1)));
  });

  it('is empty where nothing is kept', () => {
    expect(cutFrame(frame, paint([around]), 1).every((m) => m === 0)).toBe(true);
  });
});

describe('strokes', () => {
  it('cover round dots and capsules, the later ones over the earlier, and nothing outside the picture', () => {
    const seeds = paintStrokes(
      [
        { kind: 'keep', radius: 3, points: [2, 10, 17, 10] },
        { kind: 'drop', radius: 2, points: [10, 10] },
        { kind: 'keep', radius: 5, points: [-90, -90] },
      ],
      { width: 20, height: 20, scaleX: 1, scaleY: 1 },
    );
    for (let y = 0; y < 20; y++)
      for (let x = 0; x < 20; x++) {
        const along = Math.max(2, Math.min(17, x + 0.5));
        const kept = Math.hypot(x + 0.5 - along, y + 0.5 - 10) <= 3;
        const dropped = Math.hypot(x + 0.5 - 10, y + 0.5 - 10) <= 2;
        expect(seeds[y * 20 + x]).toBe(dropped ? DROP : kept ? KEEP : 0);
      }
  });

  it('cover at least a pixel however small the picture is', () => {
    expect(
      paintStrokes([{ kind: 'keep', radius: 1, points: [960, 540] }], { width: 96, height: 54, scaleX: 0.05, scaleY: 0.05 }).filter((s) => s === KEEP).length,
    ).toBeGreaterThan(0);
  });
});

describe('colours', () => {
  it('are L*a*b* as the standard has them', () => {
    const out = new Float32Array(3);
    for (const [rgb, lab] of [
      [
        [255, 255, 255],
        [100, 0, 0],
      ],
      [
        [0, 0, 0],
        [0, 0, 0],
      ],
      [
        [255, 0, 0],
        [53.24, 80.09, 67.2],
      ],
      [
        [0, 0, 255],
        [32.3, 79.19, -107.86],
      ],
      [
        [12, 20, 9],
        [5.4, -4.81, 4.31],
      ],
    ]) {
      labOf(rgb[0], rgb[1], rgb[2], out, 0);
      for (let c = 0; c < 3; c++) expect(Math.abs(out[c] - lab[c])).toBeLessThan(c === 0 ? 0.15 : 0.5);
    }
  });

  it.each([
    [5, 4],
    [2, 2],
    [23, 7],
    [1, 9],
  ])('are halved to means of squares, from %i by %i', (width, height) => {
    const random = randomFrom(width);
    const data = Uint8Array.from({ length: 4 * width * height }, () => 256 * random());
    const half = halvedFrame({ width, height, data });
    if (width === 1) return expect(half.data).toBe(data);
    expect([half.width, half.height]).toEqual([width >> 1, height >> 1]);
    const want = Array.from({ length: 4 * half.width * half.height }, (_, k) => {
      const [c, x, y] = [k % 4, Math.floor(k / 4) % half.width, Math.floor(k / 4 / half.width)];
      const at = (u: number, v: number) => data[4 * ((2 * y + v) * width + 2 * x + u) + c];
      return Math.floor((at(0, 0) + at(1, 0) + at(0, 1) + at(1, 1) + 2) / 4);
    });
    expect([...half.data]).toEqual(want);
  });

  it('have the same colours all at once as one by one', () => {
    const random = randomFrom(4);
    const data = Uint8Array.from({ length: 4 * 37 * 3 }, (_, i) => (i < 8 ? 0 : i < 16 ? 255 : 256 * random()));
    const { lab, cell } = labPicture({ width: 37, height: 3, data });
    const own = new Float32Array(3);
    for (let i = 0; i < 37 * 3; i++) {
      labOf(data[4 * i], data[4 * i + 1], data[4 * i + 2], own, 0);
      for (let c = 0; c < 3; c++) expect(Math.abs(lab[3 * i + c] - own[c])).toBeLessThan(0.05);
      expect(cell[i]).toBe(((data[4 * i] >> 3) << 10) | ((data[4 * i + 1] >> 3) << 5) | (data[4 * i + 2] >> 3));
    }
  });

  it('make a mixture whose density is that of its samples', () => {
    const random = randomFrom(9);
    const gauss = () => Math.sqrt(-2 * Math.log(1 - random())) * Math.cos(2 * Math.PI * random());
    const samples = Float32Array.from({ length: 3 * 1200 }, (_, i) => (i < 1800 ? 20 : 70) + 3 * gauss());
    const mixture = fitMixture(samples, 2);
    const variance = 9 + 4;
    const peak = 0.5 / (2 * Math.PI * variance) ** 1.5;
    expect(density(mixture, 20, 20, 20) / peak).toBeCloseTo(1, 0);
    expect(density(mixture, 70, 70, 70) / peak).toBeCloseTo(1, 0);
    expect(density(mixture, 45, 45, 45) / peak).toBeLessThan(1e-6);
  });
});

describe('masks', () => {
  const random = randomFrom(11);
  const mask = Uint8Array.from({ length: 31 * 23 }, () => (random() < 0.08 ? 1 : 0));

  it('come in pieces that together are all of them', () => {
    const seen = new Uint8Array(mask.length);
    eachComponent(mask, 31, 23, 1, (pixels) => {
      for (const i of pixels) seen[i]++;
    });
    expect(seen).toEqual(mask);
  });

  it('have distances close to the true ones, on both sides', () => {
    const disc = Uint8Array.from({ length: 101 * 101 }, (_, i) => (Math.hypot((i % 101) - 50, Math.floor(i / 101) - 50) < 30 ? 1 : 0));
    const d = maskDistance(disc, 101, 101, 20);
    for (let i = 0; i < d.length; i++) {
      const exact = Math.max(-20, Math.min(20, 30 - Math.hypot((i % 101) - 50, Math.floor(i / 101) - 50)));
      expect(Math.abs(d[i] - exact)).toBeLessThan(2);
      expect(d[i] > 0).toBe(disc[i] === 1);
    }
  });
});
