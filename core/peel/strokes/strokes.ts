/** Strokes of the artist, and the pixels they cover. */
import type { Size } from '../../image/picture.ts';
import { clamp } from '../../math/clamp.ts';
import { nearestOnSegment } from '../../math/segment.ts';

export const STROKE_KINDS = ['keep', 'drop', 'soft', 'loop'] as const;
export type StrokeKind = (typeof STROKE_KINDS)[number];

/** Whether a frame with such a stroke can be cut by itself, so that carrying starts from it. */
export const startsFrom = ({ kind }: { kind: StrokeKind }): boolean => kind === 'keep' || kind === 'loop';

export interface PaintedStroke {
  /** What belongs to the subject, what does not, where its edge is soft, and a loop outside of which nothing belongs to it. */
  kind: StrokeKind;
  /** x, y of its points in plate pixels; one point is a dot. */
  points: readonly number[];
  /** Radius of the brush, plate pixels, > 0. */
  radius: number;
  /** Pressure of the pen at each point, [0,1]: the share of the radius there; full where nothing is said. */
  pressures?: number[];
}

export interface FrameStroke extends PaintedStroke {
  frame: number;
  /** Whether it was painted onto what had been carried to its frame, which it mends. */
  mends?: boolean;
}

export const NOT_PAINTED = 0;
export const KEEP = 1;
export const DROP = 2;

/** A picture of the plate that is painted on. */
export interface Raster extends Size {
  /** Its pixels for one of the plate. */
  scaleX: number;
  scaleY: number;
}

/** A picture of a size, of the whole plate. */
export const rasterOf = ({ width, height }: Size, plate: Size): Raster => ({ width, height, scaleX: width / plate.width, scaleY: height / plate.height });

/**
 * What is painted at each pixel of a picture of the plate: a later stroke covers an earlier one, and all of
 * them what loops drop. Every stroke that touches the picture covers at least the pixel it passes through. What lies outside the
 * fence (0 in it) is dropped, whatever is painted there.
 */
export function paintStrokes(strokes: readonly PaintedStroke[], raster: Raster, fence: Uint8Array | null = null): Uint8Array {
  const { width, height } = raster;
  const seeds = new Uint8Array(width * height);
  const inside = insideLoops(strokes, raster);
  if (inside) for (let i = 0; i < seeds.length; i++) if (!inside[i]) seeds[i] = DROP;
  for (const stroke of strokes) {
    if (stroke.kind === 'keep' || stroke.kind === 'drop') paintStroke(seeds, raster, stroke, stroke.kind === 'keep' ? KEEP : DROP);
  }
  if (fence) for (let i = 0; i < seeds.length; i++) if (!fence[i]) seeds[i] = DROP;
  return seeds;
}

/** The pixels of a picture that lie in a loop, of several in any; null where there is none. */
function insideLoops(strokes: readonly PaintedStroke[], { width, height, scaleX, scaleY }: Raster): Uint8Array | null {
  const loops = strokes.filter((s) => s.kind === 'loop' && s.points.length >= 6);
  if (loops.length === 0) return null;
  const inside = new Uint8Array(width * height);
  for (const { points } of loops)
    for (let y = 0; y < height; y++) {
      // Where the row of pixel centres crosses the loop; between the first two it is inside, and so on (even-odd).
      const crossings: number[] = [];
      const at = (y + 0.5) / scaleY;
      for (let k = 0, j = points.length - 2; k < points.length; j = k, k += 2) {
        const [ay, by] = [points[j + 1], points[k + 1]];
        if (ay <= at !== by <= at) crossings.push((points[j] + ((points[k] - points[j]) * (at - ay)) / (by - ay)) * scaleX);
      }
      crossings.sort((a, b) => a - b);
      for (let k = 0; k + 1 < crossings.length; k += 2) {
        const [from, to] = [Math.ceil(crossings[k] - 0.5), Math.ceil(crossings[k + 1] - 0.5)];
        inside.fill(1, y * width + clamp(from, 0, width), y * width + clamp(to, 0, width));
      }
    }
  return inside;
}

/** Where soft strokes cover a picture (1); null where there are none. */
export function paintSoft(strokes: readonly PaintedStroke[], raster: Raster): Uint8Array | null {
  const soft = strokes.filter((s) => s.kind === 'soft');
  if (soft.length === 0) return null;
  const zone = new Uint8Array(raster.width * raster.height);
  for (const stroke of soft) paintStroke(zone, raster, stroke, 1);
  return zone;
}

function paintStroke(out: Uint8Array, { width, height, scaleX, scaleY }: Raster, { points, radius, pressures }: PaintedStroke, value: number): void {
  const at = (k: number) => Math.max(LEAST_RADIUS, (radius * (pressures?.[k] ?? 1) * (scaleX + scaleY)) / 2);
  const count = points.length / 2;
  for (let k = 0; k < count; k++) {
    const n = Math.min(k + 1, count - 1);
    paintLine(
      out,
      { width, height },
      [points[2 * k] * scaleX, points[2 * k + 1] * scaleY, at(k)],
      [points[2 * n] * scaleX, points[2 * n + 1] * scaleY, at(n)],
      value,
    );
  }
}

/** Pixels: a stroke covers at least the pixel it passes through. */
const LEAST_RADIUS = 0.71;

type Dab = readonly [x: number, y: number, radius: number];

/** A line from one dab of the brush to another, its width going evenly between theirs. */
function paintLine(seeds: Uint8Array, { width, height }: Size, [ax, ay, ar]: Dab, [bx, by, br]: Dab, value: number): void {
  const most = Math.max(ar, br);
  const left = Math.max(0, Math.floor(Math.min(ax, bx) - most));
  const right = Math.min(width - 1, Math.floor(Math.max(ax, bx) + most));
  const bottom = Math.min(height - 1, Math.floor(Math.max(ay, by) + most));
  const [dx, dy] = [bx - ax, by - ay];
  for (let y = Math.max(0, Math.floor(Math.min(ay, by) - most)); y <= bottom; y++)
    for (let x = left; x <= right; x++) {
      const t = nearestOnSegment(ax, ay, bx, by, x + 0.5, y + 0.5);
      const r = ar + (br - ar) * t;
      if ((x + 0.5 - ax - t * dx) ** 2 + (y + 0.5 - ay - t * dy) ** 2 <= r * r) seeds[y * width + x] = value;
    }
}

/** Square of the distance from (x, y) to the segment from (ax, ay) to (bx, by). */
function squareToSegment(ax: number, ay: number, bx: number, by: number, x: number, y: number): number {
  const t = nearestOnSegment(ax, ay, bx, by, x, y);
  return (x - ax - t * (bx - ax)) ** 2 + (y - ay - t * (by - ay)) ** 2;
}

/** Square of the distance from (x, y) to the line through the points. */
function squareToLine(line: readonly number[], x: number, y: number): number {
  let best = Number.POSITIVE_INFINITY;
  for (let k = 0; k + 1 < line.length; k += 2) {
    const next = Math.min(k + 2, line.length - 2);
    best = Math.min(best, squareToSegment(line[k], line[k + 1], line[next], line[next + 1], x, y));
  }
  return best;
}

/** Pixels between the places of a stroke at which erasing can cut it. */
const CUT_STEP = 1;

/**
 * What is left of a stroke's points where an eraser of `radius` went along `eraser`: pieces, in order; the points themselves,
 * alone, where it never came near; none where it took all.
 */
export function withoutErased(points: readonly number[], eraser: readonly number[], radius: number): number[][] {
  const pieces: number[][] = [];
  let piece: number[] = [];
  let cut = false;
  const end = () => {
    if (piece.length > 0) pieces.push(piece);
    piece = [];
  };
  const visit = (x: number, y: number, own: boolean) => {
    if (squareToLine(eraser, x, y) <= radius * radius) {
      cut = true;
      end();
      // Places between the points matter only at the ends of a piece.
    } else if (own || piece.length === 0) piece.push(x, y);
  };
  visit(points[0], points[1], true);
  for (let k = 0; k + 3 < points.length; k += 2) {
    const [dx, dy] = [points[k + 2] - points[k], points[k + 3] - points[k + 1]];
    const steps = Math.max(1, Math.ceil(Math.hypot(dx, dy) / CUT_STEP));
    let [lastX, lastY] = [points[k], points[k + 1]];
    for (let i = 1; i <= steps; i++) {
      const [x, y] = [points[k] + (dx * i) / steps, points[k + 1] + (dy * i) / steps];
      const open = piece.length > 0;
      const before = pieces.length;
      visit(x, y, i === steps);
      // A piece that was cut here ends at the last place that was left.
      if (open && pieces.length > before) pieces[before].push(lastX, lastY);
      [lastX, lastY] = [x, y];
    }
  }
  end();
  return cut ? pieces : [[...points]];
}
