import { copyIn, rawLayer } from '../image/in-room.ts';
import { type Rgba, wholeOf } from '../image/picture.ts';
import { pixelWithin } from '../image/remap.ts';
import { warpInto } from '../image/warp.ts';
import { clamp } from '../math/clamp.ts';
import { type Homography, inverseOf, multiply, translation } from '../math/homography.ts';
import { roomOf } from '../wasm/room.ts';
import { defineEffect } from './effect.ts';
import { choice, number, type Values, type ValuesOf } from './settings.ts';

const SETTINGS = {
  across: number('Across', 'How far the picture is moved to the right.', 'px', [-20_000, 20_000, 0.5], 0, [-1000, 1000]),
  down: number('Down', 'How far it is moved down.', 'px', [-20_000, 20_000, 0.5], 0, [-1000, 1000]),
  scale: number('Scale', '100 is as large as it is.', '%', [1, 10_000, 0.5], 100, [50, 300]),
  turn: number('Turn', 'Clockwise, in degrees.', '°', [-36_000, 36_000, 0.5], 0, [-180, 180]),
  middleX: number(
    'Middle X',
    'The place that stays where it is when it grows and turns, from the left side of the picture.',
    '%',
    [-100, 200, 0.5],
    50,
    [0, 100],
  ),
  middleY: number('Middle Y', 'The same, from the top.', '%', [-100, 200, 0.5], 50, [0, 100]),
  shutter: number('Motion blur', 'How long the shutter is open for its own motion; 180 is usual for film, 0 is none.', '°', [0, 720, 5], 0, [0, 360]),
  sides: choice('Beyond', 'What is seen where the picture ends.', { hold: 'Its last pixels', mirror: 'A mirror', wrap: 'The other side', black: 'Black' }),
} as const;
type V = ValuesOf<typeof SETTINGS>;

/** Instants at which an open shutter looks, at most; and how many pixels may lie between two of them. */
const MOST_LOOKS = 32;
const STEP = 1.5;

/** Takes places of a picture of a size, (0, 0) its left top corner, to where they are seen. @param scale pixels of it for one of the plate */
export function motionOf(values: Values, scale: number, width: number, height: number): Homography {
  const v = values as V;
  const [mx, my] = [(width * v.middleX) / 100, (height * v.middleY) / 100];
  const turn = (v.turn * Math.PI) / 180;
  const [c, s] = [(Math.cos(turn) * v.scale) / 100, (Math.sin(turn) * v.scale) / 100];
  return multiply(translation(mx + v.across * scale, my + v.down * scale), multiply([c, -s, 0, s, c, 0, 0, 0, 1], translation(-mx, -my)));
}

/** How far the corners of the picture go at most between two motions, pixels. */
function farthest(a: Homography, b: Homography, width: number, height: number): number {
  let far = 0;
  for (const [x, y] of [
    [0, 0],
    [width, 0],
    [0, height],
    [width, height],
  ]) {
    const [dx, dy] = [(a[0] - b[0]) * x + (a[1] - b[1]) * y + a[2] - b[2], (a[3] - b[3]) * x + (a[4] - b[4]) * y + a[5] - b[5]];
    far = Math.max(far, Math.hypot(dx, dy));
  }
  return far;
}

/** Fills what is seen beyond the picture. */
function fillBeyond(out: Rgba, picture: Rgba, back: Homography, sides: Exclude<V['sides'], 'black'>): void {
  const { width, height, data } = out;
  for (let y = 0, o = 0; y < height; y++)
    for (let x = 0; x < width; x++, o += 4) {
      const u = Math.floor(back[0] * (x + 0.5) + back[1] * (y + 0.5) + back[2]);
      const v = Math.floor(back[3] * (x + 0.5) + back[4] * (y + 0.5) + back[5]);
      // A cubic reaches two pixels over the side.
      if (u >= 2 && v >= 2 && u < width - 2 && v < height - 2) continue;
      const s = 4 * (pixelWithin(v, height, sides) * width + pixelWithin(u, width, sides));
      for (let k = 0; k < 4; k++) data[o + k] = picture.data[s + k];
    }
}

export const framingEffect = defineEffect({
  id: 'framing',
  label: 'Framing',
  about: 'Moves, scales and turns the whole picture under it; what lies above it in the lane stays out of that.',
  settings: SETTINGS,
  whole: true,
  mixes: true,
  pictures: 2,
  render(layer, values, { scale, frame, valuesAt }) {
    const { width, height } = layer;
    const at = (time: number) => motionOf(valuesAt(time), scale, width, height);
    const half = values.shutter / 720;
    const way = half > 0 ? farthest(at(frame - half), at(frame + half), width, height) : 0;
    const looks = way > 0.25 ? clamp(Math.ceil(way / STEP), 2, MOST_LOOKS) : 1;
    const room = roomOf(layer.data);
    const mark = room?.mark() ?? 0;
    const picture = copyIn(room, layer);
    const one = rawLayer(room, wholeOf(layer));
    layer.data.fill(0);
    for (let k = 0; k < looks; k++) {
      const back = inverseOf(at(looks === 1 ? frame : frame + half * ((2 * (k + 0.5)) / looks - 1)));
      if (!back) continue;
      warpInto(one, picture, back);
      if (values.sides !== 'black') fillBeyond(one, picture, back, values.sides);
      for (let i = 0; i < layer.data.length; i++) layer.data[i] += one.data[i] / looks;
    }
    // An opaque picture stays opaque: beyond it there is black.
    if (values.sides === 'black' && picture.data[3] === 1) for (let i = 3; i < layer.data.length; i += 4) layer.data[i] = 1;
    room?.release(mark);
  },
});
