import { describe, expect, it } from 'vitest';
import { placesOf } from '~/core/document/follow.ts';
import { newPointTrack, newRegionTrack } from '~/core/document/records.ts';
import type { Track } from '~/core/document/schema.ts';
import { applyTo } from '~/core/math/homography.ts';
import { motionOf } from '~/core/math/motion.ts';
import { corner } from '~/core/path/path.ts';
import { matchMove, matchMoveCsv, trackFromFile } from './match-move.ts';

const PLATE = { width: 960, height: 540, frames: 60, rate: { num: 24, den: 1 } };
const key = (frame: number, at: number[], quality: number) => ({
  frame,
  value: { at, quality, ...(frame === 4 ? { anchor: true as const } : {}) },
  ease: 'linear' as const,
});
const region: Track = {
  ...newRegionTrack({ id: 'r', name: 'Sign', frame: 4, lines: 540 }, [[corner(100, 100), corner(300, 100), corner(300, 200), corner(100, 200)]], 'perspective'),
  motion: { keys: [key(4, [200, 150], 1), key(5, [203, 151.5, 1.02, 0.03, -0.03, 1.01, 0.0001, -0.00005], 0.93), key(6, [0, 0], 0.2)] },
};
const point: Track = {
  ...newPointTrack({ id: 'p', name: 'Point', frame: 4, lines: 540 }, 10, 20),
  motion: { keys: [key(4, [10, 20], 1), key(5, [11, 22], 0.8)] },
};

describe('a track as a file', () => {
  it.each([
    ['JSON', (t: Track) => JSON.stringify(matchMove(t, PLATE))],
    ['CSV', (t: Track) => matchMoveCsv(matchMove(t, PLATE))],
  ])('comes back from %s with the same motion of the plane', (_kind, write) => {
    const back = trackFromFile('sign.x', write(region), 'new', PLATE);
    expect(back).toMatchObject({ id: 'new', model: 'perspective' });
    for (const [i, { frame, value }] of placesOf(region).entries()) {
      const now = placesOf(back)[i];
      expect([now.frame, now.value.quality]).toEqual([frame, value.quality]);
      if (value.quality < 0.5) continue;
      for (const [x, y] of [
        [100, 100],
        [300, 200],
      ]) {
        const [a, b] = [applyTo(motionOf(value.at, region.pivot), x, y), applyTo(motionOf(now.value.at, back.pivot), x, y)];
        expect(Math.hypot(a[0] - b[0], a[1] - b[1])).toBeLessThan(0.01);
      }
    }
    expect(placesOf(trackFromFile('p', write(point), 'new', PLATE)).map((k) => k.value.at)).toEqual([
      [10, 20],
      [11, 22],
    ]);
  });

  it('of another program needs no more than frame, x and y, in any order, and frames beyond the shot are left out', () => {
    const track = trackFromFile('nodal.csv', 'y;frame;x\n5.5;3;1\n6;2;2\n7;99;3\n', 'n', PLATE);
    expect(track).toMatchObject({ name: 'nodal', kind: 'point', start: 2, pivot: [2, 6] });
    expect(placesOf(track).map((k) => [k.frame, ...k.value.at])).toEqual([
      [2, 2, 6],
      [3, 1, 5.5],
    ]);
  });

  it.each([
    ['frame,y\n1,2\n', 'names no column "x"'],
    ['frame,x,y\n1,here,2\n', 'Line 2: "here" under x is not a number'],
    ['frame,x,y\n1,2,3\n1,2,3\n', 'Frame 1 is in it twice'],
    ['frame,x,y\n1.5,2,3\n', 'Line 2: frame is missing or out of bounds'],
    ['frame,x,y\n', 'no frame of this shot'],
    ['', 'names no column'],
    ['{"format":', 'cut off'],
    ['{"format":"other"}', 'not a track of Mottrel'],
    [JSON.stringify({ ...matchMove(point, PLATE), width: 1920 }), 'for a plate of 1920×540; this one is 960×540'],
  ])('that is wrong is refused in words: %s', (text, words) => {
    expect(() => trackFromFile('bad.csv', text, 'b', PLATE)).toThrow(words);
  });
});
