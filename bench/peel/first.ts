/** One frame from strokes: region IoU and boundary F after 0, 2, 4 and 8 corrections by the made-up artist. */

import { LRUCache } from 'lru-cache';
import { cutPainted, type KnownCuts } from '../../core/peel/cut/cut-painted.ts';
import { CUT_SETTINGS } from '../../core/peel/settings.ts';
import { firstStrokes, nextStroke } from './artist.ts';
import { demoFootage, type Footage, HEIGHT, paintedFrame, WIDTH } from './footage.ts';
import { madeFootage } from './made.ts';
import { boundaryF, regionIoU } from './measures.ts';

const MADE = process.argv.includes('--made');

function* all(): Generator<{ name: string } & Footage> {
  for (const [name, frame] of [
    ['courier-on-the-quay', 36],
    ['courier-on-the-quay', 60],
    ['storm-lantern', 4],
    ['storm-lantern', 20],
  ] as const)
    yield { name: `${name} ${frame}`, ...demoFootage(name, frame, 2) };
  if (MADE) yield* madeFootage(2);
}

const SHOWN = [0, 2, 4, 8];
const sums = SHOWN.map(() => [0, 0]);
let count = 0;
let [time, cuts] = [0, 0];
for (const { name, frames, truth } of all()) {
  const prepared = await paintedFrame({ frames }, 0);
  const strokes = firstStrokes(truth[0], WIDTH, HEIGHT);
  const known: KnownCuts = new LRUCache({ max: 4 });
  let line = name.padEnd(24);
  count++;
  for (let step = 0; step <= 8; step++) {
    const began = performance.now();
    const mask = cutPainted(prepared, strokes, { width: WIDTH, height: HEIGHT }, CUT_SETTINGS, { known })?.mask ?? new Uint8Array(WIDTH * HEIGHT);
    time += performance.now() - began;
    cuts++;
    const k = SHOWN.indexOf(step);
    if (k >= 0) {
      const [iou, f] = [regionIoU(mask, truth[0]), boundaryF(mask, truth[0], WIDTH, HEIGHT, 3)];
      sums[k][0] += iou;
      sums[k][1] += f;
      line += `  ${iou.toFixed(3)}/${f.toFixed(3)}`;
    }
    const next = nextStroke(mask, truth[0], WIDTH, HEIGHT);
    if (next) strokes.push(next);
  }
  console.log(line);
}
console.log(
  `${'mean'.padEnd(24)}${sums.map(([a, b]) => `  ${(a / count).toFixed(3)}/${(b / count).toFixed(3)}`).join('')}   ${(time / cuts).toFixed(0)} ms a cut`,
);
