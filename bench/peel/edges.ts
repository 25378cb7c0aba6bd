/**
 * How near alphas come to the exact one: of the mask, settled on the picture's edge, finished, and finished with the whole edge called
 * soft; from the exact mask and from ones a pixel and five pixels too large. Mean error within 14 pixels of the edge, in thousandths.
 */

import { finishedAlpha, settledMask } from '../../core/peel/matting/soft-edge.ts';
import { labPicture } from '../../core/peel/picture/lab.ts';
import { maskDistance } from '../../core/peel/picture/signed-distance.ts';
import { demoFootage, type Footage, HEIGHT, WIDTH } from './footage.ts';
import { madeFootage } from './made.ts';
import { exactMask } from './measures.ts';

function* all(): Generator<{ name: string } & Footage> {
  yield { name: 'courier', ...demoFootage('courier-on-the-quay', 30, 2) };
  yield { name: 'lantern', ...demoFootage('storm-lantern', 4, 2) };
  yield* madeFootage(2);
}

console.log(
  '| scene | mask | settled | finished | called soft | mask 1 px too large | settled | finished | called soft | 5 px too large | settled | finished | called soft |',
);
for (const { name, frames, truth } of all()) {
  const exact = exactMask(truth[1]);
  const near = maskDistance(exact, WIDTH, HEIGHT, 15);
  const error = (alpha: ArrayLike<number>) => {
    let [sum, count] = [0, 0];
    for (let i = 0; i < near.length; i++)
      if (Math.abs(near[i]) <= 14) {
        sum += Math.abs(alpha[i] - truth[1][i] / 255);
        count++;
      }
    return ((1000 * sum) / count).toFixed(1).padStart(6);
  };
  const picture = labPicture(frames[1]);
  // The whole edge called soft, and masks that are too large, as a cut may give them.
  const zone = Uint8Array.from(near, (d) => (Math.abs(d) < 14 ? 1 : 0));
  const large = Uint8Array.from(near, (d) => (d > -1.2 ? 1 : 0));
  const larger = Uint8Array.from(near, (d) => (d > -5 ? 1 : 0));
  const row = (mask: Uint8Array) =>
    [mask, settledMask(mask, picture), finishedAlpha(mask, picture, null), finishedAlpha(mask, picture, zone)].map(error).join(' | ');
  const start = performance.now();
  finishedAlpha(exact, picture, null);
  console.log(`| ${name.padEnd(14)} | ${row(exact)} | ${row(large)} | ${row(larger)} | ${(performance.now() - start).toFixed(0)} ms`);
}
