import { describe, expect, it } from 'vitest';
import { randomFrom } from '../../math/random.ts';
import { labPicture } from '../picture/lab.ts';
import { DROP, KEEP } from '../strokes/strokes.ts';
import { cutUndecided, decidePainted } from './graph-cut.ts';

const [WIDTH, HEIGHT] = [5, 4];
const SMOOTHNESS = { strength: 1.5, beta: 0.002 };

/** What labels cost: the pulls they go against, and the boundaries between unlike neighbours. */
function cost(lab: Float32Array, labels: ArrayLike<number>, undecided: Uint8Array, logit: Float32Array): number {
  let sum = 0;
  for (let i = 0; i < labels.length; i++) {
    if (undecided[i]) sum += labels[i] ? Math.max(0, -logit[i]) : Math.max(0, logit[i]);
    const [x, y] = [i % WIDTH, Math.floor(i / WIDTH)];
    for (const [dx, dy] of [
      [1, 0],
      [-1, 1],
      [0, 1],
      [1, 1],
    ]) {
      const [u, v] = [x + dx, y + dy];
      if (u < 0 || u >= WIDTH || v >= HEIGHT) continue;
      const j = v * WIDTH + u;
      if (labels[i] === labels[j] || (!undecided[i] && !undecided[j])) continue;
      const apart = [0, 1, 2].reduce((d, c) => d + (lab[3 * i + c] - lab[3 * j + c]) ** 2, 0);
      sum += SMOOTHNESS.strength * (dx !== 0 && dy !== 0 ? Math.SQRT1_2 : 1) * Math.exp(-SMOOTHNESS.beta * apart);
    }
  }
  return sum;
}

describe('cutting the undecided pixels', () => {
  it.each(Array.from({ length: 12 }, (_, i) => i + 1))('costs the least of all the ways there are (%i)', (seed) => {
    const random = randomFrom(seed);
    const picture = labPicture({ width: WIDTH, height: HEIGHT, data: Uint8Array.from({ length: 4 * WIDTH * HEIGHT }, () => 100 + 80 * random()) });
    const start = Uint8Array.from({ length: WIDTH * HEIGHT }, () => (random() < 0.5 ? 1 : 0));
    const undecided = Uint8Array.from({ length: WIDTH * HEIGHT }, () => (random() < 0.5 ? 1 : 0));
    const logit = Float32Array.from({ length: WIDTH * HEIGHT }, () => 4 * (random() - 0.5));
    const labels = start.slice();
    cutUndecided(picture, labels, undecided, logit, SMOOTHNESS);
    const open = [...undecided.keys()].filter((i) => undecided[i]);
    let least = Number.POSITIVE_INFINITY;
    for (let ways = 0; ways < 2 ** open.length; ways++) {
      const other = start.slice();
      for (let k = 0; k < open.length; k++) other[open[k]] = (ways >> k) & 1;
      least = Math.min(least, cost(picture.lab, other, undecided, logit));
    }
    for (let i = 0; i < labels.length; i++) if (!undecided[i]) expect(labels[i]).toBe(start[i]);
    // Costs are whole units in the graph, 32 a nat.
    expect(cost(picture.lab, labels, undecided, logit)).toBeLessThan(least + (open.length * 5) / 64);
  });

  it('leaves what is painted as it is painted', () => {
    const [labels, undecided] = [new Uint8Array([0, 1, 1]), new Uint8Array([1, 1, 1])];
    decidePainted(labels, undecided, new Uint8Array([KEEP, DROP, 0]));
    expect([[...labels], [...undecided]]).toEqual([
      [1, 0, 1],
      [0, 0, 1],
    ]);
  });
});
