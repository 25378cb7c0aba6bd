/** Filling in what is only known in places: S. Gortler et al., "The Lumigraph", SIGGRAPH 1996 (push-pull). */
import type { Size } from '../../image/picture.ts';
import { borrowKernels } from '../../wasm/host.ts';

/** A size of the picture, and where its pairs and weights lie in the kernels' memory, in floats. */
interface Level extends Size {
  pairs: number;
  weights: number;
}

/**
 * Pairs of numbers, one pair a pixel, with a weight each, spread to all pixels: where weights are small, by the means of ever
 * larger squares. Gives pairs for all; zeros where there are no weights at all.
 */
export function pushPull(pairs: Float32Array, weights: Float32Array, width: number, height: number): Float32Array {
  const levels: Level[] = [];
  let floats = 0;
  for (let size = { width, height }; ; size = { width: (size.width + 1) >> 1, height: (size.height + 1) >> 1 }) {
    const n = size.width * size.height;
    levels.push({ ...size, pairs: floats, weights: floats + 2 * n });
    floats += 3 * n;
    if (n === 1) break;
  }
  const { kernels, floats: memory } = borrowKernels(floats);
  const [first, last] = [levels[0], levels[levels.length - 1]];
  memory.set(pairs, first.pairs);
  memory.set(weights, first.weights);
  const down = levels.slice(1).map((to, k) => [levels[k], to] as const);
  for (const [from, to] of down) kernels.pullPairs(4 * from.pairs, 4 * from.weights, from.width, from.height, 4 * to.pairs, 4 * to.weights);
  if (!(memory[last.weights] > 0)) memory.fill(0, last.pairs, last.pairs + 2);
  for (const [to, from] of down.reverse()) kernels.pushPairs(4 * to.pairs, 4 * to.weights, 4 * from.pairs, to.width, to.height);
  return memory.slice(first.pairs, first.pairs + pairs.length);
}
