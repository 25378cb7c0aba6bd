import { describe, expect, it } from 'vitest';
import { translation } from '../../math/homography.ts';
import { motionOf } from '../motion/layers.ts';
import { isTogether, leaveBehind, type Ways } from './left-behind.ts';

const SIZE = { width: 960, height: 540 };
const BOX = { width: 200, height: 60 };
const COARSE = { width: 100, height: 30 };

/** A mask with squares: left column, side. */
function squares(...all: [number, number][]): Uint8Array {
  const mask = new Uint8Array(BOX.width * BOX.height);
  for (const [left, side] of all) for (let y = 10; y < 10 + side; y++) mask.fill(1, y * BOX.width + left, y * BOX.width + left + side);
  return mask;
}

/** All goes by `u` coarse pixels to the right, back by `back`; the surroundings stand still, the subject goes by `subject` and was nowhere else. */
function ways(u: number, subject = 3, back = -u): Ways {
  const even = (x: number) => ({ ...COARSE, data: Float32Array.from({ length: 2 * COARSE.width * COARSE.height }, (_, i) => (i % 2 === 0 ? x : 0)) });
  return {
    motion: motionOf(even(u), even(back)),
    from: Float32Array.from({ length: 2 * BOX.width * BOX.height }, (_, i) => (i % 2 === 0 ? (i / 2) % BOX.width : Math.floor(i / 2 / BOX.width))),
    surroundings: even(0).data,
    whole: translation(subject, 0),
    laid: squares([0, 40]),
    factor: 2,
  };
}

describe('what is left behind', () => {
  const stays = (how: Ways, ...others: [number, number][]) => {
    const mask = squares([0, 40], ...others);
    leaveBehind(mask, BOX, SIZE, how);
    expect(Buffer.compare(mask.subarray(0, 40), squares([0, 40]).subarray(0, 40))).toBe(0);
    return others.map(([left]) => mask[15 * BOX.width + left + 1] === 1);
  };

  it('is a piece well away from the largest that goes with the surroundings', () => {
    expect(stays(ways(0), [70, 14], [120, 20])).toEqual([false, false]);
    expect(stays(ways(0.15), [70, 14])).toEqual([false]);
  });

  it('is none that is near, that goes with the subject, or its own way', () => {
    expect(stays(ways(0), [60, 14])).toEqual([true]);
    expect(stays(ways(3), [70, 14])).toEqual([true]);
    expect(stays(ways(0.5), [70, 14])).toEqual([true]);
  });

  it('is none where the subject goes as its surroundings do, and where it is not sure how the piece goes', () => {
    expect(stays(ways(0, 0.3), [70, 14])).toEqual([true]);
    expect(stays(ways(0, 3, 0.5), [70, 14])).toEqual([true]);
  });

  it('is none that lies where the painted frame has the subject: a pivot is at rest', () => {
    expect(stays({ ...ways(0), laid: squares([0, 40], [70, 14]) }, [70, 14])).toEqual([true]);
  });

  it('is none that is thin all over: flow in it is that of what is round it', () => {
    const wire = () => {
      const mask = squares([0, 40]);
      for (let y = 10; y < 50; y++) mask.fill(1, y * BOX.width + 100, y * BOX.width + 104);
      return mask;
    };
    const mask = wire();
    leaveBehind(mask, BOX, SIZE, ways(0));
    expect(Buffer.compare(mask, wire())).toBe(0);
  });

  it('is as far away on a smaller picture as it is seen there, and nothing of an empty mask', () => {
    const mask = squares([0, 20], [33, 14]);
    leaveBehind(mask, BOX, { width: 480, height: 270 }, { ...ways(0), laid: squares([0, 20]) });
    expect(Buffer.compare(mask, squares([0, 20]))).toBe(0);
    const empty = squares();
    leaveBehind(empty, BOX, SIZE, ways(0));
    expect(empty.includes(1)).toBe(false);
  });

  it('tells a subject that lies together from one with a part well away, specks aside', () => {
    const together = (...all: [number, number][]) => isTogether(squares(...all), BOX);
    // The box as a picture: 24 pixels of one of 540 lines are some four.
    expect([together([0, 40]), together([0, 40], [43, 12]), together([0, 40], [60, 12]), together([0, 40], [60, 1]), together()]).toEqual([
      true,
      true,
      false,
      true,
      true,
    ]);
  });
});
