/** Lines as they are drawn: alpha of a stroke along them, and the light that it sheds. */
import { gaussianBlur } from '../image/gaussian.ts';
import type { Box, Size } from '../image/picture.ts';
import { clamp } from '../math/clamp.ts';
import { boxOf } from '../matte/outline-box.ts';
import { coverage } from './paint.ts';
import type { Line } from './source.ts';

/** How a stretch of a line is drawn; pixels of the layer. */
export interface Stroke {
  width: number;
  /** How far beside the line, outwards. */
  beside: number;
  /** Shares of its length between which it is drawn. */
  from: number;
  to: number;
  square: boolean;
  softness: number;
}

/** Corners that turn by more than this, radians, are corners and no part of a curve; sharper than the last they are cut off. */
const CORNER = 0.35;
const SHARPEST = 2.6;

interface Segments {
  count: number;
  /** Start, direction and length of each, and how far along the line it begins. */
  x: Float64Array;
  y: Float64Array;
  dx: Float64Array;
  dy: Float64Array;
  length: Float64Array;
  along: Float64Array;
  whole: number;
}

function segmentsOf({ points, closed }: Line): Segments {
  const n = points.length / 2;
  const most = closed ? n : n - 1;
  const make = () => new Float64Array(Math.max(0, most));
  const s: Segments = { count: 0, x: make(), y: make(), dx: make(), dy: make(), length: make(), along: make(), whole: 0 };
  for (let i = 0; i < most; i++) {
    const j = (i + 1) % n;
    const [dx, dy] = [points[2 * j] - points[2 * i], points[2 * j + 1] - points[2 * i + 1]];
    const length = Math.hypot(dx, dy);
    if (length < 1e-6) continue;
    const k = s.count++;
    s.x[k] = points[2 * i];
    s.y[k] = points[2 * i + 1];
    s.dx[k] = dx / length;
    s.dy[k] = dy / length;
    s.length[k] = length;
    s.along[k] = s.whole;
    s.whole += length;
  }
  return s;
}

/**
 * For each pixel of a box the nearest place of a line: how far beside it (outwards positive) and how far along; beyond the ends of an open
 * one, less than 0 or more than all of it. Pixels farther than `reach` keep Infinity.
 */
interface Nearest extends Box {
  beside: Float32Array;
  along: Float32Array;
}

function nearestTo(line: Line, s: Segments, reach: number, square: boolean, size: Size): Nearest | null {
  // A square corner reaches farther than a round one.
  const far = square ? reach * 2.5 : reach;
  const { left, top, width, height } = boxOf([line.points], size, far);
  if (width <= 0 || height <= 0) return null;
  const beside = new Float32Array(width * height).fill(Infinity);
  const along = new Float32Array(width * height);
  const squared = new Float32Array(width * height).fill(far * far);
  const side = line.outside;
  for (let k = 0; k < s.count; k++) {
    const before = k > 0 ? k - 1 : line.closed ? s.count - 1 : -1;
    const after = k < s.count - 1 ? k + 1 : line.closed ? 0 : -1;
    const dx = s.dx[k];
    const dy = s.dy[k];
    const length = s.length[k];
    const ax = s.x[k] - left;
    const ay = s.y[k] - top;
    const x0 = Math.max(0, Math.floor(ax + Math.min(0, dx * length) - far));
    const x1 = Math.min(width, Math.ceil(ax + Math.max(0, dx * length) + far) + 1);
    const y0 = Math.max(0, Math.floor(ay + Math.min(0, dy * length) - far));
    const y1 = Math.min(height, Math.ceil(ay + Math.max(0, dy * length) + far) + 1);
    for (let y = y0; y < y1; y++) {
      const py = y + 0.5 - ay;
      for (let x = x0, o = y * width + x0; x < x1; x++, o++) {
        const px = x + 0.5 - ax;
        const t = px * dx + py * dy;
        const across = px * dy - py * dx;
        const over = t < 0 ? -t : t > length ? t - length : 0;
        const d2 = across * across + over * over;
        if (d2 >= squared[o]) continue;
        squared[o] = d2;
        const other = over === 0 ? -1 : t < 0 ? before : after;
        // Past an end of an open line one goes straight on.
        if (other < 0) {
          along[o] = s.along[k] + t;
          beside[o] = side * across;
        } else {
          along[o] = s.along[k] + clamp(t, 0, length);
          beside[o] = side * atCorner(s, k, other, t < 0 ? px : px - dx * length, t < 0 ? py : py - dy * length, square);
        }
      }
    }
  }
  return { left, top, width, height, beside, along };
}

/** How far beside a line lies a place (told from the corner) whose nearest place is the corner of two of its segments. */
function atCorner(s: Segments, k: number, other: number, px: number, py: number, square: boolean): number {
  const one = px * s.dy[k] - py * s.dx[k];
  const two = px * s.dy[other] - py * s.dx[other];
  const sign = one + two >= 0 ? 1 : -1;
  if (square) {
    const turns = Math.acos(clamp(s.dx[k] * s.dx[other] + s.dy[k] * s.dy[other], -1, 1));
    if (turns > CORNER && turns < SHARPEST) return sign * Math.max(sign * one, sign * two);
  }
  return sign * Math.sqrt(px * px + py * py);
}

/** Writes the alpha of a stroke along lines over `out` (pixels of the layer) where it is stronger. */
export function strokeLines(lines: readonly Line[], stroke: Stroke, size: Size, out: Float32Array): void {
  const { width, beside, from, to, softness } = stroke;
  if (to <= from || width <= 0) return;
  const half = width / 2;
  const reach = Math.abs(beside) + half + softness + 2;
  for (const line of lines) {
    const segments = segmentsOf(line);
    if (segments.count === 0) continue;
    const near = nearestTo(line, segments, reach, stroke.square, size);
    if (!near) continue;
    const whole = line.closed && from <= 0 && to >= 1;
    const first = from * segments.whole;
    const last = to * segments.whole;
    // The ends of the curve itself are round where its corners are; those of a stretch of it are cut across.
    const roundFirst = !line.closed && from <= 0 && !stroke.square;
    const roundLast = !line.closed && to >= 1 && !stroke.square;
    for (let y = 0; y < near.height; y++)
      for (let x = 0, o = y * near.width, p = (y + near.top) * size.width + near.left; x < near.width; x++, o++, p++) {
        if (near.beside[o] === Infinity) continue;
        const middle = Math.abs(near.beside[o] - beside);
        const across = middle - half;
        // Negative within the stretch, so that its ends are as crisp or soft as its sides.
        const [before, after] = [first - near.along[o], near.along[o] - last];
        const past = whole ? -half : Math.max(roundFirst ? -half : before, roundLast ? -half : after);
        const rounded = Math.max(roundFirst ? before : 0, roundLast ? after : 0);
        const off = past > 0 ? Math.hypot(Math.max(0, across), past) : rounded > 0 ? Math.hypot(middle, rounded) - half : Math.max(across, past);
        const a = coverage(off, softness);
        if (a > out[p]) out[p] = a;
      }
  }
}

/** The error function (Abramowitz and Stegun 1964, 7.1.26), for x >= 0. */
function erf(x: number): number {
  const t = 1 / (1 + 0.3275911 * x);
  return 1 - ((((1.061405429 * t - 1.453152027) * t + 1.421413741) * t - 0.284496736) * t + 0.254829592) * t * Math.exp(-x * x);
}

/** Adds the light of a line of that width to its alpha: spread by a Gaussian, and as strong on a straight line as is asked for. */
export function addGlow(alpha: Float32Array, { width, height }: Size, lineWidth: number, spread: number, strength: number): void {
  const light = alpha.slice();
  gaussianBlur(light, width, height, 1, spread, spread);
  const times = strength / Math.max(1e-6, erf(lineWidth / (2 * Math.SQRT2 * spread)));
  for (let p = 0; p < alpha.length; p++) {
    const glow = Math.min(strength, light[p] * times);
    // Under 1 in 65535 there is nothing to be seen.
    if (glow > 1.5e-5) alpha[p] += (1 - alpha[p]) * glow;
  }
}
