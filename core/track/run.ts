/**
 * Runs tracks over a stretch of frames, as the artist works with them: from their anchors outwards, going on from what is known; and
 * between two anchors from both, so that the way passes through them exactly.
 */
import type { Size } from '../image/picture.ts';
import { applyTo, type Homography, inverseOf, type MotionModel, multiply, translation } from '../math/homography.ts';
import { type At, atOf, mixAt, motionOf, roundedAt } from '../math/motion.ts';
import { fillPolylines } from '../path/fill.ts';
import { type Area, pointArea, regionArea } from './area.ts';
import { type Reason, TRUSTED } from './quality.ts';
import { CELLS, cellOf } from './samples.ts';
import { type LumaSource, type TrackTask, trackTowards } from './track-shot.ts';

/** A frame on which the place of the tracked thing was set by hand. */
interface Anchor {
  frame: number;
  at: At;
  /** How far from there lies what is followed from here on, plate pixels. */
  aside?: readonly number[];
  /** Closed polylines in plate pixels that hide what is followed on this frame. */
  ignored?: readonly Float64Array[];
}

export interface TrackRun {
  kind: 'point' | 'region';
  model: MotionModel;
  /** Its middle on the frame where it was set, plate pixels. */
  pivot: readonly number[];
  /** Of a region: its closed polylines there, even-odd. */
  outlines: readonly Float64Array[];
  /** Whether it ends where it is lost, in place of being looked for. */
  stops: boolean;
  /** Of a point: half of its pattern's side. */
  pattern: number;
  search: number;
  /** Rising; one at least. */
  anchors: readonly Anchor[];
  /** Frames whose place is trusted already, rising: what lies beyond them can go on from there. */
  known: readonly { frame: number; at: At }[];
  /** Frames that are wanted. A trusted place on the one nearest to the anchors is where it goes on from; between two anchors all are found anew. */
  first: number;
  last: number;
  /** Frames that were found already by the same work, which was paused: outside its anchors it goes on behind them. */
  found?: { first: number; last: number };
}

export interface RunFrame {
  /** Which of the tracks. */
  track: number;
  frame: number;
  at: number[];
  quality: number;
  reason: Reason | null;
  /** Of a region: which cells of {@link leftOutGrid} did not agree, a bit each, as sixteen hexadecimal digits; none where all did. */
  leftOut?: string;
}

/** One way from an anchor. */
interface Leg {
  track: number;
  anchor: Anchor;
  from: { frame: number; at: At };
  end: number;
  /** The anchor at its other end, where it is met. */
  towards: Anchor | null;
}

/** Pixels by which two ways may disagree between two anchors and be trusted both. */
const AGREED = 4;

function legsOf(run: TrackRun, track: number): Leg[] {
  const { anchors, known, first, last, found } = run;
  const legs: Leg[] = [];
  const [earliest, latest] = [anchors[0], anchors[anchors.length - 1]];
  if (last > latest.frame) {
    const from = [latest, ...known]
      .filter((k) => k.frame >= latest.frame && k.frame <= Math.max(first, latest.frame, found?.last ?? 0))
      .reduce((a, b) => (b.frame > a.frame ? b : a));
    legs.push({ track, anchor: latest, from, end: last, towards: null });
  }
  for (let i = 0; i + 1 < anchors.length; i++) {
    const [a, b] = [anchors[i], anchors[i + 1]];
    if (first >= b.frame || last <= a.frame || b.frame - a.frame < 2) continue;
    legs.push({ track, anchor: a, from: a, end: b.frame - 1, towards: b });
    legs.push({ track, anchor: b, from: b, end: a.frame + 1, towards: a });
  }
  if (first < earliest.frame) {
    const from = [earliest, ...known]
      .filter((k) => k.frame <= earliest.frame && k.frame >= Math.min(last, earliest.frame, found?.first ?? last))
      .reduce((a, b) => (b.frame < a.frame ? b : a));
    legs.push({ track, anchor: earliest, from, end: first, towards: null });
  }
  return legs;
}

/** How many frames of work a run is. */
export const framesOf = (runs: readonly TrackRun[]): number =>
  runs.reduce((sum, run, track) => sum + legsOf(run, track).reduce((n, leg) => n + Math.abs(leg.end - leg.from.frame), 0), 0);

/** What of a picture of `size` is followed from an anchor; null where that is too little. */
function areaOn(run: TrackRun, { at, aside = [0, 0], ignored = [] }: Anchor, { width, height }: Size, sx: number, sy: number): Area | null {
  if (run.kind === 'point') return pointArea((at[0] + aside[0]) * sx, (at[1] + aside[1]) * sy, run.pattern * sx);
  const motion = multiply(translation(aside[0], aside[1]), motionOf(at, run.pivot));
  const moved = run.outlines.map((outline) => {
    const out = new Float64Array(outline.length);
    for (let i = 0; i < outline.length; i += 2) {
      const [x, y] = applyTo(motion, outline[i], outline[i + 1]);
      out[i] = x * sx;
      out[i + 1] = y * sy;
    }
    return out;
  });
  const coverage = fillPolylines(moved, width, height);
  if (ignored.length > 0) {
    const hidden = fillPolylines(
      ignored.map((o) => o.map((v, i) => v * (i % 2 === 0 ? sx : sy))),
      width,
      height,
    );
    for (let i = 0; i < coverage.data.length; i++) if (hidden.data[i] > 0) coverage.data[i] = 0;
  }
  return regionArea(coverage, []);
}

/** Two ways between two anchors as one: each counts by how near its own anchor is and how far it is trusted. */
function blended(a: RunFrame, b: RunFrame, share: number): RunFrame {
  const [wa, wb] = [(1 - share) * (a.quality + 0.01), share * (b.quality + 0.01)];
  const by = wb / (wa + wb);
  const apart = Math.hypot(a.at[0] - b.at[0], a.at[1] - b.at[1]);
  const both = a.quality >= TRUSTED && b.quality >= TRUSTED;
  // Where both are sure of different places, neither is.
  const agreed = both && apart > AGREED ? AGREED / apart : 1;
  const better = a.quality >= b.quality ? a : b;
  const quality = better.quality * agreed;
  return { ...a, at: mixAt(a.at, b.at, by), quality, reason: quality >= TRUSTED ? null : (better.reason ?? 'changed') };
}

/**
 * Runs the tracks. Frames of the plate come from `luma`, at any size: they are told apart from `plate`. A frame between two anchors is
 * told twice, by the first way at once and then by both. A track of whose region there is too little in the picture is not told at all.
 */
export async function* runTracks(luma: LumaSource, plate: Size, runs: readonly TrackRun[], draft = false): AsyncGenerator<RunFrame> {
  // What goes the same way goes together: each picture is read once.
  const groups = new Map<string, Leg[]>();
  for (const [track, run] of runs.entries())
    for (const leg of legsOf(run, track)) {
      const key = `${leg.anchor.frame} ${leg.from.frame} ${leg.end}`;
      groups.set(key, [...(groups.get(key) ?? []), leg]);
    }
  const earlier = new Map<string, RunFrame>();
  for (const legs of groups.values()) {
    const [{ anchor, from, end }] = legs;
    const picture = await luma(anchor.frame);
    const [sx, sy] = [picture.width / plate.width, picture.height / plate.height];
    const toPicture: Homography = [sx, 0, 0, 0, sy, 0, 0, 0, 1];
    const toPlate: Homography = [1 / sx, 0, 0, 0, 1 / sy, 0, 0, 0, 1];
    const going: { leg: Leg; run: TrackRun; task: TrackTask; back: Homography; homography: Homography }[] = [];
    for (const leg of legs) {
      const run = runs[leg.track];
      const area = areaOn(run, leg.anchor, picture, sx, sy);
      const back = area && inverseOf(area.homography);
      if (!area || !back) continue;
      const { kind, model, search, pivot } = run;
      const undone = inverseOf(motionOf(leg.anchor.at, pivot));
      if (!undone) continue;
      const since = multiply(motionOf(leg.from.at, pivot), undone);
      const homography = multiply(multiply(toPicture, multiply(since, toPlate)), area.homography);
      // A point's pattern may turn and grow even where only its place is wanted.
      const looked = kind === 'point' ? 'similarity' : model;
      going.push({ leg, run, task: { area, region: kind === 'region', model: looked, search: search * sx }, back, homography });
    }
    const tasks = going.map((g) => g.task);
    const resumed = from.frame === anchor.frame ? undefined : { frame: from.frame, homographies: going.map((g) => g.homography) };
    const over = new Set<number>();
    for await (const { frame, found } of trackTowards(luma, tasks, anchor.frame, end, draft, resumed)) {
      for (const [i, { homography, quality, reason, cells }] of found.entries()) {
        if (over.has(i)) continue;
        if (going[i].run.stops && quality < TRUSTED) over.add(i);
        const { leg, run, task, back } = going[i];
        const since = multiply(toPlate, multiply(multiply(homography, back), toPicture));
        const told: RunFrame = { track: leg.track, frame, at: atSince(run, leg.anchor, task.area, since, [sx, sy]), quality, reason };
        const leftOut = cells && leftOutOf(cells, run, leg.anchor, back, toPicture);
        if (leftOut) told.leftOut = leftOut;
        const key = `${leg.track} ${frame}`;
        const other = leg.towards && earlier.get(key);
        if (other) {
          const [a, b] = [leg.towards?.frame as number, leg.anchor.frame];
          const both = blended(other, told, (frame - a) / (b - a));
          yield { ...both, at: roundedAt(both.at) };
        } else {
          if (leg.towards) earlier.set(key, told);
          yield told;
        }
      }
      if (over.size === going.length) break;
    }
  }
}

/** The numbers of a place, from the motion of the plate since an anchor. */
function atSince({ model, pivot }: TrackRun, { at }: Anchor, area: Area, since: Homography, [sx, sy]: readonly number[]): number[] {
  if (model !== 'move') return atOf(multiply(since, motionOf(at, pivot)), pivot, model);
  // The turn of a pattern that lies aside must not swing what only moves.
  const [x, y] = applyTo(area.homography, 0, 0);
  const [u, v] = applyTo(since, x / sx, y / sy);
  return roundedAt([at[0] + u - x / sx, at[1] + v - y / sy]);
}

/** Half of the side of the square round a region's middle, on the frame where it was set, that is told in eight by eight cells. */
export function leftOutGrid(outlines: readonly ArrayLike<number>[], [px, py]: readonly number[]): number {
  let half = 1;
  for (const outline of outlines) for (let i = 0; i < outline.length; i += 2) half = Math.max(half, Math.abs(outline[i] - px), Math.abs(outline[i + 1] - py));
  return half;
}

/** Below this a cell was left out. */
const AGREES = 0.5;

/** The weights of an area's cells, on the grid of the frame where the region was set. */
function leftOutOf(cells: Float32Array, { outlines, pivot }: TrackRun, { at }: Anchor, back: Homography, toPicture: Homography): string | undefined {
  const half = leftOutGrid(outlines, pivot);
  const toArea = multiply(back, multiply(toPicture, motionOf(at, pivot)));
  let text = '';
  let any = false;
  for (let c = 0; c < CELLS * CELLS; c += 4) {
    let digit = 0;
    for (let k = 0; k < 4; k++) {
      const [column, row] = [(c + k) % CELLS, Math.floor((c + k) / CELLS)];
      const [u, v] = applyTo(toArea, pivot[0] + half * ((2 * column + 1) / CELLS - 1), pivot[1] + half * ((2 * row + 1) / CELLS - 1));
      if (Math.abs(u) <= 1 && Math.abs(v) <= 1 && cells[cellOf(u, v)] < AGREES) digit |= 8 >> k;
    }
    any ||= digit > 0;
    text += digit.toString(16);
  }
  return any ? text : undefined;
}
