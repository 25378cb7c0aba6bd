/** How near different alphas come to the exact one, with the exact mask given: mean error within 14 pixels of the edge, in thousandths. */
import { labPicture } from '../../core/peel/lab.ts';
import { maskDistance } from '../../core/peel/signed-distance.ts';
import { settledMask, softMask } from '../../core/peel/soft-edge.ts';
import { demoFootage, type Footage, HEIGHT, WIDTH } from './footage.ts';
import { madeFootage } from './made.ts';

function* all(): Generator<{ name: string } & Footage> {
  yield { name: 'courier', ...demoFootage('courier-on-the-quay', 30, 2) };
  yield { name: 'lantern', ...demoFootage('storm-lantern', 4, 2) };
  yield* madeFootage(2);
}

for (const { name, frames, truth } of all()) {
  const exact = Uint8Array.from(truth[1], (v) => (v > 127 ? 1 : 0));
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
  // A mask that is a pixel too large, as a cut may give it.
  const large = Uint8Array.from(near, (d) => (d > -1.2 ? 1 : 0));
  const start = performance.now();
  const settled = settledMask(exact, picture);
  const ms = performance.now() - start;
  console.log(
    `${name.padEnd(14)} binary ${error(exact)} soft ${error(softMask(exact, WIDTH, HEIGHT))} settled ${error(settled)} | a pixel too large: soft ${error(softMask(large, WIDTH, HEIGHT))} settled ${error(settledMask(large, picture))} | ${ms.toFixed(0)} ms`,
  );
}
