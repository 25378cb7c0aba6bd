/**
 * The subject on one frame, from strokes: colour models of what was painted decide, a minimum cut finds the boundary, first on
 * a picture of a quarter of the size, then in a narrow band at full size (after C. Rother, V. Kolmogorov, A. Blake, "GrabCut",
 * SIGGRAPH 2004; coarse to fine after H. Lombaert et al., ICCV 2005), and once more by the colours on both sides of each place.
 */

import type { Size } from '../../image/picture.ts';
import { logitOf } from '../colour/colour-model.ts';
import { coarseSeeds, mendTable, paintedPixels, SURROUNDINGS, tableOf, tellsNothing } from '../colour/colour-tables.ts';
import { colourSays, colourWeight, WINDOW, windowsAlong } from '../colour/windows.ts';
import { cellsIn, type PreparedFrame } from '../motion/prepared-frame.ts';
import { boxRound, boxWithin, cropLab, cropMask, paste } from '../picture/crop.ts';
import type { LabPicture } from '../picture/lab.ts';
import { bandOf, dilate, eachComponent } from '../picture/masks.ts';
import { maskDistance } from '../picture/signed-distance.ts';
import { CUT_SETTINGS, type CutSettings } from '../settings.ts';
import { DROP, KEEP, NOT_PAINTED } from '../strokes/strokes.ts';
import { geodesicDistances } from './geodesic.ts';
import { cutUndecided, decidePainted } from './graph-cut.ts';
import { type MotionPull, motionEvidence, type Pull } from './motion-evidence.ts';

/** Pixels on each side of the coarse boundary that are decided again at full size. */
const BAND = 7;
/** No colour is surer than this. */
export const EPSILON = 1e-4;
/** From this many strokes on the first result is good enough to learn local colours from. */
const LOCAL_FROM = 6;
const LOCAL_BAND = 10;
/** Pixels round the subject that can have a say in its edge: the band, and the windows of colour. */
const ROOM = LOCAL_BAND + 2 + WINDOW + 2;
/** Pull, in nats a pixel, towards where the edge was found at first. */
const LOCAL_SHAPE = 0.15;
/** With this many strokes or more their colours need no help from nearness. */
const ENOUGH_STROKES = 6;

/** Where nothing is dropped yet, the rim of the picture counts as dropped, but for what is kept there. */
function withRim(seeds: Uint8Array, width: number, height: number): Uint8Array {
  if (seeds.includes(DROP)) return seeds;
  const out = seeds.slice();
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) if ((x < 2 || y < 2 || x >= width - 2 || y >= height - 2) && out[y * width + x] === NOT_PAINTED) out[y * width + x] = DROP;
  return out;
}

/** Drops pieces without a keep stroke and fills small holes without a drop stroke, in place; of a part, only those that lie wholly in it. */
function tidy(mask: Uint8Array, seeds: Uint8Array, { width, height }: Size, { separatePieces, holes }: CutSettings, part = false): void {
  if (!separatePieces)
    eachComponent(mask, width, height, 1, (pixels, atBorder) => {
      if (!(part && atBorder) && !pixels.some((i) => seeds[i] === KEEP)) for (const i of pixels) mask[i] = 0;
    });
  if (holes > 0)
    eachComponent(mask, width, height, 0, (pixels, atBorder) => {
      if (!atBorder && pixels.length < holes && !pixels.some((i) => seeds[i] === DROP)) for (const i of pixels) mask[i] = 1;
    });
}

/** Adds the second to the first, in place. */
function addTo(to: Float32Array, more: Float32Array): Float32Array {
  for (let i = 0; i < to.length; i++) to[i] += more[i];
  return to;
}

/** What a frame was cut to, 1 for the subject, and how likely each cell of colour in it is the subject's by what strokes taught. */
export interface Cut {
  mask: Uint8Array;
  table: Float32Array;
}

/** And what the motions of what is painted say; null where nothing. */
export interface NewCut extends Cut {
  motion: MotionPull | null;
}

/** What was cut before one more stroke. */
export interface Before {
  mask: Uint8Array;
  /** The stroke as it is painted: KEEP or DROP where it is. */
  stroke: Uint8Array;
  /** Pixels from the stroke's box beyond which nothing is cut anew. */
  reach: number;
  /** Whether what is far from the stroke is drawn to what it was. */
  leans: boolean;
  /** Whether the mask teaches colours too, since it did not come from strokes of this frame. */
  teaches: boolean;
}

/** Pull, in nats, towards what was cut before, so many pixels from the new stroke and farther; on the stroke itself it is none. */
const LEAN = 9;
const LEAN_FROM = 90;

/** 1 where a stroke is. */
function setBy(stroke: Uint8Array): Uint8Array {
  const set = new Uint8Array(stroke.length);
  for (const i of paintedPixels(stroke)) set[i] = 1;
  return set;
}

/** How much each pixel is drawn to what it was before; `set` is 1 where the stroke is. */
function leanTo(mask: Uint8Array, set: Uint8Array, { fine: { width, height }, coarse, factor }: PreparedFrame): Pull {
  const near = boxRound(set, width, height, LEAN_FROM);
  const away = near && maskDistance(cropMask(set, width, near), near.width, near.height, LEAN_FROM);
  const at = (x: number, y: number): number => {
    const lean = mask[y * width + x] ? LEAN : -LEAN;
    if (!near || !away) return lean;
    const [u, v] = [x - near.left, y - near.top];
    if (u < 0 || v < 0 || u >= near.width || v >= near.height) return lean;
    return (lean * Math.max(0, -away[v * near.width + u])) / LEAN_FROM;
  };
  /** On every so many pixels from a place on. */
  const over = (left: number, top: number, size: Size, every: number): Float32Array => {
    const out = new Float32Array(size.width * size.height);
    for (let y = 0, i = 0; y < size.height; y++) for (let x = 0; x < size.width; x++, i++) out[i] = at(left + x * every, top + y * every);
    return out;
  };
  // A coarse pixel is drawn as its middle is.
  const middle = factor >> 1;
  return { coarse: () => over(middle, middle, coarse, factor), fine: (box) => over(box.left, box.top, box, 1) };
}

/**
 * The subject on the prepared frame.
 * @param seeds what is painted at each pixel, see paintStrokes
 * @param strokes how many strokes that came from: the fewer, the more nearness to them counts
 */
export function cutFrame(frame: PreparedFrame, seeds: Uint8Array, strokes: number, settings: CutSettings = CUT_SETTINGS, before: Before | null = null): NewCut {
  const { fine, coarse, factor } = frame;
  const { width, height } = fine;
  const mask = new Uint8Array(width * height);
  const teacher = before?.teaches && before.mask.includes(1) ? before.mask : null;
  if (!seeds.includes(KEEP) && !teacher) return { mask, table: tellsNothing(), motion: null };
  const all = teacher ? seeds : withRim(seeds, width, height);
  const painted = paintedPixels(all);
  const table = teacher ? mendTable(frame, teacher, all, painted, cellsIn(frame)) : tableOf(fine, all, painted, cellsIn(frame));
  const small = coarseSeeds(all, painted, width, coarse, factor);
  const logit = new Float32Array(coarse.width * coarse.height);
  const odds = new Float32Array(table.length);
  for (const cell of cellsIn(frame)) odds[cell] = logitOf(table[cell], EPSILON);
  for (let i = 0; i < logit.length; i++) logit[i] = odds[coarse.cell[i]];
  const nearness = Math.max(0, 1 - strokes / ENOUGH_STROKES);
  if (nearness > 0) {
    const [toKeep, toDrop] = geodesicDistances(coarse, small, [KEEP, DROP]);
    for (let i = 0; i < logit.length; i++) if (toKeep[i] + toDrop[i] > 0) logit[i] += nearness * 4 * ((toDrop[i] - toKeep[i]) / (toDrop[i] + toKeep[i]));
  }
  const set = before && setBy(before.stroke);
  const motion = motionEvidence(frame, frame.beside, small, settings.motion);
  const pulls = [set && before.leans ? leanTo(before.mask, set, frame) : null, motion].filter((p) => p !== null);
  for (const pull of pulls) addTo(logit, pull.coarse());
  const labels = new Uint8Array(logit.length);
  const undecided = new Uint8Array(logit.length).fill(1);
  decidePainted(labels, undecided, small);
  cutUndecided(coarse, labels, undecided, logit, { strength: settings.smoothness, beta: frame.betaCoarse });
  tidy(labels, small, coarse, { ...settings, holes: settings.holes / factor ** 2 });
  if (factor === 1) return { mask: labels, table, motion };

  for (let y = 0; y < height; y++) {
    const at = y * width;
    const v = Math.min(coarse.height - 1, (y / factor) | 0);
    if (y > v * factor) {
      mask.copyWithin(at, at - width, at);
      continue;
    }
    // The last one reaches to the border.
    for (let u = 0; u < coarse.width; u++)
      if (labels[v * coarse.width + u]) mask.fill(1, at + u * factor, u + 1 < coarse.width ? at + (u + 1) * factor : at + width);
  }
  // Strokes hold at full size too, and what they turn is decided again round them.
  for (const i of painted) if (seeds[i] !== NOT_PAINTED) mask[i] = seeds[i] === KEEP ? 1 : 0;
  const whole = boxRound(mask, width, height, ROOM);
  // What lies farther from a bounded stroke has no say in what it changes.
  const bounded = before && before.reach < Number.POSITIVE_INFINITY ? before : null;
  const near = set && bounded ? boxRound(set, width, height, bounded.reach + ROOM) : whole;
  const box = whole && near && boxWithin(whole, near);
  if (box) {
    const part: Part = {
      picture: cropLab(fine, box),
      bounded: bounded !== null,
      mask: cropMask(mask, width, box),
      seeds: cropMask(seeds, width, box),
      beta: frame.betaFine,
      adds: !before?.leans || before.stroke.includes(KEEP),
      lean: pulls.length > 0 ? pulls.map((pull) => pull.fine(box)).reduce(addTo) : null,
    };
    cutFinely(part, odds, settings);
    if (strokes >= LOCAL_FROM) cutLocally(part, table, settings);
    paste(mask, width, part.mask, box);
  }
  if (!set || !bounded) return { mask, table, motion };
  const out = bounded.mask.slice();
  const changed = boxRound(set, width, height, bounded.reach);
  if (changed) paste(out, width, cropMask(mask, width, changed), changed);
  return { mask: out, table, motion };
}

/** Times that what stands out is told anew by its own colours. */
const REFITS = 3;
/** Coarse pixels from the edge of what stands out that are not taken for sure. */
const SURE = 2;

/**
 * Seeds for a frame of which what is dropped is known all round the subject: what stands out from that by its colours is kept
 * (C. Rother, V. Kolmogorov, A. Blake, "GrabCut", SIGGRAPH 2004, from a loop), but for what lies near its edge; and what is kept already.
 */
export function standsOut(frame: PreparedFrame, seeds: Uint8Array): Uint8Array {
  const { fine, coarse, factor } = frame;
  const small = coarseSeeds(seeds, paintedPixels(seeds), fine.width, coarse, factor);
  const open = new Uint8Array(small.length);
  for (let i = 0; i < open.length; i++) if (small[i] === NOT_PAINTED) open[i] = 1;
  const near = dilate(open, coarse.width, coarse.height, Math.ceil(SURROUNDINGS / 4));
  let labels = open.slice();
  for (let i = 0; i < labels.length; i++) if (small[i] === KEEP) labels[i] = 1;
  for (let round = 0; round < REFITS && labels.includes(1); round++) {
    const known = new Uint8Array(small.length);
    for (let i = 0; i < known.length; i++) known[i] = labels[i] ? KEEP : near[i] ? DROP : NOT_PAINTED;
    const table = tableOf(coarse, known, paintedPixels(known), cellsIn(frame));
    const logit = new Float32Array(small.length);
    for (let i = 0; i < logit.length; i++) logit[i] = logitOf(table[coarse.cell[i]], EPSILON);
    const next = new Uint8Array(small.length);
    for (let i = 0; i < next.length; i++) if (small[i] === KEEP) next[i] = 1;
    cutUndecided(coarse, next, open, logit, { strength: CUT_SETTINGS.smoothness, beta: frame.betaCoarse });
    labels = next;
  }
  const distance = maskDistance(labels, coarse.width, coarse.height, SURE + 2);
  const out = seeds.slice();
  for (let y = 0; y < fine.height; y++)
    for (let x = 0; x < fine.width; x++) {
      const at = y * fine.width + x;
      const u = Math.min(coarse.width - 1, Math.floor(x / factor));
      const v = Math.min(coarse.height - 1, Math.floor(y / factor));
      if (out[at] === NOT_PAINTED && distance[v * coarse.width + u] > SURE) out[at] = KEEP;
    }
  return out;
}

/** The part of a frame round the subject. */
interface Part {
  picture: LabPicture;
  /** Whether there is more of the subject beyond it, which is not decided anew. */
  bounded: boolean;
  mask: Uint8Array;
  seeds: Uint8Array;
  beta: number;
  /** Whether what was left out may be kept after all: not after a stroke that takes something away. */
  adds: boolean;
  /** What each pixel is drawn to beside what its colour says, in nats; null where to nothing. */
  lean: Float32Array | null;
}

/**
 * Decides again at full size, in place, a band round the edge and what was left out though all that is known of it speaks for the
 * subject: what is thin is lost in a smaller picture.
 * @param odds of each cell of colour, as logits
 */
function cutFinely({ picture, bounded, mask, seeds, beta, adds, lean }: Part, odds: Float32Array, settings: CutSettings): void {
  const { width, height, cell } = picture;
  const band = bandOf(mask, width, height, BAND);
  const logit = new Float32Array(mask.length);
  for (let i = 0; i < band.length; i++) {
    if (mask[i] && !band[i]) continue;
    const pull = odds[cell[i]] + (lean ? lean[i] : 0);
    if (adds && pull > 0) band[i] = 1;
    logit[i] = pull;
  }
  decidePainted(mask, band, seeds);
  cutUndecided(picture, mask, band, logit, { strength: settings.smoothness, beta });
  tidy(mask, seeds, picture, settings, bounded);
}

/** Decides the band round the edge again by the colours of both sides near each place, in place. */
function cutLocally({ picture, bounded, mask, seeds, beta, lean }: Part, table: Float32Array, settings: CutSettings): void {
  const { width, height } = picture;
  const distance = maskDistance(mask, width, height, LOCAL_BAND + 2);
  const band = new Uint8Array(mask.length);
  for (let i = 0; i < band.length; i++) band[i] = Math.abs(distance[i]) <= LOCAL_BAND ? 1 : 0;
  const { likely, trust } = colourSays(picture, { left: 0, top: 0 }, band, table, windowsAlong(picture, mask, distance, table));
  decidePainted(mask, band, seeds);
  const logit = new Float32Array(band.length);
  for (let i = 0; i < band.length; i++)
    if (band[i]) logit[i] = LOCAL_SHAPE * distance[i] + colourWeight(trust[i]) * logitOf(likely[i], EPSILON) + (lean ? lean[i] : 0);
  cutUndecided(picture, mask, band, logit, { strength: settings.smoothness / 2, beta });
  tidy(mask, seeds, picture, settings, bounded);
}
