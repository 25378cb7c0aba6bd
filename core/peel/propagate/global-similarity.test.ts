import { describe, expect, it } from 'vitest';
import { applyTo } from '../../math/homography.ts';
import { globalSimilarity } from './global-similarity.ts';

const [WIDTH, HEIGHT, FACTOR] = [60, 40, 4];
const n = WIDTH * HEIGHT;
const BOX = { left: 0, top: 0, width: WIDTH * FACTOR, height: HEIGHT * FACTOR };
/** Turned by a tenth, a little larger, moved: between coarse pixels. */
const turned = [1.02, -0.1, 3.5, 0.1, 1.02, -2, 0, 0, 1];

/** Dense motion that is this one but where it is something else. */
function motion(other: (x: number, y: number) => boolean, errorAt = (_x: number, _y: number) => 0) {
  const data = new Float32Array(2 * n);
  const errors = new Float32Array(n);
  for (let i = 0; i < n; i++) {
    const [x, y] = [i % WIDTH, Math.floor(i / WIDTH)];
    const [u, v] = other(x, y) ? [x + 3, y - 4] : applyTo(turned, x, y);
    data.set([u - x, v - y], 2 * i);
    errors[i] = errorAt(x, y);
  }
  const flow = { width: WIDTH, height: HEIGHT, data };
  return { forward: flow, backward: flow, forwardBackwardError: errors, backwardForwardError: errors };
}

const distance = (inside: (x: number, y: number) => boolean) =>
  Float32Array.from({ length: BOX.width * BOX.height }, (_, i) => (inside((i % BOX.width) / FACTOR, Math.floor(i / BOX.width) / FACTOR) ? 9 : -9));

function expectTurned(found: readonly number[] | null, within = 0.15) {
  for (const [x, y] of [
    [12, 10],
    [45, 10],
    [12, 30],
    [45, 30],
  ]) {
    const [want, got] = [applyTo(turned, x, y), applyTo(found ?? [], x, y)];
    expect(Math.hypot(want[0] - got[0], want[1] - got[1]), `${x}, ${y}`).toBeLessThan(within);
  }
}

describe('the motion as a whole', () => {
  const all = distance(() => true);

  it('is the move, turn and scale of the subject, also of one that turns by much', () => {
    expectTurned(
      globalSimilarity(
        motion(() => false),
        all,
        BOX,
        FACTOR,
      ),
    );
  });

  it('is told from most of the subject, whatever moves otherwise before it', () => {
    expectTurned(
      globalSimilarity(
        motion((x) => x > 44),
        all,
        BOX,
        FACTOR,
      ),
      0.3,
    );
  });

  it('leaves out what is not the subject, and what does not come back to where it began', () => {
    const inside = (x: number) => x < 35;
    expectTurned(
      globalSimilarity(
        motion((x) => !inside(x)),
        distance(inside),
        BOX,
        FACTOR,
      ),
      0.3,
    );
    expectTurned(
      globalSimilarity(
        motion(
          (x) => x > 20,
          (x) => (x > 20 ? 2 : 0),
        ),
        all,
        BOX,
        FACTOR,
      ),
      0.6,
    );
  });

  it('is not told by next to nothing', () => {
    expect(
      globalSimilarity(
        motion(() => false),
        distance((x, y) => x < 5 && y < 5),
        BOX,
        FACTOR,
      ),
    ).toBeNull();
  });
});
