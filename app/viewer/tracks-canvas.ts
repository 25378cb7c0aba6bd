/** Tracks over the picture: their way with a tick for each frame, where they are now, and what is looked for. */
import { isSure, placeOn, placesOf } from '~/core/document/follow.ts';
import type { Track } from '~/core/document/schema.ts';
import { applyTo } from '~/core/math/homography.ts';
import { motionOf } from '~/core/math/motion.ts';
import { flatten } from '~/core/path/path.ts';
import { warpedShape } from '~/core/path/warped.ts';
import { leftOutGrid } from '~/core/track/run.ts';
import type { ViewTransform } from '../state/view-transform.ts';
import { tracePath } from './curve-path.ts';

export interface ShownTrack {
  track: Track;
  /** Worked on: its whole way, its pattern and search area; of others only where they are. */
  chosen: boolean;
}

const INK = '#ffffff';
const DOUBT = '#e58a5c';
/** Frames on each side of this one whose way shows of tracks that are not worked on. */
const TRAIL = 6;

function twice(context: CanvasRenderingContext2D, colour: string, width: number, dash: number[] = []): void {
  context.setLineDash(dash);
  context.globalAlpha = 0.55;
  context.strokeStyle = '#000';
  context.lineWidth = width + 2;
  context.stroke();
  context.globalAlpha = 1;
  context.strokeStyle = colour;
  context.lineWidth = width;
  context.stroke();
  context.setLineDash([]);
}

function paintWay(context: CanvasRenderingContext2D, track: Track, frame: number, chosen: boolean, { scale, x, y }: ViewTransform): void {
  const keys = placesOf(track).filter((k) => chosen || Math.abs(k.frame - frame) <= TRAIL);
  const sure = keys.filter((k) => isSure(k.value));
  if (!chosen) {
    // Hundreds may show: one line each.
    context.beginPath();
    for (const [i, { value }] of sure.entries()) context[i === 0 ? 'moveTo' : 'lineTo'](value.at[0] * scale + x, value.at[1] * scale + y);
    twice(context, INK, 1);
    return;
  }
  for (const [a, b] of sure.slice(1).map((k, i) => [sure[i], k])) {
    context.beginPath();
    context.moveTo(a.value.at[0] * scale + x, a.value.at[1] * scale + y);
    context.lineTo(b.value.at[0] * scale + x, b.value.at[1] * scale + y);
    // Where frames between were passed over, the way is a guess.
    twice(context, INK, 1, b.frame - a.frame > 1 ? [4, 4] : []);
  }
  for (const { frame: f, value } of keys) {
    const [px, py] = [value.at[0] * scale + x, value.at[1] * scale + y];
    context.beginPath();
    if (value.anchor) context.rect(px - 3.5, py - 3.5, 7, 7);
    else context.arc(px, py, isSure(value) ? 1.6 : 2.4, 0, 2 * Math.PI);
    context.fillStyle = isSure(value) ? (value.quality < 0.8 ? DOUBT : INK) : '#000';
    context.strokeStyle = isSure(value) ? '#000' : DOUBT;
    context.lineWidth = 1;
    context.fill();
    context.stroke();
    if (f === frame) {
      context.beginPath();
      context.arc(px, py, 5, 0, 2 * Math.PI);
      twice(context, INK, 1);
    }
  }
}

/** Hatches the cells of a region that did not agree and were left out. */
function paintLeftOut(context: CanvasRenderingContext2D, track: Track, leftOut: string, at: readonly number[], { scale, x, y }: ViewTransform): void {
  const outlines = track.outlines.map((shape) => flatten(shape, 1, 1, 1));
  const half = leftOutGrid(outlines, track.pivot);
  const motion = motionOf(at, track.pivot);
  const cells = Math.sqrt(4 * leftOut.length);
  const corner = (column: number, row: number): [number, number] => {
    const [px, py] = applyTo(motion, track.pivot[0] + half * ((2 * column) / cells - 1), track.pivot[1] + half * ((2 * row) / cells - 1));
    return [px * scale + x, py * scale + y];
  };
  context.save();
  context.beginPath();
  for (let c = 0; c < cells * cells; c++) {
    if (!(Number.parseInt(leftOut[c >> 2], 16) & (8 >> (c & 3)))) continue;
    const [column, row] = [c % cells, Math.floor(c / cells)];
    context.moveTo(...corner(column, row));
    context.lineTo(...corner(column + 1, row + 1));
    context.moveTo(...corner(column + 0.5, row));
    context.lineTo(...corner(column + 1, row + 0.5));
    context.moveTo(...corner(column, row + 0.5));
    context.lineTo(...corner(column + 0.5, row + 1));
  }
  twice(context, DOUBT, 1);
  context.restore();
}

function paintCross(context: CanvasRenderingContext2D, px: number, py: number, sure: boolean, chosen: boolean): void {
  const [from, to] = chosen ? [6, 14] : [3, 8];
  context.beginPath();
  for (const [dx, dy] of [
    [1, 0],
    [-1, 0],
    [0, 1],
    [0, -1],
  ]) {
    context.moveTo(px + dx * from, py + dy * from);
    context.lineTo(px + dx * to, py + dy * to);
  }
  twice(context, sure ? INK : DOUBT, chosen ? 1.6 : 1.2);
}

export function paintTracks(context: CanvasRenderingContext2D, tracks: readonly ShownTrack[], frame: number, viewTransform: ViewTransform): void {
  for (const { track, chosen } of tracks) {
    const { at, sure, placed } = placeOn(track, frame);
    const [px, py] = [at[0] * viewTransform.scale + viewTransform.x, at[1] * viewTransform.scale + viewTransform.y];
    paintWay(context, track, frame, chosen, viewTransform);
    if (chosen && track.kind === 'region') {
      const motion = motionOf(at, track.pivot);
      for (const shape of track.outlines) {
        tracePath(context, warpedShape(shape, motion), true, viewTransform);
        twice(context, sure ? INK : DOUBT, 1, [2, 4]);
      }
    }
    if (chosen && placed?.leftOut) paintLeftOut(context, track, placed.leftOut, at, viewTransform);
    if (chosen && track.kind === 'point') {
      const [ax, ay] = placed?.aside ? [px + placed.aside[0] * viewTransform.scale, py + placed.aside[1] * viewTransform.scale] : [px, py];
      for (const [half, dash] of [
        [track.pattern, []],
        [track.pattern + track.search, [2, 5]],
      ] as const) {
        context.beginPath();
        context.rect(ax - half * viewTransform.scale, ay - half * viewTransform.scale, 2 * half * viewTransform.scale, 2 * half * viewTransform.scale);
        twice(context, sure ? INK : DOUBT, 1, [...dash]);
      }
      if (placed?.aside) {
        context.beginPath();
        context.moveTo(px, py);
        context.lineTo(ax, ay);
        twice(context, INK, 1, [1, 3]);
      }
    }
    paintCross(context, px, py, sure, chosen);
  }
}
