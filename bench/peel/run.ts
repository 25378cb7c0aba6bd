/**
 * The battery of Peel: strokes by the made-up artist on one frame (the first strokes and four corrections), carried over the
 * rest; then with as many strokes at most that mend what was carried to the middle, and to every twelfth frame. One setting for
 * all scenes. What is compared with the truth is the finished matte, where it is more than half.
 * `npx tsx bench/peel/run.ts [frames] [scene, scene, …]`.
 */

import { mendPainted } from '../../core/peel/cut/cut-painted.ts';
import { finishedAlpha, settledMask } from '../../core/peel/matting/soft-edge.ts';
import { sizeOf } from '../../core/peel/picture/masks.ts';
import { maskDistance } from '../../core/peel/picture/signed-distance.ts';
import { CUT_SETTINGS } from '../../core/peel/settings.ts';
import { peelShot } from '../../core/peel/shot/peel-shot.ts';
import type { FrameStroke, PaintedStroke } from '../../core/peel/strokes/strokes.ts';
import { demoFootage, type Footage, HEIGHT, paintedFrame, WIDTH } from './footage.ts';
import { madeFootage } from './made.ts';
import { boundaryF, exactMask, finishedMask, flickerOf, regionIoU } from './measures.ts';
import { corrections, over50, ranksOf, sourceOf, strokesOn, type Told, together } from './stretch.ts';

const COUNT = Number(process.argv[2] ?? 24);
const ONLY = process.argv.slice(3);
/** Strokes on a frame that is mended, at most: as many as on the first. */
const MENDS = 10;

/** The strokes, and those that mend what they come to on a frame. */
async function withMended(footage: Footage, strokes: readonly FrameStroke[], frame: number): Promise<FrameStroke[]> {
  const prepared = await paintedFrame(footage, frame);
  const mends: FrameStroke[] = [];
  for await (const base of peelShot(sourceOf(footage), strokes, frame, frame)) {
    const mend = (strokes: readonly PaintedStroke[]) => mendPainted(prepared, base, strokes, { width: WIDTH, height: HEIGHT }, CUT_SETTINGS).mask;
    for (const { next } of corrections(MENDS, [], base.mask, footage.truth[frame], mend)) mends.push({ ...next, frame, mends: true });
  }
  return [...strokes, ...mends];
}

/** Mean |alpha error| within 14 pixels of the true edge, in thousandths, of each of `alphas`. */
function alphaErrors(alphas: ArrayLike<number>[], truth: Buffer): number[] {
  const near = maskDistance(exactMask(truth), WIDTH, HEIGHT, 15);
  const sums = alphas.map(() => 0);
  let count = 0;
  for (let i = 0; i < truth.length; i++) {
    if (Math.abs(near[i]) > 14) continue;
    count++;
    for (let k = 0; k < alphas.length; k++) sums[k] += Math.abs(alphas[k][i] - truth[i] / 255);
  }
  return sums.map((s) => (count === 0 ? 0 : (1000 * s) / count));
}

interface Outcome {
  first: number;
  firstF: number;
  mean: number;
  worst: number;
  f: number;
  /** Of the mask as it is, settled, and as soft as the picture. */
  alpha: number[];
  /** Of neighbouring frames, mean. */
  flicker: number;
  milliseconds: number;
  told: Told;
}

async function carried(footage: Footage, strokes: FrameStroke[]): Promise<Outcome> {
  const source = sourceOf(footage);
  const out: Outcome = { first: 0, firstF: 0, mean: 0, worst: 1, f: 0, alpha: [0, 0, 0], flicker: 0, milliseconds: 0, told: { doubts: [], fs: [] } };
  const masks = new Map<number, Uint8Array>();
  let began = performance.now();
  for await (const { frame, mask, picture, doubt, anchor } of peelShot(source, strokes, 0, footage.frames.length - 1)) {
    out.milliseconds += performance.now() - began;
    const finished = finishedAlpha(mask, picture, null);
    const alphas = [mask, settledMask(mask, picture), finished];
    const matte = finishedMask(finished);
    const iou = regionIoU(matte, footage.truth[frame]);
    const f = boundaryF(matte, footage.truth[frame], WIDTH, HEIGHT, 3);
    if (frame === strokes[0].frame) [out.first, out.firstF] = [iou, f];
    out.mean += iou / footage.frames.length;
    out.worst = Math.min(out.worst, iou);
    out.f += f / footage.frames.length;
    masks.set(frame, matte);
    alphaErrors(alphas, footage.truth[frame]).forEach((e, k) => {
      out.alpha[k] += e / footage.frames.length;
    });
    if (frame !== anchor) {
      out.told.doubts.push(doubt);
      out.told.fs.push(f);
    }
    began = performance.now();
  }
  for (let f = 1; f < footage.frames.length; f++) {
    const [before, now] = [masks.get(f - 1), masks.get(f)] as Uint8Array[];
    out.flicker += flickerOf(before, now, footage.truth[f - 1], footage.truth[f], WIDTH, HEIGHT) / (footage.frames.length - 1);
  }
  return out;
}

/** The frame nearest to `to` on which most of the subject is to be seen. */
function nearestTo(to: number, { truth }: Footage): number {
  const areas = truth.map((t) => sizeOf(exactMask(t)));
  const most = Math.max(...areas);
  const frames = areas.flatMap((a, f) => (a > most / 2 ? [f] : []));
  return frames.sort((a, b) => Math.abs(a - to) - Math.abs(b - to))[0];
}

/** Frames of which the artist strokes one, in the row with the most of them. */
const OFTEN = 12;

/** Strokes on the first frame, and on others those that mend what was carried there. */
async function strokesOnAll(footage: Footage, start: readonly FrameStroke[], frames: readonly number[]): Promise<FrameStroke[]> {
  let strokes = [...start];
  for (const f of new Set(frames.map((f) => nearestTo(f, footage)))) if (f !== start[0].frame) strokes = await withMended(footage, strokes, f);
  return strokes;
}

function* all(): Generator<{ name: string } & Footage> {
  yield { name: 'courier on the quay', ...demoFootage('courier-on-the-quay', 30, COUNT) };
  yield { name: 'storm lantern', ...demoFootage('storm-lantern', 0, COUNT) };
  yield* madeFootage(COUNT);
}

const text = (v: number, digits = 3) => v.toFixed(digits).replace(/^0/, '');
const told: Told[] = [];
const sums = [0, 0, 0, 0, 0, 0, 0, 0, 0];
let scenes = 0;
console.log(
  '| scene | first frame IoU | F | all: IoU | worst | F | alpha error of mask / settled / finished | flicker | doubt within | and the middle: IoU | F | every 12: IoU | F | ms a frame |',
);
console.log('|---|---|---|---|---|---|---|---|---|---|---|---|---|---|');
for (const footage of all()) {
  if (ONLY.length > 0 && !ONLY.includes(footage.name)) continue;
  const start = await strokesOn(footage, 0);
  const one = await carried(footage, start);
  const two = await carried(footage, await strokesOnAll(footage, start, [COUNT / 2]));
  const twelfths = Array.from({ length: Math.ceil(COUNT / OFTEN) }, (_, i) => i * OFTEN);
  const often = await carried(footage, await strokesOnAll(footage, start, twelfths));
  told.push(one.told);
  [one.first, one.firstF, one.mean, one.worst, one.f, two.mean, two.f, often.mean, often.f].forEach((v, i) => {
    sums[i] += v;
  });
  scenes++;
  console.log(
    `| ${footage.name} | ${text(one.first)} | ${text(one.firstF)} | ${text(one.mean)} | ${text(one.worst)} | ${text(one.f)} | ${one.alpha.map((e) => e.toFixed(0)).join(' / ')} | ${text(one.flicker, 2)} | ${ranksOf(one.told).doubt.toFixed(2)} | ${text(two.mean)} | ${text(two.f)} | ${text(often.mean)} | ${text(often.f)} | ${(one.milliseconds / COUNT).toFixed(0)} |`,
  );
}
const pooled = together(told);
const [first, firstF, mean, worst, f, twoMean, twoF, oftenMean, oftenF] = sums.map((v) => text(v / scenes));
console.log(
  `| **mean** | ${first} | ${firstF} | ${mean} | ${worst} | ${f} | | | ${ranksOf(pooled).doubt.toFixed(2)} pooled | ${twoMean} | ${twoF} | ${oftenMean} | ${oftenF} | |`,
);
const shown = ({ over, of }: { over: number; of: number }) => `${over} of ${of}`;
console.log(`\nDoubt over 50: of frames with F under .9 ${shown(over50(pooled, -1, 0.9))}, of those over .97 ${shown(over50(pooled, 0.97, 2))}`);
