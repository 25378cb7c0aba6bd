/** How a value goes from one key to the next: named eases and free ones, all of them cubic bezier timing curves or a hold. */
import { z } from 'zod';
import { clamp } from '../math/clamp.ts';

export const EASES = ['linear', 'hold', 'ease-in', 'ease-out', 'ease-both'] as const;
type NamedEase = (typeof EASES)[number];

const timeCoordinate = z.number().min(0).max(1);
const valueCoordinate = z.number().min(-20).max(21);
/**
 * A named ease, or the two inner control points x1, y1, x2, y2 of a cubic-bezier() timing curve (CSS Easing Functions): x is
 * the share of time in [0,1], y the share of the way.
 */
export const easeSchema = z.union([z.enum(EASES), z.tuple([timeCoordinate, valueCoordinate, timeCoordinate, valueCoordinate])]);
export type Ease = z.infer<typeof easeSchema>;
export type TimingCurve = readonly [number, number, number, number];

const CURVES: Record<Exclude<NamedEase, 'hold'>, TimingCurve> = {
  linear: [1 / 3, 1 / 3, 2 / 3, 2 / 3],
  'ease-in': [1 / 3, 0, 2 / 3, 0],
  'ease-out': [1 / 3, 1, 2 / 3, 1],
  'ease-both': [1 / 3, 0, 2 / 3, 1],
};

/** The timing curve of an ease, or null for a hold. */
export const timingOf = (ease: Ease): TimingCurve | null => (typeof ease !== 'string' ? ease : ease === 'hold' ? null : CURVES[ease]);

const cubic = (a: number, b: number, t: number): number => {
  const u = 1 - t;
  return 3 * u * u * t * a + 3 * u * t * t * b + t * t * t;
};

/** Parameter of the timing curve at the share of time `x`: x(t) rises, so halving the interval finds it. */
function parameterAt(x1: number, x2: number, x: number): number {
  if (x <= 0) return 0;
  if (x >= 1) return 1;
  // Controls at thirds: x is the parameter itself.
  if (Math.abs(x1 - 1 / 3) < 1e-12 && Math.abs(x2 - 2 / 3) < 1e-12) return x;
  let low = 0;
  let high = 1;
  for (let i = 0; i < 52; i++) {
    const middle = (low + high) / 2;
    if (cubic(x1, x2, middle) < x) low = middle;
    else high = middle;
  }
  return (low + high) / 2;
}

/** Share of the way after easing at the share of time `x` in [0,1]. Exactly 0 and 1 at the ends, but for a hold. */
export function easedShare(ease: Ease, x: number): number {
  if (ease === 'linear') return x;
  const curve = timingOf(ease);
  if (!curve || x <= 0) return 0;
  if (x >= 1) return 1;
  return cubic(curve[1], curve[3], parameterAt(curve[0], curve[2], x));
}

/** Speed at the share of time `x`: the way's share for one share of time. */
export function easedSpeed(ease: Ease, x: number): number {
  const step = 1e-4;
  const a = Math.max(0, x - step);
  const b = Math.min(1, x + step);
  return (easedShare(ease, b) - easedShare(ease, a)) / (b - a);
}

/**
 * The eases of the two pieces that a new key at the share of time `x` makes of a stretch, so that no frame changes: the timing
 * curve is split there (de Casteljau) and each half scaled to its own unit square.
 */
export function splitEase(ease: Ease, x: number): [Ease, Ease] {
  const curve = timingOf(ease);
  if (!curve || ease === 'linear') return [ease, ease];
  const [x1, y1, x2, y2] = curve;
  const t = parameterAt(x1, x2, x);
  const half = (a: number, b: number): [number, number, number, number, number] => {
    const p = t * a;
    const q = a + (b - a) * t;
    const r = b + (1 - b) * t;
    const pq = p + (q - p) * t;
    const qr = q + (r - q) * t;
    return [p, pq, pq + (qr - pq) * t, qr, r];
  };
  const [xa, xb, xm, xc, xd] = half(x1, x2);
  const [ya, yb, ym, yc, yd] = half(y1, y2);
  const scaled = (from: number, to: number, v: number) => (v - from) / (to - from);
  const piece = (x0: number, y0: number, a: [number, number], b: [number, number], xe: number, ye: number): Ease => {
    // Where a piece ends as high as it began there is no way to take a share of.
    if (Math.abs(ye - y0) < 1e-6) return 'linear';
    const share = (v: number) => clamp(scaled(y0, ye, v), -20, 21);
    const time = (v: number) => clamp(scaled(x0, xe, v), 0, 1);
    return [time(a[0]), share(a[1]), time(b[0]), share(b[1])];
  };
  return [piece(0, 0, [xa, ya], [xb, yb], xm, ym), piece(xm, ym, [xc, yc], [xd, yd], 1, 1)];
}

/** The ease that takes the same way backwards in time. */
export function reversedEase(ease: Ease): Ease {
  if (ease === 'ease-in') return 'ease-out';
  if (ease === 'ease-out') return 'ease-in';
  if (typeof ease === 'string') return ease;
  return [1 - ease[2], 1 - ease[3], 1 - ease[0], 1 - ease[1]];
}
