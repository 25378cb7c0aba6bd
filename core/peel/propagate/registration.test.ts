import { describe, expect, it } from 'vitest';
import { applyTo, IDENTITY, inverseOf, multiply, translation } from '../../math/homography.ts';
import { randomFrom } from '../../math/random.ts';
import { prepareFrame } from '../motion/prepared-frame.ts';
import { boxRound, cropLab, cropMask } from '../picture/crop.ts';
import type { FrameBytes } from '../picture/lab.ts';
import { maskDistance } from '../picture/signed-distance.ts';
import { peelShot } from '../shot/peel-shot.ts';
import type { FrameStroke } from '../strokes/strokes.ts';
import { believe, boxRoundPainted, laidOnto } from './registration.ts';

const [W, H] = [160, 120];
const random = randomFrom(8);
const waves = Array.from({ length: 14 }, () => [(random() - 0.5) * 0.5, (random() - 0.5) * 0.5, random() * 6]);
const grainy = (x: number, y: number) => waves.reduce((s, [a, b, c]) => s + Math.sin(a * x + b * y + c), 0) * 9;
/** A bent bar of the subject's, painted where it is, and what it looks like when it has gone with a motion; a dark post stands before it. */
const onSubject = (x: number, y: number) => x >= 40 && x < 120 && y >= 40 && y < 80 && !(x >= 62 && x < 98 && y < 68);
const post = (x: number) => x >= 96 && x < 106;
const since = multiply(translation(80, 60), multiply([Math.cos(0.12), -Math.sin(0.12), 0, Math.sin(0.12), Math.cos(0.12), 0, 0, 0, 1], translation(-76, -62)));
const back = inverseOf(since) as number[];

function pictureOf(motion: readonly number[], hidden: (x: number) => boolean) {
  const data = new Uint8Array(4 * W * H);
  const mask = new Uint8Array(W * H);
  for (let y = 0; y < H; y++)
    for (let x = 0; x < W; x++) {
      const [u, v] = applyTo(motion, x, y);
      const own = onSubject(u, v);
      mask[y * W + x] = own && !hidden(x) ? 1 : 0;
      const p = own ? grainy(2 * u + 400, 2 * v) : grainy(x, y);
      data.set([...(hidden(x) ? [18, 18, 22] : own ? [150 + p, 110 + p, 70] : [80, 96 + p, 130 + p]), 255], 4 * (y * W + x));
    }
  return { frame: prepareFrame({ width: W, height: H, data }), mask };
}

describe('the painted frame laid onto a later one', () => {
  const then = pictureOf(IDENTITY, () => false);
  const now = pictureOf(back, post);
  const BOX = { left: 20, top: 10, width: 130, height: 100 };
  const own = cropLab(now.frame.fine, BOX);
  // What carrying found: of the subject's right side, behind the post, nothing.
  const carried = cropMask(
    now.mask.map((v, i) => (i % W < 96 ? v : 0)),
    W,
    BOX,
  );
  const truth = cropMask(now.mask, W, BOX);
  const edge = maskDistance(carried, BOX.width, BOX.height, 24);
  const laid = laidOnto(then, translation(-4, 2), { next: now.frame, own, box: BOX, edge });

  it('lies where the subject is, from a guess that is several pixels and seven degrees off', () => {
    for (const [x, y] of [
      [55, 45],
      [115, 75],
      [55, 75],
      [115, 45],
    ]) {
      const [u, v] = applyTo(since, x, y);
      const [p, q] = applyTo(laid.back, u, v);
      expect(Math.hypot(p - x, q - y), `${x}, ${y}`).toBeLessThan(0.5);
    }
    const whole = cropMask(pictureOf(back, () => false).mask, W, BOX);
    let [both, any] = [0, 0];
    laid.mask.forEach((v, i) => {
      both += v & whole[i];
      any += v | whole[i];
    });
    expect(both / any).toBeGreaterThan(0.92);
  });

  it('looks like it where it is in sight, and not where something is before it', () => {
    const means = [0, 0];
    const counts = [0, 0];
    laid.mask.forEach((v, i) => {
      const x = (i % BOX.width) + BOX.left;
      if (!v || Math.abs(x - 95.5) < 3 || Math.abs(x - 105.5) < 3) return;
      means[post(x) ? 1 : 0] += laid.error[i];
      counts[post(x) ? 1 : 0]++;
    });
    expect(counts[1]).toBeGreaterThan(50);
    expect(means[0] / counts[0]).toBeLessThan(5);
    expect(means[1] / counts[1]).toBeGreaterThan(15);
  });

  it('is believed where it explains the frame, and gives back what was lost behind the post; behind it what was carried stands', () => {
    const expected = carried.slice();
    const error = { keep: new Float32Array(expected.length).fill(8), drop: new Float32Array(expected.length).fill(12) };
    const belief = believe(laid, expected, error, BOX);
    let [got, wanted] = [0, 0];
    truth.forEach((v, i) => {
      const x = (i % BOX.width) + BOX.left;
      if (v && x > 112) {
        wanted++;
        got += expected[i];
      }
      if (x > 112 && x < 116 && v) expect(belief[i]).toBeGreaterThan(0.5);
      if (x === 101 && laid.mask[i]) expect([expected[i], belief[i]]).toEqual([0, 0]);
    });
    expect(wanted).toBeGreaterThan(30);
    expect(got / wanted).toBeGreaterThan(0.9);
  });

  it('is looked for in the box round where it has gone', () => {
    const painted = { frame: then.frame, mask: then.mask, back };
    const real = boxRound(pictureOf(back, () => false).mask, W, H, 3);
    const box = boxRoundPainted(painted, 3);
    expect(real && box).not.toBeNull();
    for (const side of ['left', 'top', 'width', 'height'] as const) expect(Math.abs((box?.[side] ?? 0) - (real?.[side] ?? 0)), side).toBeLessThanOrEqual(6);
    expect(boxRoundPainted({ ...painted, back: translation(500, 0) }, 3)).toBeNull();
    expect(boxRoundPainted({ ...painted, mask: new Uint8Array(W * H) }, 3)).toBeNull();
  });

  it('stays where it was put where too little is in sight to tell', () => {
    const nowhere = new Float32Array(edge.length).fill(-24);
    expect(laidOnto(then, translation(4, 2), { next: now.frame, own, box: BOX, edge: nowhere }).back.slice(0, 6)).toEqual([1, 0, 4, 0, 1, 2]);
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
