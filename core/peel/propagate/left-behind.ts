/**
 * What a subject leaves behind: a piece of the surroundings that was taken for it on the painted frame comes off when it goes away, and
 * from there on stays where it is.
 */
import type { Size } from '../../image/picture.ts';
import { clamp } from '../../math/clamp.ts';
import { applyTo, type Homography } from '../../math/homography.ts';
import { type Motion, sureOf } from '../motion/layers.ts';
import { eachComponent } from '../picture/masks.ts';
import { maskDistance } from '../picture/signed-distance.ts';

/** Pixels from which on a piece lies away from the rest, on a picture of 540 lines: a foot that is set down, its leg hidden, is nearer. */
const AWAY = 24;
/** Pieces of fewer pixels tell nothing. */
const SPECK = 60;
/** Pixels from its edge from which on a pixel of a piece tells how that goes: in thin ones flow is that of what is round them. As many as a speck has to. */
const DEEP = 3;
/** Mean sureness of a piece's motion from which on that is believed. */
const BELIEVED = 0.75;
/** Coarse pixels by which it differs at most from that of the surroundings, and at least from that of the subject; and how many times as much. */
const WITH = 0.2;
const NOT_WITH = 0.4;
const TIMES = 4;

/** Share of it, at most, that lies where the painted frame has the subject: what swings is at rest at times, and its pivot always. */
const WHERE_IT_WAS = 0.2;

/** How a frame goes from the one before. */
export interface Ways {
  motion: Motion;
  /** Where each pixel of a box came from if it went with the surroundings: x and y, pixels. */
  from: Float32Array;
  /** How the surroundings go at each coarse pixel of the frame before, and how the subject goes as a whole; coarse pixels. */
  surroundings: Float32Array;
  whole: Homography;
  /** 1 where the painted frame, laid on this one, has the subject. */
  laid: Uint8Array;
  /** Pixels in a row of a coarse one. */
  factor: number;
}

/** Sizes are meant for a picture of 540 lines: the share of its pixels that a smaller one has. */
export const shareOf540 = ({ width, height }: Size): number => Math.min(1, (width * height) / (960 * 540));

/** Those of the asked pieces of a mask in a box that lie well away from its largest one. `size` is that of the picture. */
function piecesAway(mask: Uint8Array, box: Size, size: Size, asked: (pixels: Int32Array) => boolean): Int32Array[] {
  const pieces: Int32Array[] = [];
  eachComponent(mask, box.width, box.height, 1, (pixels) => pieces.push(pixels));
  const [largest, ...others] = pieces.sort((a, b) => b.length - a.length);
  const some = others.filter(asked);
  if (some.length === 0) return [];
  const away = AWAY * Math.sqrt(shareOf540(size));
  const rest = new Uint8Array(mask.length);
  for (const i of largest) rest[i] = 1;
  const distance = maskDistance(rest, box.width, box.height, Math.ceil(away) + 1);
  return some.filter((pixels) => pixels.every((i) => distance[i] < -away));
}

/** Whether all of a mask, but for specks, lies together. */
export const isTogether = (mask: Uint8Array, size: Size): boolean =>
  piecesAway(mask, size, size, (pixels) => pixels.length >= SPECK * shareOf540(size)).length === 0;

/** Whether a piece goes with the surroundings, and not with the subject, by those of its pixels that tell. */
function stays(pixels: Int32Array, { motion: { forward, forwardBackwardError }, from, surroundings, whole, laid, factor }: Ways): boolean {
  const { width, height, data } = forward;
  let [sure, offSurroundings, offSubject, where] = [0, 0, 0, 0];
  for (const i of pixels) {
    const x = clamp(Math.floor(from[2 * i] / factor), 0, width - 1);
    const y = clamp(Math.floor(from[2 * i + 1] / factor), 0, height - 1);
    const j = y * width + x;
    const [u, v] = [data[2 * j], data[2 * j + 1]];
    const [wholeX, wholeY] = applyTo(whole, x, y);
    const weight = sureOf(forwardBackwardError[j]);
    sure += weight;
    where += laid[i];
    offSurroundings += weight * Math.hypot(u - surroundings[2 * j], v - surroundings[2 * j + 1]);
    offSubject += weight * Math.hypot(x + u - wholeX, y + v - wholeY);
  }
  if (sure < BELIEVED * pixels.length || where > WHERE_IT_WAS * pixels.length) return false;
  return offSurroundings <= WITH * sure && offSubject >= Math.max(NOT_WITH * sure, TIMES * offSurroundings);
}

/**
 * Takes away, in place, pieces of a mask in a box that lie well away from its largest one and stay with the surroundings, and gives how
 * many pixels they have. `size` is that of the picture.
 */
export function leaveBehind(mask: Uint8Array, box: Size, size: Size, ways: Ways): number {
  const share = shareOf540(size);
  const deep = DEEP * Math.sqrt(share);
  let depth: Float32Array | null = null;
  const asked = (pixels: Int32Array): boolean => {
    depth ??= maskDistance(mask, box.width, box.height, DEEP + 1);
    const known = depth;
    const telling = pixels.filter((i) => known[i] >= deep);
    return telling.length >= SPECK * share && stays(telling, ways);
  };
  let left = 0;
  for (const pixels of piecesAway(mask, box, size, asked)) {
    for (const i of pixels) mask[i] = 0;
    left += pixels.length;
  }
  return left;
}
