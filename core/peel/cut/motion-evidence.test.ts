import { describe, expect, it } from 'vitest';
import { applyTo, type Homography } from '../../math/homography.ts';
import { randomFrom } from '../../math/random.ts';
import { type Neighbour, type PreparedFrame, prepareFrame } from '../motion/prepared-frame.ts';
import { boxMean } from '../picture/box-mean.ts';
import { type FrameBytes, type LabPicture, labPicture } from '../picture/lab.ts';
import { FrameViews } from '../shot/frame-views.ts';
import { peelShot } from '../shot/peel-shot.ts';
import { DROP, KEEP, type PaintedStroke, paintStrokes } from '../strokes/strokes.ts';
import { cutFrame } from './cut-frame.ts';
import { enlarged, motionEvidence, motionOfSide } from './motion-evidence.ts';

const [WIDTH, HEIGHT] = [192, 144];
const [COARSE_WIDTH, COARSE_HEIGHT] = [WIDTH / 4, HEIGHT / 4];

/** A beside of which only the motion matters: what `at` gives for each coarse place, all of it sure. */
function flowing(at: (x: number, y: number) => [number, number]): Neighbour {
  const data = new Float32Array(2 * COARSE_WIDTH * COARSE_HEIGHT);
  for (let y = 0; y < COARSE_HEIGHT; y++) for (let x = 0; x < COARSE_WIDTH; x++) data.set(at(x, y), 2 * (y * COARSE_WIDTH + x));
  const none = labPicture({ width: 1, height: 1, data: new Uint8Array(4) });
  return { fine: none, coarse: none, flow: { width: COARSE_WIDTH, height: COARSE_HEIGHT, data }, sure: new Float32Array(COARSE_WIDTH * COARSE_HEIGHT).fill(1) };
}

describe('the motion of a side', () => {
  const turning: Homography = [1.01, -0.03, 1.5, 0.03, 0.99, -0.75, 0, 0, 1];
  const known = new Uint8Array(COARSE_WIDTH * COARSE_HEIGHT).fill(KEEP);

  it('is the one of most of what is known of it, also where a third moves otherwise', () => {
    const random = randomFrom(2);
    const odd = new Set(Array.from(known.keys()).filter(() => random() < 0.33));
    const beside = flowing((x, y) => {
      if (odd.has(y * COARSE_WIDTH + x)) return [-4, 3];
      const [u, v] = applyTo(turning, x, y);
      return [u - x, v - y];
    });
    const found = motionOfSide(beside, known, KEEP) as Homography;
    for (const [x, y] of [
      [0, 0],
      [47, 0],
      [24, 35],
    ])
      for (const k of [0, 1]) expect(Math.abs(applyTo(found, x, y)[k] - applyTo(turning, x, y)[k])).toBeLessThan(0.15);
  });

  it('is a plain move where only one place is known, and none where nothing is', () => {
    const dot = new Uint8Array(known.length);
    dot[10 * COARSE_WIDTH + 30] = DROP;
    const beside = flowing(() => [2, -1]);
    const found = motionOfSide(beside, dot, DROP) as Homography;
    [1, 0, 2, 0, 1, -1].forEach((v, k) => {
      expect(found[k]).toBeCloseTo(v, 5);
    });
    expect(motionOfSide(beside, dot, KEEP)).toBeNull();
  });

  it('takes the middle of every coarse pixel to the same place at full size', () => {
    const large = enlarged(turning, 4);
    for (const [x, y] of [
      [0, 0],
      [17, 29],
    ]) {
      const [u, v] = applyTo(large, 4 * x + 1.5, 4 * y + 1.5);
      const [cu, cv] = applyTo(turning, x, y);
      expect(u).toBeCloseTo(4 * cu + 1.5, 4);
      expect(v).toBeCloseTo(4 * cv + 1.5, 4);
    }
  });
});

/** How each pixel differs from where a motion has it, the plain way; 8 where that is outside. */
function differences(own: LabPicture, other: LabPicture, motion: Homography): Float32Array {
  const out = new Float32Array(own.width * own.height);
  for (let y = 0; y < own.height; y++)
    for (let x = 0; x < own.width; x++) {
      const [u, v] = applyTo(motion, x, y);
      const [i, j] = [Math.floor(u), Math.floor(v)];
      const to = y * own.width + x;
      out[to] = 8;
      if (u < 0 || v < 0 || u >= other.width - 1 || v >= other.height - 1) continue;
      out[to] = 0;
      for (let c = 0; c < 3; c++) {
        const value = (dx: number, dy: number) => other.lab[3 * ((j + dy) * other.width + i + dx) + c];
        const upper = value(0, 0) + (value(1, 0) - value(0, 0)) * (u - i);
        const lower = value(0, 1) + (value(1, 1) - value(0, 1)) * (u - i);
        out[to] += Math.abs(upper + (lower - upper) * (v - j) - own.lab[3 * to + c]);
      }
      out[to] = Math.min(25, out[to]);
    }
  return out;
}

const grainy = (seed: number): FrameBytes => {
  const random = randomFrom(seed);
  return { width: WIDTH, height: HEIGHT, data: Uint8Array.from({ length: 4 * WIDTH * HEIGHT }, () => 60 + 130 * random()) };
};

describe('what motion says', () => {
  it('is by how much the one side explains each pixel better, by the frame beside that shows it best', () => {
    const frame = prepareFrame(grainy(1));
    const known = new Uint8Array(COARSE_WIDTH * COARSE_HEIGHT);
    known.fill(KEEP, 0, known.length / 2);
    known.fill(DROP, known.length / 2);
    const upper = (y: number) => y < COARSE_HEIGHT / 2;
    const beside = [2, 3].map((seed) => {
      const { fine, coarse } = prepareFrame(grainy(seed));
      return { ...flowing((_, y) => (upper(y) ? [0.6, seed / 8] : [-0.4, 0])), fine, coarse };
    });
    const says = motionEvidence(frame, beside, known, 0.5);
    const box = { left: 20, top: 30, width: 70, height: 50 };
    const part = says?.fine(box) as Float32Array;
    const cropped = (field: Float32Array) =>
      boxMean(
        Float32Array.from({ length: box.width * box.height }, (_, i) => field[(Math.floor(i / box.width) + box.top) * WIDTH + (i % box.width) + box.left]),
        box.width,
        box.height,
        2,
      );
    const least = (side: number) => {
      const all = beside.map((one) => differences(frame.fine, one.fine, enlarged(motionOfSide(one, known, side) as Homography, 4)));
      return cropped(all[0].map((v, i) => Math.min(v, all[1][i])));
    };
    const [keep, drop] = [least(KEEP), least(DROP)];
    for (let i = 0; i < part.length; i++) expect(part[i]).toBeCloseTo(0.5 * (drop[i] - keep[i]), 2);
  });

  it('is nothing without a frame beside, without its weight, or where one side is not known', () => {
    const frame: PreparedFrame = prepareFrame(grainy(1));
    const known = new Uint8Array(COARSE_WIDTH * COARSE_HEIGHT).fill(DROP);
    const beside = [{ ...flowing(() => [0, 0]), fine: frame.fine, coarse: frame.coarse }];
    expect(motionEvidence(frame, beside, known, 1)).toBeNull();
    known[5] = KEEP;
    expect(motionEvidence(frame, [], known, 1)).toBeNull();
    expect(motionEvidence(frame, beside, known, 0)).toBeNull();
    expect(motionEvidence(frame, beside, known, 1)).not.toBeNull();
  });
});

/** A block with an arm on it, hardly lighter than what is behind: it moves to the right, the rest to the left. */
function moving(t: number): FrameBytes {
  const data = new Uint8Array(4 * WIDTH * HEIGHT);
  for (let y = 0; y < HEIGHT; y++)
    for (let x = 0; x < WIDTH; x++) {
      const left = 60 + 3 * t;
      const v = inBlock(x - left, y) ? speck(x - left, y) + LIGHTER : speck(x + 2 * t + 500, y);
      data.set([v, v, v, 255], 4 * (y * WIDTH + x));
    }
  return { width: WIDTH, height: HEIGHT, data };
}
const onArm = (x: number, y: number) => x >= 10 && x < 22 && y >= 20 && y < 60;
const inBlock = (x: number, y: number) => (x >= 0 && x < 50 && y >= 60 && y < 110) || onArm(x, y);
/** Levels by which it is lighter, far less than the grain. */
const LIGHTER = 35;
const specks = randomFrom(9);
const SPECKS = Uint8Array.from({ length: 1000 * HEIGHT }, () => 70 + 110 * specks());
/** Grain of four pixels. */
const speck = (x: number, y: number) => SPECKS[Math.floor(y / 4) * 1000 + Math.floor(x / 4)];

describe('a painted frame', () => {
  const views = new FrameViews(async (f) => moving(f));
  const strokes: PaintedStroke[] = [
    { kind: 'keep', radius: 6, points: [70, 80, 105, 90] },
    { kind: 'drop', radius: 4, points: [20, 12, 170, 12, 170, 132, 20, 132, 20, 12] },
  ];
  const seeds = paintStrokes(strokes, { width: WIDTH, height: HEIGHT, scaleX: 1, scaleY: 1 });
  /** As if there were so many: nearness to them has no say. */
  const STROKES = 6;
  const armIn = (mask: Uint8Array, t: number): number => {
    let found = 0;
    for (let i = 0; i < mask.length; i++) if (mask[i] && onArm((i % WIDTH) - 60 - 3 * t, Math.floor(i / WIDTH))) found++;
    return found / (12 * 40);
  };
  const wrong = (mask: Uint8Array, t: number): number =>
    mask.filter((m, i) => m !== (inBlock((i % WIDTH) - 60 - 3 * t, Math.floor(i / WIDTH)) ? 1 : 0)).length / (50 * 50 + 12 * 40);

  it('keeps a part without a stroke that is hard to tell by its colours, since it moves with the rest', async () => {
    const frame = await views.painted(1, 3);
    expect(frame.beside.length).toBe(2);
    const { mask } = cutFrame(frame, seeds, STROKES);
    expect(armIn(mask, 1)).toBeGreaterThan(0.8);
    expect(wrong(mask, 1)).toBeLessThan(0.1);
    // By its colours alone nothing of it is found.
    expect(armIn(cutFrame({ ...frame, beside: [] }, seeds, STROKES).mask, 1)).toBeLessThan(0.05);
  });

  it('has the one frame beside it that there is at either end of a shot, and none in a shot of one frame', async () => {
    for (const t of [0, 2]) {
      const frame = await views.painted(t, 3);
      expect(frame.beside.length).toBe(1);
      const alone = wrong(cutFrame({ ...frame, beside: [] }, seeds, STROKES).mask, t);
      expect(wrong(cutFrame(frame, seeds, STROKES).mask, t)).toBeLessThan(0.5 * alone);
    }
    expect((await views.painted(0, 1)).beside).toEqual([]);
  });
});

describe('a carried frame', () => {
  it('leaves behind what was taken for a part of the subject and moves as its surroundings do', async () => {
    // Beside the block, and of the same colours as all that is behind.
    const behind = (x: number, y: number) => x >= 50 && x < 90 && y >= 64 && y < 104;
    const started = Uint8Array.from({ length: WIDTH * HEIGHT }, (_, i) => {
      const [x, y] = [(i % WIDTH) - 60, Math.floor(i / WIDTH)];
      return inBlock(x, y) || behind(x, y) ? 1 : 0;
    });
    const source = { plate: { width: WIDTH, height: HEIGHT, frames: 6 }, frame: async (f: number) => moving(f) };
    const shares: number[] = [];
    for await (const { frame: t, mask } of peelShot(source, [], 0, 5, { held: { frames: [0], mask: async () => started } })) {
      let left = 0;
      for (let i = 0; i < mask.length; i++) {
        const [x, y] = [i % WIDTH, Math.floor(i / WIDTH)];
        if (mask[i] && !inBlock(x - 60 - 3 * t, y)) left++;
      }
      shares.push(left / 1600);
    }
    expect(shares[0]).toBe(1);
    expect(shares[5]).toBeLessThan(0.3);
  });
});
