import { describe, expect, it } from 'vitest';
import { randomFrom } from '../../math/random.ts';
import { borrowKernels } from '../../wasm/host.ts';
import { labPicture } from '../picture/lab.ts';
import { maskDistance } from '../picture/signed-distance.ts';
import { settleSources } from './edge-motion.ts';

const [WIDTH, HEIGHT] = [200, 150];
const FACTOR = 4;
const BOX = { left: 10, top: 8, width: 170, height: 130 };
/** A bar seven pixels wide that leans, moved by (dx, dy). */
const onBar = (x: number, y: number, dx: number, dy: number) => Math.abs(x - dx - 90 - 0.3 * (y - dy - 75)) < 3.5 && Math.abs(y - dy - 75) < 45;

/** The bar, with marks along it, before a plain ground. */
function picture(dx: number, dy: number, seed: number) {
  const random = randomFrom(seed);
  const data = new Uint8Array(4 * WIDTH * HEIGHT);
  for (let i = 0; i < WIDTH * HEIGHT; i++) {
    // From 4 by 4 places in each pixel, so that it moves by parts of one.
    const sum = [0, 0, 0];
    for (let k = 0; k < 16; k++) {
      const [x, y] = [(i % WIDTH) + ((k % 4) + 0.5) / 4, Math.floor(i / WIDTH) + (Math.floor(k / 4) + 0.5) / 4];
      const light = 30 * Math.sin((y - dy) / 3);
      const colour = onBar(x, y, dx, dy) ? [190 + light, 140 + light, 80] : [60, 80, 100];
      for (let c = 0; c < 3; c++) sum[c] += colour[c] / 16;
    }
    data.set([...sum.map((v) => v + 6 * (random() - 0.5)), 255], 4 * i);
  }
  return labPicture({ width: WIDTH, height: HEIGHT, data });
}
const boxOf = (p: ReturnType<typeof labPicture>) => ({
  width: BOX.width,
  height: BOX.height,
  lab: Float32Array.from({ length: 3 * BOX.width * BOX.height }, (_, i) => {
    const k = Math.floor(i / 3);
    return p.lab[3 * ((BOX.top + Math.floor(k / BOX.width)) * WIDTH + BOX.left + (k % BOX.width)) + (i % 3)];
  }),
  cell: new Uint16Array(BOX.width * BOX.height),
});

/** Where the middle of the bar came from, on each row of it, after a layer's motion of (gx, gy) was settled. */
function cameFrom(dx: number, dy: number, gx: number, gy: number): [number, number][] {
  const mask = Uint8Array.from({ length: BOX.width * BOX.height }, (_, i) =>
    onBar((i % BOX.width) + BOX.left + 0.5, Math.floor(i / BOX.width) + BOX.top + 0.5, 0, 0) ? 1 : 0,
  );
  const grid = { width: WIDTH / FACTOR, height: Math.ceil(HEIGHT / FACTOR) };
  const layer = Float32Array.from({ length: 2 * grid.width * grid.height }, (_, i) => (i % 2 === 0 ? gx : gy) / FACTOR);
  const from = Float32Array.from({ length: 2 * BOX.width * BOX.height }, (_, i) => {
    const k = i >> 1;
    return i % 2 === 0 ? (k % BOX.width) + BOX.left - gx : Math.floor(k / BOX.width) + BOX.top - gy;
  });
  settleSources(
    from,
    { before: picture(0, 0, 1), own: boxOf(picture(dx, dy, 2)) },
    { distance: maskDistance(mask, BOX.width, BOX.height, 24), box: BOX },
    { layer, grid, factor: FACTOR },
  );
  const shifts: [number, number][] = [];
  for (let y = 45; y < 105; y++) {
    const x = Math.round(90 + dx + 0.3 * (y - dy - 75));
    const i = 2 * ((y - BOX.top) * BOX.width + x - BOX.left);
    shifts.push([x - from[i], y - from[i + 1]]);
  }
  return shifts;
}

describe('motion along the edge', () => {
  it.each([
    [3, 0],
    [-2, 2],
    [1.5, -2.5],
  ])('of a thin part that went (%f, %f) and not with its layer is found: to a third of a pixel across, and to little more than one along it', (dx, dy) => {
    for (const [x, y] of cameFrom(dx, dy, 0, 0)) {
      expect(Math.abs(x - dx - 0.3 * (y - dy)) / Math.hypot(1, 0.3)).toBeLessThan(0.34);
      expect(Math.abs(y - dy)).toBeLessThan(1.3);
    }
  });

  it('is that of the layer where that was right', () => {
    for (const [x, y] of cameFrom(7, 4, 7, 4)) {
      expect(x).toBeCloseTo(7, 4);
      expect(y).toBeCloseTo(4, 4);
    }
  });

  it('is that of the layer where nothing is to be told apart', () => {
    const plain = labPicture({ width: WIDTH, height: HEIGHT, data: new Uint8Array(4 * WIDTH * HEIGHT).fill(90) });
    const distance = maskDistance(
      Uint8Array.from({ length: BOX.width * BOX.height }, (_, i) => (Math.abs((i % BOX.width) - 60) < 9 ? 1 : 0)),
      BOX.width,
      BOX.height,
      24,
    );
    const grid = { width: WIDTH / FACTOR, height: Math.ceil(HEIGHT / FACTOR) };
    const from = new Float32Array(2 * BOX.width * BOX.height).fill(50);
    const layer = new Float32Array(2 * grid.width * grid.height);
    settleSources(from, { before: plain, own: boxOf(plain) }, { distance, box: BOX }, { layer, grid, factor: FACTOR });
    expect(from.every((v) => v === 50)).toBe(true);
  });
});

describe('the difference of a patch', () => {
  it('is that of its pixels, each channel so much at most', () => {
    const random = randomFrom(8);
    const [width, count] = [30, 40];
    const pictures = [0, 1].map(() => Float32Array.from({ length: 3 * width * 20 }, () => 50 * random()));
    const pairs = Array.from({ length: count }, () => [Math.floor(random() * width * 20), Math.floor(random() * width * 15)]);
    const [dx, dy] = [4, 3];
    const want = pairs.reduce(
      (sum, [p, q]) => sum + [0, 1, 2].reduce((s, c) => s + Math.min(20, Math.abs(pictures[0][3 * p + c] - pictures[1][3 * (q + dy * width + dx) + c])), 0),
      0,
    );
    const size = pictures[0].length + 4;
    const { kernels, floats } = borrowKernels(2 * size + 2 * count);
    pictures.forEach((p, k) => {
      floats.set(p, k * size);
    });
    new Uint32Array(floats.buffer, 8 * size).set(pairs.flatMap(([p, q]) => [12 * p, 12 * q]));
    expect(kernels.patchDifference(0, 4 * size, 8 * size, count, 12 * (dy * width + dx), 20)).toBeCloseTo(want, 1);
  });
});
