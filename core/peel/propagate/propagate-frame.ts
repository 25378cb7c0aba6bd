/**
 * Carrying a result to the next frame: the outline moves with the subject's own motion, then a minimum cut settles it in a band
 * by colour (models of the anchor frame, never learned from results), by where it was expected, and by which of two layers,
 * subject or surroundings, explains each pixel's motion. After X. Bai, J. Wang, D. Simons, G. Sapiro, "Video SnapCut",
 * SIGGRAPH 2009, for trusting colour as far as it was right on the frame before.
 */
import type { Box, Gray, Size } from '../../image/picture.ts';
import { clamp } from '../../math/clamp.ts';
import { type Homography, IDENTITY, inverseOf, multiply, translation } from '../../math/homography.ts';
import { logitOf } from '../colour/colour-model.ts';
import { anchorTable } from '../colour/colour-tables.ts';
import { colourSays, colourWeight, WINDOW, type Windows, windowsAlong } from '../colour/windows.ts';
import { cutUndecided, decidePainted } from '../cut/graph-cut.ts';
import { enlarged, motionEvidence, neighbourOf } from '../cut/motion-evidence.ts';
import { distanceAt, FAR, layerErrors, layerMotion, type Motion, reversed, sources } from '../motion/layers.ts';
import { type Flow, pyramidOf } from '../motion/optical-flow.ts';
import type { PreparedFrame } from '../motion/prepared-frame.ts';
import { boxAround, boxRound, cropLab, cropMask, paste } from '../picture/crop.ts';
import { eachComponent } from '../picture/masks.ts';
import { maskDistance } from '../picture/signed-distance.ts';
import type { PropagationSettings } from '../settings.ts';
import { DROP, KEEP, NOT_PAINTED } from '../strokes/strokes.ts';
import { settleSources } from './edge-motion.ts';
import { globalSimilarity } from './global-similarity.ts';
import { isTogether, leaveBehind, shareOf540 } from './left-behind.ts';
import { believe, boxRoundPainted, laidOnto, type Painted } from './registration.ts';

const EPSILON = 0.003;
/** The log of the odds of what is that sure. */
const SUREST = logitOf(1, EPSILON);
const WORST_MEAN = 15;
/** Error from which on a pixel well inside may have been covered by something. */
const COVERED = 12;
/** Room round the subject's box, at most, and what is left of it beyond its motion and the band; pixels. */
const ROOM = 64;
const SPARE = 4;

/** What is measured while carrying a frame. */
export interface PropagationSignals {
  /** Share of the pixels beside the edge whose colours were the other side's on the painted frame, [0,1]. */
  unlike: number;
  /** Share of the edge that is not where the motion since the frame before brings it, [0,1]. */
  strayed: number;
  /** Pixels kept. */
  area: number;
  /** How far, on average over them, what the painted frame says is believed, [0,1]. */
  belief: number;
  /** Pixels that were taken away since they were left behind. */
  left: number;
}

export interface Propagated {
  mask: Uint8Array;
  /** Where the anchor's windows are now. */
  centres: Float32Array;
  /** Where each pixel of a box came from if it is the subject's: x and y; null where there was no subject. */
  came: { box: Box; from: Float32Array } | null;
  /** The subject's motion as a whole, from this frame back to the painted one, or to the one before where that is not looked at. */
  back: Homography;
  /** Its motion as a whole from the frame before to this one, or how it went before where too little tells; null where neither is known. */
  pace: Homography | null;
  signals: PropagationSignals;
}

/** A zone on the frame before, where it has gone with the subject. */
export function movedZone(zone: Uint8Array, { came }: Propagated, width: number, height: number): Uint8Array {
  const out = new Uint8Array(zone.length);
  if (!came) return out;
  const { box, from } = came;
  for (let y = 0; y < box.height; y++)
    for (let x = 0; x < box.width; x++) {
      const i = 2 * (y * box.width + x);
      const u = Math.round(from[i]);
      const v = Math.round(from[i + 1]);
      if (u >= 0 && v >= 0 && u < width && v < height) out[(y + box.top) * width + x + box.left] = zone[v * width + u];
    }
  return out;
}

/** The brightness of a frame's coarse picture in levels, for the flow between two frames. */
export function brightness({ coarse }: PreparedFrame): Gray[] {
  const data = new Float32Array(coarse.width * coarse.height);
  for (let i = 0; i < data.length; i++) data[i] = 2.55 * coarse.lab[3 * i];
  return pyramidOf({ width: coarse.width, height: coarse.height, data });
}

/** Places of windows on the next frame: each goes with the mean motion of the subject's pixels in it. */
function movedWindows(centres: Float32Array, layer: Float32Array, flow: Flow, factor: number): Float32Array {
  const out = new Float32Array(centres.length);
  for (let k = 0; k < centres.length; k += 2) {
    const r = WINDOW / 2 / factor;
    const [cx, cy] = [centres[k] / factor, centres[k + 1] / factor];
    let [u, v, count] = [0, 0, 0];
    for (let y = Math.max(0, Math.ceil(cy - r)); y <= Math.min(flow.height - 1, cy + r); y++)
      for (let x = Math.max(0, Math.ceil(cx - r)); x <= Math.min(flow.width - 1, cx + r); x++) {
        u += layer[2 * (y * flow.width + x)];
        v += layer[2 * (y * flow.width + x) + 1];
        count++;
      }
    out[k] = centres[k] + (count > 0 ? (u / count) * factor : 0);
    out[k + 1] = centres[k + 1] + (count > 0 ? (v / count) * factor : 0);
  }
  return out;
}

/** The mean move from places (x and y of each) to others. */
export function meanTranslation(from: Float32Array, to: Float32Array): [number, number] {
  const gone: [number, number] = [0, 0];
  for (let k = 0; k < from.length; k++) gone[k % 2] += (to[k] - from[k]) / (from.length / 2);
  return gone;
}

/** Nats for each unit by which the motion of one side as a whole explains a pixel better than that of the other. */
const WHOLE_WEIGHT = 0.6;
/** So much of it is not believed: what the subject has just left or come from is explained by neither. */
const DOUBTED = 4;
/** How little the edge yields where the painted frame, laid on this one, is believed. */
const STRICT = 0.95;
/** Pixels from the edge from which on a side is sure enough to tell how it moves. */
const SURE = 5;

/**
 * How much better pixels of the box go along with the subject as a whole than with its surroundings, in nats; null where that cannot be
 * told. It leaves behind what was carried along by mistake; it draws nothing to the subject, since what comes to be seen behind it was
 * hidden on the frame before, and no motion explains it.
 * @param edge signed distance from where the subject's edge is expected on `next`
 */
function goesAlong(before: PreparedFrame, next: PreparedFrame, motion: Motion, edge: Float32Array, box: Box): Float32Array | null {
  const { factor, coarse } = next;
  const known = new Uint8Array(coarse.width * coarse.height);
  for (let y = 0; y < coarse.height; y++)
    for (let x = 0; x < coarse.width; x++) {
      const d = distanceAt(edge, box, factor, x, y);
      known[y * coarse.width + x] = d > SURE ? KEEP : d < -SURE ? DROP : NOT_PAINTED;
    }
  return motionEvidence(next, [neighbourOf(before, reversed(motion))], known, WHOLE_WEIGHT)?.fine(box) ?? null;
}

/** Pixels round a subject's box within which it is on the next frame: as far as its layer moves, and the band in which its edge is looked for. */
function roomFor(layer: Float32Array, factor: number, band: number): number {
  let gone = 0;
  for (let i = 0; i < layer.length; i++) gone = Math.max(gone, Math.abs(layer[i]));
  return clamp(Math.ceil(factor * gone) + band + SPARE, FAR, ROOM);
}

/** The distance that the place had which each pixel of the box came from. */
function distanceAtSources(from: Float32Array, distance: Float32Array, { left, top, width, height }: Box): Float32Array {
  const out = new Float32Array(distance.length).fill(-FAR);
  for (let i = 0; i < out.length; i++) {
    const x = Math.round(from[2 * i]) - left;
    const y = Math.round(from[2 * i + 1]) - top;
    if (x >= 0 && y >= 0 && x < width && y < height) out[i] = distance[y * width + x];
  }
  return out;
}

/** The distance in a larger box, where all that is new is far from the subject. */
function distanceIn(box: Box, distance: Float32Array, near: Box): Float32Array {
  const out = new Float32Array(box.width * box.height).fill(-FAR);
  paste(out, box.width, distance, { ...near, left: near.left - box.left, top: near.top - box.top });
  return out;
}

function insideOf(distance: Float32Array): Uint8Array {
  const mask = new Uint8Array(distance.length);
  for (let i = 0; i < mask.length; i++) mask[i] = distance[i] > 0 ? 1 : 0;
  return mask;
}

/** Pixels in a band round the edge that is expected, and those within that may have been covered by something. */
function undecidedBy(edge: Float32Array, error: Float32Array, band: number): Uint8Array {
  const undecided = new Uint8Array(edge.length);
  for (let i = 0; i < edge.length; i++) undecided[i] = (edge[i] >= -band && edge[i] <= band) || (edge[i] > 0 && error[i] > COVERED) ? 1 : 0;
  return undecided;
}

/** What speaks for and against each pixel of a box. */
interface Evidence {
  box: Box;
  undecided: Uint8Array;
  /** Signed distance from where the edge is expected. */
  edge: Float32Array;
  colour: { likely: Float32Array; trust: Float32Array };
  /** How badly the motion of either layer explains it. */
  error: { keep: Float32Array; drop: Float32Array };
  /** See {@link goesAlong}. */
  along: Float32Array | null;
  /** How far the painted frame, laid on this one, is believed. */
  belief: Float32Array | null;
  /** Of coarse pixels of the frame before, on a grid of `factor` by `factor` of its own: see {@link Motion}. */
  forwardBackwardError: Float32Array;
  grid: Size;
  factor: number;
}

/** How much each undecided pixel is drawn to be kept, in nats. */
function pullsOf(
  { box, undecided, edge, colour, error, along, belief, forwardBackwardError, grid, factor }: Evidence,
  { band, slack, motion }: PropagationSettings,
): Float32Array {
  const pull = new Float32Array(edge.length);
  for (let y = 0, i = 0; y < box.height; y++) {
    const row = Math.min(grid.height - 1, Math.floor((y + box.top) / factor)) * grid.width;
    for (let x = 0; x < box.width; x++, i++) {
      if (!undecided[i]) continue;
      const d = edge[i];
      const c = colour.trust[i];
      const m = 2 * forwardBackwardError[row + Math.min(grid.width - 1, Math.floor((x + box.left) / factor))];
      const doubted = (c > 0.6 ? 1 + slack * (c - 0.6) : Math.max(0.35, c / 0.6)) * (1 + Math.min(1.5, 0.4 * m));
      const spread = 2 * doubted * (1 - (belief ? STRICT * belief[i] : 0));
      const shape = d > band ? 1.2 : clamp((1.7 * d) / spread, -SUREST, SUREST);
      const byColour = colourWeight(c) * logitOf(colour.likely[i], EPSILON);
      const layers = motion * (Math.min(WORST_MEAN, error.drop[i]) - Math.min(WORST_MEAN, error.keep[i]));
      pull[i] = shape + byColour + layers + (along ? Math.min(0, along[i] + DOUBTED) : 0);
    }
  }
  return pull;
}

/** Pixels from where its motion brings the edge from which on it is elsewhere. */
const ELSEWHERE = 2;
/** Pixels from the edge within which a pixel is beside it. */
const BESIDE = 2;

/** Whether the mask has the other value so many pixels off along a row or a column. */
const turnsAt = (mask: Uint8Array, { width, height }: Size, x: number, y: number, off: number): boolean => {
  const i = y * width + x;
  return (
    (x >= off && mask[i - off] !== mask[i]) ||
    (x + off < width && mask[i + off] !== mask[i]) ||
    (y >= off && mask[i - off * width] !== mask[i]) ||
    (y + off < height && mask[i + off * width] !== mask[i])
  );
};

/** What came out of a box, and how that goes together with what spoke for it. `came` is the distance from where its motion brings the edge. */
function outcomeOf(labels: Uint8Array, came: Float32Array, { box, undecided, colour, belief }: Evidence, left: number): PropagationSignals {
  let [area, believed, edge, strayed, beside, unlike] = [0, 0, 0, 0, 0, 0];
  for (let y = 0, i = 0; y < box.height; y++)
    for (let x = 0; x < box.width; x++, i++) {
      area += labels[i];
      if (belief && labels[i]) believed += belief[i];
      if (!undecided[i]) continue;
      const atEdge = turnsAt(labels, box, x, y, 1);
      if (!atEdge && !turnsAt(labels, box, x, y, BESIDE)) continue;
      beside++;
      if (colour.likely[i] > 0.5 !== (labels[i] === 1)) unlike++;
      if (!atEdge || !labels[i]) continue;
      edge++;
      if (Math.abs(came[i]) > ELSEWHERE) strayed++;
    }
  const share = (some: number, all: number) => (all > 0 ? some / all : 0);
  return { unlike: share(unlike, beside), strayed: share(strayed, edge), area, belief: share(believed, area), left };
}

/** What an anchor frame teaches: colours of the whole, and of places along the edge. */
export interface AnchorModel {
  table: Float32Array;
  windows: Windows;
  /** Whether all of the subject lies together there. */
  together: boolean;
}

export function anchorModel(frame: Pick<PreparedFrame, 'fine'>, mask: Uint8Array): AnchorModel {
  const { fine } = frame;
  const table = anchorTable(frame, mask);
  const windows = windowsAlong(fine, mask, maskDistance(mask, fine.width, fine.height, FAR), table);
  return { table, windows, together: isTogether(mask, fine) };
}

/** Where the subject is looked for beside where its motion from one frame to the next brings it. */
export interface PropagationOptions {
  /** Whether where it came from is asked far round it, since its edge was called soft there. */
  wide?: boolean;
  /** How much farther it may have gone, pixels. */
  farther?: number;
  /** How the subject went as a whole from frame to frame before: so it goes on where too little tells. */
  pace?: Homography | null;
  /** The painted frame: where this one looks like it, its mask is what is expected. */
  painted?: Painted | null;
}

/** A step from one frame to the next, in the direction of propagation. */
export interface PropagationStep {
  before: PreparedFrame;
  /** Of the frame before. */
  mask: Uint8Array;
  next: PreparedFrame;
  motion: Motion;
  /** What the anchor frame taught; its windows where they are on the frame before. */
  model: AnchorModel;
  /** What is painted on the next frame; null where nothing is. */
  seeds: Uint8Array | null;
  settings: PropagationSettings;
}

/** The mask of the next frame from that of the one before it. */
export function propagateFrame(
  { before, mask, next, motion, model, seeds, settings }: PropagationStep,
  { wide = false, farther = 0, pace = null, painted = null }: PropagationOptions = {},
): Propagated {
  const { width, height } = before.fine;
  const out = new Uint8Array(width * height);
  const near = boxRound(mask, width, height, FAR);
  const { table, windows, together } = model;
  if (!near)
    return { mask: out, centres: windows.centres, came: null, back: IDENTITY, pace: null, signals: { unlike: 0, strayed: 0, area: 0, belief: 0, left: 0 } };
  const nearDistance = maskDistance(cropMask(mask, width, near), near.width, near.height, FAR);
  const whole = globalSimilarity(motion, nearDistance, near, before.factor) ?? (pace && enlarged(pace, 1 / before.factor));
  const keepLayer = layerMotion(motion, nearDistance, near, before.factor, 1, whole);
  const dropLayer = layerMotion(motion, nearDistance, near, before.factor, -1);
  const room = wide ? ROOM : roomFor(keepLayer, before.factor, settings.band);
  const now = boxRound(mask, width, height, room + farther) as Box;
  const expectedBox = painted && boxRoundPainted(painted, room + farther);
  const box = expectedBox ? boxAround(now, expectedBox) : now;
  const distance = distanceIn(box, nearDistance, near);
  const own = cropLab(next.fine, box);
  const fromKeep = sources(keepLayer, motion.forward, before.factor, box);
  settleSources(fromKeep, { before: before.fine, own }, { distance, box }, { layer: keepLayer, grid: motion.forward, factor: before.factor });
  const fromDrop = sources(dropLayer, motion.forward, before.factor, box);
  const error = layerErrors(own, before.fine, mask, fromKeep, fromDrop);

  const came = distanceAtSources(fromKeep, distance, box);
  const expected = insideOf(came);
  const centres = movedWindows(windows.centres, keepLayer, motion.forward, before.factor);
  const back = (whole && inverseOf(enlarged(whole, before.factor))) ?? translation(...meanTranslation(centres, windows.centres));
  const since = painted ? multiply(painted.back, back) : back;
  const laid = painted && laidOnto(painted, since, { next, own, box, edge: came });
  const belief = laid && believe(laid, expected, error, box);
  const edge = maskDistance(expected, box.width, box.height, FAR);
  const labels = expected.slice();
  const undecided = undecidedBy(edge, error.keep, settings.band);
  const colour = colourSays(own, box, undecided, table, { models: windows.models, centres });
  const along = goesAlong(before, next, motion, edge, box);
  const evidence = {
    box,
    undecided,
    edge,
    colour,
    error,
    along,
    belief,
    forwardBackwardError: motion.forwardBackwardError,
    grid: motion.forward,
    factor: before.factor,
  };
  const pull = pullsOf(evidence, settings);
  if (seeds) decidePainted(labels, undecided, cropMask(seeds, width, box));
  cutUndecided(own, labels, undecided, pull, { strength: settings.smoothness, beta: next.betaFine });
  const share = shareOf540(before.fine);
  let pieces = 0;
  eachComponent(labels, box.width, box.height, 1, (pixels) => {
    if (pixels.length < share * settings.pieces) for (const i of pixels) labels[i] = 0;
    else pieces++;
  });
  eachComponent(labels, box.width, box.height, 0, (pixels, atBorder) => {
    if (pixels.length < share * settings.holes && !atBorder) for (const i of pixels) labels[i] = 1;
  });
  const leaves = pieces > 1 && together && whole && laid && !settings.separatePieces;
  const ways = leaves && { motion, from: fromDrop, surroundings: dropLayer, whole, laid: laid.mask, factor: before.factor };
  const left = ways ? leaveBehind(labels, box, before.fine, ways) : 0;
  paste(out, width, labels, box);
  const signals = outcomeOf(labels, came, evidence, left);
  return {
    mask: out,
    centres,
    came: { box, from: fromKeep },
    // What is laid and nowhere believed may have come off.
    back: laid && signals.belief > 0 ? laid.back : since,
    pace: whole && enlarged(whole, before.factor),
    signals,
  };
}
