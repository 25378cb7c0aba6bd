/**
 * The curves over the picture, with points and handles, painted on a canvas of their own. Not by the page's components: hundreds
 * of points must follow the pointer at the screen's rate.
 */

import { type PlacedPath, shapeAt } from '~/core/document/follow.ts';
import type { OutlineColour } from '~/core/document/schema.ts';
import { isFeathered, type Shape } from '~/core/path/path.ts';
import { hasKeys } from '~/core/time/animated.ts';
import type { Editable } from '../edits/path-edits.ts';
import { type Points, pointsOf } from '../edits/points.ts';
import type { ViewTransform } from '../state/view-transform.ts';
import { outward } from '../tools/feather-tool.ts';
import { tracePath } from './curve-path.ts';
import { paintDoubt, paintStrokes, type ShownStroke } from './strokes-canvas.ts';
import { paintTracks, type ShownTrack } from './tracks-canvas.ts';

export const OUTLINE_HEX: Record<OutlineColour, string> = {
  white: '#ffffff',
  sky: '#8fd0ff',
  lime: '#c4ee7a',
  sand: '#ffd98a',
  coral: '#ffab8f',
  orchid: '#e7b3ff',
  mint: '#8ff0cf',
  slate: '#c3cbd6',
};

export interface CurvesScene {
  paths: readonly Editable[];
  frame: number;
  viewTransform: ViewTransform;
  points: Points;
  active: string | null;
  /** Whether all curves show their points: they do when a part is selected. */
  ofPart: boolean;
  drawing: boolean;
  numbers: boolean;
  /** Keys before and after whose curves show. */
  onion: number;
  /** Strokes of the Peel that is worked on. */
  strokes: readonly ShownStroke[];
  /** Where its edge is in doubt: x, y in plate pixels. */
  doubtful: readonly number[];
  tracks: readonly ShownTrack[];
  density: number;
}

/** The shape with every point moved along its normal by its feather: a good picture of where softness ends. */
const feathered = (shape: Shape, side: 'featherIn' | 'featherOut'): Shape =>
  shape.map((v, i) => {
    const n = outward(shape, i);
    const d = (v[side] ?? 0) * (side === 'featherOut' ? 1 : -1);
    return { ...v, x: v.x + n.x * d, y: v.y + n.y * d };
  });

function stroke(context: CanvasRenderingContext2D, colour: string, width: number, alpha = 1, dash: number[] = []): void {
  context.globalAlpha = alpha;
  context.strokeStyle = colour;
  context.lineWidth = width;
  context.setLineDash(dash);
  context.stroke();
  context.globalAlpha = 1;
  context.setLineDash([]);
}

/** The curve on the keys before (long dashes) and after (dots), fainter the farther. */
function paintOnion(context: CanvasRenderingContext2D, path: PlacedPath, colour: string, { frame, onion, viewTransform }: CurvesScene): void {
  if (!hasKeys(path.shape)) return;
  const before = path.shape.keys.filter((k) => k.frame < frame).slice(-onion);
  const after = path.shape.keys.filter((k) => k.frame > frame).slice(0, onion);
  for (const [i, k] of before.reverse().entries()) {
    tracePath(context, shapeAt(path, k.frame), path.closed, viewTransform);
    stroke(context, colour, 1.2, 0.6 / (i + 1), [7, 4]);
  }
  for (const [i, k] of after.entries()) {
    tracePath(context, shapeAt(path, k.frame), path.closed, viewTransform);
    stroke(context, colour, 1.2, 0.75 / (i + 1), [1.5, 3]);
  }
}

/** The marks of points and handles, each drawn once: hundreds of small circles are slow to paint, hundreds of copies are not. */
const MARKS = {
  corner: { half: 3.5, round: false, fill: '#222', rim: '#fff' },
  round: { half: 3.5, round: true, fill: '#222', rim: '#fff' },
  chosenCorner: { half: 4.5, round: false, fill: '#fff', rim: '#000' },
  chosenRound: { half: 4.5, round: true, fill: '#fff', rim: '#000' },
  handle: { half: 3.5, round: true, fill: '#222', rim: '#fff' },
} as const;
type Mark = keyof typeof MARKS;
const made = new Map<string, ImageBitmap>();

function markOf(mark: Mark, density: number): ImageBitmap {
  const key = `${mark}@${density}`;
  let bitmap = made.get(key);
  if (!bitmap) {
    const { half, round, fill, rim } = MARKS[mark];
    const side = 2 * Math.ceil((half + 1.5) * density) + 1;
    const canvas = new OffscreenCanvas(side, side);
    const context = canvas.getContext('2d') as OffscreenCanvasRenderingContext2D;
    context.setTransform(density, 0, 0, density, side / 2, side / 2);
    context.beginPath();
    if (round) context.arc(0, 0, half, 0, 2 * Math.PI);
    else context.rect(-half, -half, 2 * half, 2 * half);
    context.fillStyle = fill;
    context.fill();
    context.strokeStyle = rim;
    context.lineWidth = 1.3;
    context.stroke();
    bitmap = canvas.transferToImageBitmap();
    made.set(key, bitmap);
  }
  return bitmap;
}

/** Puts marks at places given in screen pixels, x and y in turn; on whole device pixels, where copying is fastest. */
function putMarks(context: CanvasRenderingContext2D, mark: Mark, places: readonly number[], density: number): void {
  if (places.length === 0) return;
  const bitmap = markOf(mark, density);
  context.setTransform(1, 0, 0, 1, 0, 0);
  for (let i = 0; i < places.length; i += 2)
    context.drawImage(bitmap, Math.round(places[i] * density - bitmap.width / 2), Math.round(places[i + 1] * density - bitmap.height / 2));
  context.setTransform(density, 0, 0, density, 0, 0);
}

function paintHandles(context: CanvasRenderingContext2D, shape: Shape, chosen: ReadonlySet<number>, { scale, x, y }: ViewTransform, density: number): void {
  const ends: number[] = [];
  context.beginPath();
  for (const i of chosen) {
    const v = shape[i];
    if (!v) continue;
    for (const [hx, hy] of [
      [v.inX, v.inY],
      [v.outX, v.outY],
    ]) {
      if (hx === 0 && hy === 0) continue;
      const [ex, ey] = [(v.x + hx) * scale + x, (v.y + hy) * scale + y];
      context.moveTo(v.x * scale + x, v.y * scale + y);
      context.lineTo(ex, ey);
      ends.push(ex, ey);
    }
  }
  stroke(context, '#000', 3, 0.6);
  stroke(context, '#fff', 1);
  putMarks(context, 'handle', ends, density);
}

/** All points: corners are squares, points with handles round; chosen ones light. */
function paintPoints(context: CanvasRenderingContext2D, shape: Shape, chosen: ReadonlySet<number>, { scale, x, y }: ViewTransform, density: number): void {
  const places: Record<Exclude<Mark, 'handle'>, number[]> = { corner: [], round: [], chosenCorner: [], chosenRound: [] };
  for (const [i, v] of shape.entries()) {
    const round = v.inX !== 0 || v.outX !== 0 || v.inY !== 0 || v.outY !== 0;
    const mark = chosen.has(i) ? (round ? 'chosenRound' : 'chosenCorner') : round ? 'round' : 'corner';
    places[mark].push(v.x * scale + x, v.y * scale + y);
  }
  for (const [mark, at] of Object.entries(places)) putMarks(context, mark as Mark, at, density);
}

function paintCurve(context: CanvasRenderingContext2D, { path, part }: Editable, scene: CurvesScene): void {
  const { viewTransform, frame, points, active, ofPart, drawing, numbers, density } = scene;
  const shape = shapeAt(path, frame);
  const chosen = pointsOf(points, path.id);
  const isActive = path.id === active;
  const colour = OUTLINE_HEX[part.colour];
  tracePath(context, shape, path.closed, viewTransform);
  stroke(context, '#000', isActive ? 4 : 3.5, 0.65);
  // An open curve is dashed: it masks nothing.
  stroke(context, colour, isActive ? 1.8 : 1.3, isActive ? 1 : 0.85, path.closed ? [] : [6, 4]);
  if (path.closed && isFeathered(shape))
    for (const side of ['featherOut', 'featherIn'] as const) {
      tracePath(context, feathered(shape, side), true, viewTransform);
      stroke(context, colour, 1, 0.8, [2, 3]);
    }
  if (!isActive && !ofPart && chosen.size === 0) return;
  paintHandles(context, shape, chosen, viewTransform, density);
  paintPoints(context, shape, chosen, viewTransform, density);
  const [first] = shape;
  if (first && ((!path.closed && drawing) || numbers)) {
    context.beginPath();
    context.arc(first.x * viewTransform.scale + viewTransform.x, first.y * viewTransform.scale + viewTransform.y, 9, 0, 2 * Math.PI);
    stroke(context, '#fff', 1.2, 1, [3, 2]);
  }
  if (!numbers) return;
  context.font = '11px "JetBrains Mono", monospace';
  context.fillStyle = '#fff';
  context.strokeStyle = '#000';
  context.lineWidth = 3;
  for (const [i, v] of shape.entries()) {
    const at: [number, number] = [v.x * viewTransform.scale + viewTransform.x + 7, v.y * viewTransform.scale + viewTransform.y - 7];
    context.strokeText(String(i + 1), ...at);
    context.fillText(String(i + 1), ...at);
  }
}

export function paintCurves(canvas: HTMLCanvasElement, scene: CurvesScene | null): void {
  const context = canvas.getContext('2d') as CanvasRenderingContext2D;
  context.setTransform(1, 0, 0, 1, 0, 0);
  context.clearRect(0, 0, canvas.width, canvas.height);
  if (!scene) return;
  context.setTransform(scene.density, 0, 0, scene.density, 0, 0);
  context.lineJoin = 'round';
  paintStrokes(context, scene.strokes, scene.viewTransform);
  paintDoubt(context, scene.doubtful, scene.viewTransform);
  if (scene.onion > 0) for (const { path, part } of scene.paths) paintOnion(context, path, OUTLINE_HEX[part.colour], scene);
  for (const editable of scene.paths) paintCurve(context, editable, scene);
  paintTracks(context, scene.tracks, scene.frame, scene.viewTransform);
}
