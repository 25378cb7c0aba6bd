/** Strokes of a Peel over the picture: keep and drop are told apart by colour and by the line along their middle. */
import type { BrushKind } from '../state/view-store.ts';
import type { ViewTransform } from '../state/view-transform.ts';

export interface ShownStroke {
  kind: BrushKind;
  radius: number;
  points: readonly number[];
  /** Of a pen, at each point. */
  pressures?: readonly number[];
  enabled: boolean;
  /** Pointed at in the list. */
  pointed: boolean;
}

const STROKE_HEX = { keep: '#f0b040', drop: '#9aa2f5', soft: '#d9f2ec', loop: '#f0b040', erase: '#ededed' } as const;
/** The line along the middle: whole, dotted, in long dashes, in dashes and dots. */
const STROKE_DASH = { keep: [], drop: [2, 5], soft: [9, 6], loop: [10, 4, 2, 4], erase: [1, 3] } as const;

function trace(context: CanvasRenderingContext2D, points: readonly number[], { scale, x, y }: ViewTransform): void {
  context.beginPath();
  context.moveTo(points[0] * scale + x, points[1] * scale + y);
  for (let i = 2; i < points.length; i += 2) context.lineTo(points[i] * scale + x, points[i + 1] * scale + y);
}

const DOUBT_HEX = '#e58a5c';
/** Screen pixels round a place of doubt. */
const PLACE_RADIUS = 13;

/** Rings round the places where the edge is in doubt; `places` are x, y in plate pixels. */
export function paintDoubt(context: CanvasRenderingContext2D, places: readonly number[], { scale, x, y }: ViewTransform): void {
  context.save();
  for (const [colour, width, dash] of [
    ['#000', 3.5, []],
    [DOUBT_HEX, 1.6, [5, 3]],
  ] as const) {
    context.strokeStyle = colour;
    context.lineWidth = width;
    context.globalAlpha = colour === DOUBT_HEX ? 1 : 0.5;
    context.setLineDash([...dash]);
    for (let i = 0; i < places.length; i += 2) {
      context.beginPath();
      context.arc(places[i] * scale + x, places[i + 1] * scale + y, PLACE_RADIUS, 0, 2 * Math.PI);
      context.stroke();
    }
  }
  context.restore();
}

/**
 * The area of a stroke whose width changes along it, as one path, so that nothing of it is painted twice: a disc at each point,
 * and what lies between two of them. All go round the same way.
 */
function traceArea(
  context: CanvasRenderingContext2D,
  points: readonly number[],
  pressures: readonly number[],
  wide: number,
  { scale, x, y }: ViewTransform,
): void {
  context.beginPath();
  const at = (k: number) => [points[2 * k] * scale + x, points[2 * k + 1] * scale + y, Math.max(1, (wide * pressures[k]) / 2)] as const;
  for (let k = 0; k < points.length / 2; k++) {
    const [bx, by, br] = at(k);
    context.moveTo(bx + br, by);
    context.arc(bx, by, br, 0, 2 * Math.PI, true);
    if (k === 0) continue;
    const [ax, ay, ar] = at(k - 1);
    const length = Math.hypot(bx - ax, by - ay);
    if (length === 0) continue;
    const [nx, ny] = [(ay - by) / length, (bx - ax) / length];
    context.moveTo(ax + nx * ar, ay + ny * ar);
    context.lineTo(bx + nx * br, by + ny * br);
    context.lineTo(bx - nx * br, by - ny * br);
    context.lineTo(ax - nx * ar, ay - ny * ar);
    context.closePath();
  }
}

/** Whether a stroke is a dot: a click, or a press that never left its place. A canvas draws no line of no length. */
const isDot = ({ kind, points }: ShownStroke): boolean => kind !== 'loop' && points.every((v, i) => v === points[i % 2]);

/** A dot as a disc, with the line of its kind round it. */
function traceDot(context: CanvasRenderingContext2D, [px, py]: readonly number[], radius: number, { scale, x, y }: ViewTransform): void {
  context.beginPath();
  context.arc(px * scale + x, py * scale + y, radius, 0, 2 * Math.PI);
}

export function paintStrokes(context: CanvasRenderingContext2D, strokes: readonly ShownStroke[], viewTransform: ViewTransform): void {
  context.save();
  context.lineCap = 'round';
  context.lineJoin = 'round';
  for (const stroke of strokes) {
    const { kind, radius, points, pressures, enabled, pointed } = stroke;
    context.strokeStyle = STROKE_HEX[kind];
    context.globalAlpha = pointed ? 0.8 : enabled ? 0.4 : 0.1;
    const wide = Math.max(2, 2 * radius * viewTransform.scale);
    const dot = isDot(stroke);
    // A loop has no width: it is its line, closed.
    if (dot) {
      traceDot(context, points, Math.max(2, (wide * (pressures?.[0] ?? 1)) / 2), viewTransform);
      context.fillStyle = STROKE_HEX[kind];
      context.fill();
    } else if (kind !== 'loop' && pressures) {
      traceArea(context, points, pressures, wide, viewTransform);
      context.fillStyle = STROKE_HEX[kind];
      context.fill();
    } else if (kind !== 'loop') {
      context.lineWidth = wide;
      trace(context, points, viewTransform);
      context.stroke();
    }
    if (!dot) trace(context, points, viewTransform);
    if (kind === 'loop') context.closePath();
    context.globalAlpha = enabled ? 1 : 0.4;
    for (const [colour, width] of [
      ['#000', 3],
      [STROKE_HEX[kind], 1.5],
    ] as const) {
      context.setLineDash([...STROKE_DASH[kind]]);
      context.strokeStyle = colour;
      context.lineWidth = width;
      context.stroke();
    }
  }
  context.restore();
}
