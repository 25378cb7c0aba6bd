import { beforeAll, describe, expect, it } from 'vitest';
import { IDENTITY, translation } from '../../math/homography.ts';
import { randomFrom } from '../../math/random.ts';
import { type PreparedFrame, prepareFrame } from '../motion/prepared-frame.ts';
import type { FrameBytes } from '../picture/lab.ts';
import type { FrameStroke } from '../strokes/strokes.ts';
import { halfFrame } from '../uncertainty/ensemble.ts';
import { filledFrom, type Whole, wholeOf } from './mosaic.ts';
import { peelShot } from './peel-shot.ts';

const [W, H] = [192, 128];
const random = randomFrom(4);
const waves = Array.from({ length: 14 }, () => [(random() - 0.5) * 0.5, (random() - 0.5) * 0.5, random() * 6]);
const grainy = (x: number, y: number) => waves.reduce((s, [a, b, c]) => s + Math.sin(a * x + b * y + c), 0) * 8;
const STEP = 6;

/** A board that goes to the right, six pixels a frame; its left half is coloured as what is behind it. A dark post stands before it. */
const left = (t: number) => 20 + STEP * t;
const onBoard = (t: number, x: number, y: number) => x >= left(t) && x < left(t) + 60 && y >= 40 && y < 90;
const onPost = (x: number) => x >= 62 && x < 92;
function pictureOf(t: number, post: boolean): { bytes: FrameBytes; mask: Uint8Array } {
  const data = new Uint8Array(4 * W * H);
  const mask = new Uint8Array(W * H);
  for (let y = 0; y < H; y++)
    for (let x = 0; x < W; x++) {
      const hidden = post && onPost(x);
      const own = onBoard(t, x, y);
      mask[y * W + x] = own && !hidden ? 1 : 0;
      const p = own ? grainy(2 * (x - left(t)) + 400, 2 * y) : grainy(x, y);
      const warm = own && x >= left(t) + 30;
      data.set([...(hidden ? [24, 22, 26] : warm ? [160 + p, 100 + p, 60] : [84, 98 + p, 132 + p]), 255], 4 * (y * W + x));
    }
  return { bytes: { width: W, height: H, data }, mask };
}

const count = (mask: Uint8Array, x0: number, x1: number) => mask.reduce((sum, v, i) => sum + (i % W >= x0 && i % W < x1 ? v : 0), 0);

describe('what a painted frame hides', () => {
  const then = pictureOf(0, false);
  const now = pictureOf(6, true);
  let own: Whole;
  let filled: Whole;
  let prepared: PreparedFrame;
  const earlier = { frame: prepareFrame(then.bytes), mask: then.mask, back: translation(-STEP * 6 + 2, 1) };
  const nothing = new Uint8Array(W * H);
  beforeAll(() => {
    prepared = prepareFrame(now.bytes);
    own = wholeOf({ prepared, half: halfFrame(prepared) }, now.mask);
    filled = filledFrom(own, prepared, earlier, nothing);
  });

  it('is filled in with what it looked like on one painted before, and what is seen stays as it is', () => {
    const bare = pictureOf(6, false);
    const truth = prepareFrame(bare.bytes).fine;
    let [missing, added, worst] = [0, 0, 0];
    for (let i = 0; i < W * H; i++) {
      if (now.mask[i]) expect(filled.mask[i]).toBe(1);
      if (bare.mask[i] && !filled.mask[i]) missing++;
      if (!bare.mask[i] && filled.mask[i]) added++;
      for (let c = 0; c < 3; c++) {
        if (now.mask[i] || !filled.mask[i]) expect(filled.frame.fine.lab[3 * i + c]).toBe(prepared.fine.lab[3 * i + c]);
        else if (bare.mask[i]) worst += Math.abs(filled.frame.fine.lab[3 * i + c] - truth.lab[3 * i + c]);
      }
    }
    expect(count(bare.mask, 62, 92)).toBe(30 * 50);
    expect(missing).toBeLessThan(100);
    expect(added).toBeLessThan(30);
    expect(worst / (3 * 30 * 50)).toBeLessThan(0.5);
  });

  it('is filled in at half the size and at a quarter too', () => {
    const { frame, mask } = filled.half;
    // The middle of what was hidden, warm there and dark here.
    for (const [picture, factor] of [
      [frame.fine, 2],
      [frame.coarse, 4],
      [filled.frame.coarse, 4],
    ] as const) {
      const at = 3 * (Math.floor(64 / factor) * picture.width + Math.floor(88 / factor));
      const before = factor === 2 ? halfFrame(prepared).fine : prepared.coarse;
      expect(before.lab[at]).toBeLessThan(15);
      expect(picture.lab[at]).toBeGreaterThan(35);
    }
    expect(mask[32 * 96 + 44]).toBe(1);
  });

  it('is none where strokes took most of it away; on the post some of them may lie', () => {
    const taken = (share: number) => Uint8Array.from({ length: W * H }, (_, i) => (onPost(i % W) && Math.floor(i / W) < 40 + 50 * share ? 1 : 0));
    expect(filledFrom(own, prepared, earlier, taken(1)).mask).toEqual(now.mask);
    expect(count(filledFrom(own, prepared, earlier, taken(0.1)).mask, 62, 92)).toBeGreaterThan(1300);
  });

  it('is none where the other lies elsewhere, or has nothing', () => {
    expect(filledFrom(own, prepared, { ...earlier, back: translation(900, 0) }, nothing)).toBe(own);
    expect(filledFrom(own, prepared, { ...earlier, mask: nothing }, nothing)).toBe(own);
    // The same frame again hides nothing, however its edge lies.
    expect(filledFrom(own, prepared, { frame: prepared, mask: now.mask, back: IDENTITY }, nothing).mask).toEqual(now.mask);
  });
});

describe('a frame that was mended while the subject was half hidden', () => {
  it('knows from the one it was carried from what comes out', async () => {
    const source = { plate: { width: W, height: H, frames: 12 }, frame: async (t: number) => pictureOf(t, t > 5).bytes };
    const first: FrameStroke[] = [
      { frame: 0, kind: 'keep', radius: 3, points: [26, 48, 74, 48, 74, 82, 26, 82] },
      { frame: 0, kind: 'drop', radius: 3, points: [12, 32, 90, 32, 90, 98, 12, 98, 12, 32] },
    ];
    const mend: FrameStroke = { frame: 7, kind: 'keep', radius: 2, points: [110, 60, 114, 60], mends: true };
    const share = async (strokes: FrameStroke[]) => {
      let [found, all] = [0, 0];
      for await (const { frame, mask } of peelShot(source, strokes, 9, 11)) {
        const truth = pictureOf(frame, true).mask;
        for (let i = 0; i < mask.length; i++) if (truth[i] && i % W < 92 + STEP * (frame - 7) && i % W >= 92) all += 1;
        for (let i = 0; i < mask.length; i++) if (truth[i] && mask[i] && i % W < 92 + STEP * (frame - 7) && i % W >= 92) found += 1;
      }
      return found / all;
    };
    expect(await share([...first, mend])).toBeGreaterThan(0.8);
    // Had the frame been painted by itself, nothing would tell.
    const alone: FrameStroke[] = [
      { frame: 7, kind: 'keep', radius: 2, points: [94, 48, 118, 48, 118, 82, 94, 82] },
      { frame: 7, kind: 'drop', radius: 3, points: [77, 20, 77, 110] },
      { frame: 7, kind: 'drop', radius: 3, points: [92, 30, 132, 30, 132, 100, 92, 100] },
    ];
    expect(await share(alone)).toBeLessThan(0.6);
  });
});
