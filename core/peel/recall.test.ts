import { describe, expect, it } from 'vitest';
import { IDENTITY, moveBy } from '../math/homography.ts';
import { randomFrom } from '../math/random.ts';
import type { FrameBytes } from './lab.ts';
import { type FrameStroke, peelShot } from './peel-shot.ts';
import { farFrom, recall, wholeMotion } from './recall.ts';

const BOX = { left: 12, top: 7, width: 90, height: 60 };
const n = BOX.width * BOX.height;
const placeOf = (i: number): [number, number] => [(i % BOX.width) + BOX.left, Math.floor(i / BOX.width) + BOX.top];

describe('the motion as a whole', () => {
  const turned = [0.98, -0.05, 3.5, 0.05, 0.98, -2] as const;
  const from = (other: (x: number, y: number) => boolean) =>
    Float32Array.from({ length: 2 * n }, (_, k) => {
      const [x, y] = placeOf(k >> 1);
      if (other(x, y)) return k % 2 === 0 ? x + 14 : y - 9;
      return k % 2 === 0 ? turned[0] * x + turned[1] * y + turned[2] : turned[3] * x + turned[4] * y + turned[5];
    });

  /** Where it puts the middle of what counts, which is told for sure; turn and scale of a small thing are held back. */
  const expectNear = (found: readonly number[]) => {
    const at = ([a, b, c, d, e, f]: readonly number[], x: number, y: number) => [a * x + b * y + c, d * x + e * y + f];
    for (const [x, y] of [
      [31, 37],
      [43, 37],
    ]) {
      const [want, got] = [at(turned, x, y), at(found, x, y)];
      expect(Math.hypot(want[0] - got[0], want[1] - got[1])).toBeLessThan(1);
    }
    expect(found[3]).toBeGreaterThan(0);
    expect(found[0]).toBeLessThan(1);
  };

  it('is told from most of the subject, whatever moves otherwise before it', () => {
    const found = wholeMotion(
      from((x) => x > 75),
      new Float32Array(n).fill(9),
      new Float32Array(n),
      BOX,
    );
    expectNear(found);
  });

  it('leaves out what its motion does not explain, and the edge', () => {
    const outside = (x: number) => x > 50;
    const signs = (value: number) => Float32Array.from({ length: n }, (_, i) => (outside(placeOf(i)[0]) ? value : 9 - value));
    for (const [edge, error] of [
      [signs(1), new Float32Array(n)],
      [new Float32Array(n).fill(9), signs(20)],
    ]) {
      const found = wholeMotion(from(outside), edge, error, BOX);
      expectNear(found);
    }
    expect(wholeMotion(from(outside), new Float32Array(n), new Float32Array(n), BOX)).toEqual(IDENTITY);
  });
});

describe('what is remembered', () => {
  const random = randomFrom(3);
  const [width, height] = [130, 90];
  const lab = Float32Array.from({ length: 3 * width * height }, () => 60 * random());
  const remembered = {
    picture: { width, height, lab, cell: new Uint16Array(width * height) },
    mask: Uint8Array.from({ length: width * height }, (_, i) => (i % width >= 30 && i % width < 80 ? 1 : 0)),
    back: moveBy(-4, 3),
  };

  it('is decided again, and drawn to be kept, where it looks as it did, and not where it does not', () => {
    const own = { width: BOX.width, height: BOX.height, cell: new Uint16Array(n), lab: new Float32Array(3 * n) };
    const hidden = (x: number) => x >= 50 && x < 60;
    for (let i = 0; i < n; i++) {
      const [x, y] = placeOf(i);
      for (let c = 0; c < 3; c++) own.lab[3 * i + c] = hidden(x) ? 90 : lab[3 * ((y + 4) * width + x - 4 - 1) + c];
    }
    const [undecided, pull, edge] = [new Uint8Array(n), new Float32Array(n).fill(-5), new Float32Array(n).fill(-20)];
    // What is expected to be the subject's anyway is not touched.
    for (let i = 0; i < n; i++) if (placeOf(i)[0] < 40) edge[i] = 3;
    recall(remembered, moveBy(-1, 1), own, BOX, edge, undecided, pull);
    for (let i = 0; i < n; i++) {
      const [x, y] = placeOf(i);
      if (y < BOX.top + 3 || y > BOX.top + BOX.height - 4) continue;
      if ((x >= 43 && x < 47) || (x >= 63 && x < 82)) expect([undecided[i], pull[i] > 3], `${x}`).toEqual([1, true]);
      if (x < 40 || x > 87) expect([undecided[i], pull[i]], `${x}`).toEqual([0, -5]);
      if (x >= 52 && x < 58) expect(pull[i]).toBeLessThanOrEqual(-5);
    }
  });

  it('is as far from what is left of the subject as its farthest corner', () => {
    const left = Uint8Array.from({ length: width * height }, (_, i) => (i % width >= 30 && i % width < 44 && i < 60 * width ? 1 : 0));
    // Gone by (4, -3): its right side is at 84 by now, its lower one at 87.
    expect(farFrom(left, remembered, width, height)).toBe(40);
    expect(farFrom(remembered.mask, { ...remembered, back: IDENTITY }, width, height)).toBe(0);
  });
});

describe('a subject behind which something passes', () => {
  const [WIDTH, HEIGHT] = [320, 200];
  const FRAMES = 24;
  const random = randomFrom(5);
  const grain = Float32Array.from({ length: 512 * 512 }, () => random() - 0.5);
  const noise = (x: number, y: number) => {
    const at = (u: number, v: number) => grain[(v & 511) * 512 + (u & 511)];
    const [u, v] = [Math.floor(x / 5), Math.floor(y / 5)];
    const [fx, fy] = [x / 5 - u, y / 5 - v];
    return (at(u, v) * (1 - fx) + at(u + 1, v) * fx) * (1 - fy) + (at(u, v + 1) * (1 - fx) + at(u + 1, v + 1) * fx) * fy;
  };
  /** A board that drifts, and a dark thing of 70 pixels that passes before it: what comes out behind it is far from what is left. */
  const onBoard = (t: number, x: number, y: number) => x >= 90 + t && x < 220 + t && y >= 60 && y < 140;
  const before = (t: number, x: number) => x >= 13 * t - 50 && x < 13 * t + 20;
  const frame = async (t: number): Promise<FrameBytes> => {
    const data = new Uint8Array(4 * WIDTH * HEIGHT);
    for (let y = 0; y < HEIGHT; y++)
      for (let x = 0; x < WIDTH; x++) {
        const colour = before(t, x)
          ? [36 + 20 * noise(x - 13 * t, y), 40, 46]
          : onBoard(t, x, y)
            ? [120 + 120 * noise(x - t + 900, y), 150 + 90 * noise(x - t + 900, y), 110]
            : [130 + 40 * noise(x, y), 110 + 40 * noise(x, y), 130 + 40 * noise(x + 300, y)];
        data.set([...colour, 255], 4 * (y * WIDTH + x));
      }
    return { width: WIDTH, height: HEIGHT, data };
  };
  const plate = { width: WIDTH, height: HEIGHT, frames: FRAMES };
  const strokes: FrameStroke[] = [
    { frame: 0, kind: 'keep', radius: 4, points: [110, 80, 200, 120] },
    { frame: 0, kind: 'keep', radius: 4, points: [110, 120, 200, 80] },
    { frame: 0, kind: 'drop', radius: 3, points: [80, 50, 230, 50, 230, 150, 80, 150, 80, 50] },
  ];

  it('is whole again where it comes out on the other side', async () => {
    const found: number[] = [];
    for await (const { frame: t, mask } of peelShot({ plate, frame }, strokes, 0, FRAMES - 1)) {
      let [both, any] = [0, 0];
      for (let i = 0; i < mask.length; i++) {
        const real = onBoard(t, i % WIDTH, Math.floor(i / WIDTH)) && !before(t, i % WIDTH);
        if (real && mask[i]) both++;
        if (real || mask[i]) any++;
      }
      found[t] = both / any;
    }
    expect(Math.min(...found)).toBeGreaterThan(0.85);
    expect(Math.min(...found.slice(16))).toBeGreaterThan(0.97);
  });
});
