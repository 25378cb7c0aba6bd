/**
 * How likely each colour is the subject's: by what is painted on a frame, by a finished mask of it, or by a mask and what is painted
 * to mend it.
 */

import type { PreparedFrame } from '../motion/prepared-frame.ts';
import { boxRound, cropMask } from '../picture/crop.ts';
import { CELLS, type LabPicture } from '../picture/lab.ts';
import { bandOf, dilate, foursOf } from '../picture/masks.ts';
import { maskDistance } from '../picture/signed-distance.ts';
import { DROP, KEEP, NOT_PAINTED } from '../strokes/strokes.ts';
import { fitMixture, posteriorTable } from './colour-model.ts';

/** A table of colours of which nothing is known. */
export const tellsNothing = (): Float32Array => new Float32Array(CELLS ** 3).fill(0.5);

const GAUSSIANS = 5;
const MOST_SAMPLES = 1500;

/** The pixels on which something is painted, rising. */
export function paintedPixels(seeds: Uint8Array): Int32Array {
  let pixels = new Int32Array(1024);
  let count = 0;
  const add = (i: number) => {
    if (seeds[i] === NOT_PAINTED) return;
    if (count === pixels.length) {
      const more = new Int32Array(2 * count);
      more.set(pixels);
      pixels = more;
    }
    pixels[count++] = i;
  };
  // Most of a picture is not painted, and passed over four pixels at a time.
  const fours = foursOf(seeds);
  for (let k = 0; k < fours.length; k++) if (fours[k] !== 0) for (let i = 4 * k; i < 4 * k + 4; i++) add(i);
  for (let i = 4 * fours.length; i < seeds.length; i++) add(i);
  return pixels.slice(0, count);
}

/** Colours of the painted pixels with this value, at most MOST_SAMPLES of them, evenly taken. */
function coloursOf({ lab }: LabPicture, seeds: Uint8Array, painted: Int32Array, value: number): Float32Array {
  let count = 0;
  for (let k = 0; k < painted.length; k++) if (seeds[painted[k]] === value) count++;
  const every = Math.max(1, Math.ceil(count / MOST_SAMPLES));
  const out = new Float32Array(3 * Math.ceil(count / every));
  let seen = 0;
  let to = 0;
  for (let k = 0; k < painted.length; k++) {
    const i = painted[k];
    if (seeds[i] !== value || seen++ % every !== 0) continue;
    out[to++] = lab[3 * i];
    out[to++] = lab[3 * i + 1];
    out[to++] = lab[3 * i + 2];
  }
  return out;
}

/** Seeds at the coarse size: what is painted anywhere in a coarse pixel counts; where both are, neither. */
export function coarseSeeds(seeds: Uint8Array, painted: Int32Array, width: number, { width: w, height: h }: LabPicture, factor: number): Uint8Array {
  const out = new Uint8Array(w * h);
  for (let k = 0; k < painted.length; k++) {
    const i = painted[k];
    const x = ((i % width) / factor) | 0;
    const y = (i / width / factor) | 0;
    if (x < w && y < h) out[y * w + x] |= seeds[i];
  }
  for (let i = 0; i < out.length; i++) if (out[i] === (KEEP | DROP)) out[i] = NOT_PAINTED;
  return out;
}

/** How likely each cell of colour (of those that are asked for) is the subject's, by the pixels that are kept and dropped. */
export function tableOf(picture: LabPicture, seeds: Uint8Array, painted: Int32Array, cells: Uint16Array | null): Float32Array {
  const mixtureOf = (value: number) => fitMixture(coloursOf(picture, seeds, painted, value), GAUSSIANS);
  return posteriorTable(mixtureOf(KEEP), mixtureOf(DROP), cells);
}

/** Pixels within this of the edge are mixed colours, and no samples. */
const MIXED = 2;
/** Surroundings count as far as this from the subject's edge. */
export const SURROUNDINGS = 120;

/** How likely each cell of colour is the subject's, by a finished mask of the frame: what carrying goes by. */
export function anchorTable({ fine }: Pick<PreparedFrame, 'fine'>, mask: Uint8Array): Float32Array {
  const { width, height } = fine;
  const mixed = bandOf(mask, width, height, MIXED);
  const near = dilate(mask, width, height, SURROUNDINGS);
  const known = new Uint8Array(mask.length);
  for (let i = 0; i < known.length; i++) known[i] = mixed[i] ? NOT_PAINTED : mask[i] ? KEEP : near[i] ? DROP : NOT_PAINTED;
  return tableOf(fine, known, paintedPixels(known), null);
}

/** How far from a mask the colours round it are asked, pixels. */
const ROUND = 8;

/** How much likelier the subject's, by a table, the colours in a mask are on average than those beside it, [-1,1]; 0 where one of them is nothing. */
export function likelierThanBeside({ width, height, cell }: LabPicture, mask: Uint8Array, table: Float32Array): number {
  const box = boxRound(mask, width, height, ROUND);
  if (!box) return 0;
  const distance = maskDistance(cropMask(mask, width, box), box.width, box.height, ROUND + 1);
  // Of what is beside it, and of what is in it.
  const likely = [0, 0];
  const count = [0, 0];
  for (let y = 0, i = 0; y < box.height; y++)
    for (let x = 0; x < box.width; x++, i++) {
      if (distance[i] < -ROUND || (distance[i] < 0 && distance[i] > -MIXED)) continue;
      const side = distance[i] > 0 ? 1 : 0;
      likely[side] += table[cell[(y + box.top) * width + x + box.left]];
      count[side]++;
    }
  return count[0] > 0 ? likely[1] / count[1] - likely[0] / count[0] : 0;
}

/** Pixels round a stroke within which a mask that says otherwise is not believed. */
const DOUBTED = 12;

/** What a mask tells for sure of coarse pixels: KEEP where all of one is in it, DROP where nothing is, but for what is far away. */
function coarseOfMask(mask: Uint8Array, width: number, { width: w, height: h }: LabPicture, factor: number): Uint8Array {
  const known = new Uint8Array(w * h);
  const any = new Uint8Array(w * h);
  for (let y = 0; y < h; y++)
    for (let x = 0; x < w; x++) {
      let inside = 0;
      for (let v = 0; v < factor; v++) for (let u = 0; u < factor; u++) inside += mask[(y * factor + v) * width + x * factor + u];
      if (inside === factor * factor) known[y * w + x] = KEEP;
      if (inside > 0) any[y * w + x] = 1;
    }
  const near = dilate(any, w, h, Math.ceil(SURROUNDINGS / factor));
  for (let i = 0; i < known.length; i++) if (near[i] && !any[i]) known[i] = DROP;
  return known;
}

/**
 * How likely each cell of colour is the subject's, by a mask and by what is painted to mend it. Near strokes that say otherwise the
 * mask is not believed.
 */
export function mendTable({ fine, coarse, factor }: PreparedFrame, mask: Uint8Array, seeds: Uint8Array, painted: Int32Array, cells: Uint16Array): Float32Array {
  const known = coarseOfMask(mask, fine.width, coarse, factor);
  const small = coarseSeeds(seeds, painted, fine.width, coarse, factor);
  for (const value of [KEEP, DROP]) {
    const near = dilate(
      small.map((v) => (v === value ? 1 : 0)),
      coarse.width,
      coarse.height,
      Math.ceil(DOUBTED / factor),
    );
    for (let i = 0; i < near.length; i++) if (near[i] && known[i] === KEEP + DROP - value) known[i] = NOT_PAINTED;
  }
  const pixels = paintedPixels(known);
  const mixtureOf = (value: number) => {
    const [own, more] = [coloursOf(fine, seeds, painted, value), coloursOf(coarse, known, pixels, value)];
    const both = new Float32Array(own.length + more.length);
    both.set(own);
    both.set(more, own.length);
    return both.length > 0 ? fitMixture(both, GAUSSIANS) : null;
  };
  const [keep, drop] = [mixtureOf(KEEP), mixtureOf(DROP)];
  // With one side alone colours tell nothing.
  return keep && drop ? posteriorTable(keep, drop, cells) : tellsNothing();
}
