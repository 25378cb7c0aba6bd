/**
 * Roundness: the outline smoothed without shrinking (Taubin 1995, "A signal processing approach to fair surface design"), so
 * thin parts keep their width. Each side of a thin part is a stretch of outline of its own.
 */
import { type Gray, newGray } from '../image/picture.ts';
import { fillPolylines } from '../path/fill.ts';
import { contourAt } from './contour.ts';

const LAMBDA = 0.5;
const MU = -0.53;
const PASSES = 100;
/** Samples of the longest wave that goes through whole: what the pass band 1/λ + 1/μ comes to. */
const CUT_OFF = (2 * Math.PI) / Math.sqrt(1 / LAMBDA + 1 / MU);

/** The closed loops of a contour as x0,y0,x1,y1,… */
function loops({ segments, mates, count }: ReturnType<typeof contourAt>): Float64Array[] {
  const taken = new Uint8Array(count);
  const out: Float64Array[] = [];
  for (let s = 0; s < count; s++) {
    if (taken[s]) continue;
    const points: number[] = [];
    let end = 2 * s;
    for (;;) {
      const segment = end >> 1;
      if (taken[segment]) break;
      taken[segment] = 1;
      points.push(segments[2 * end], segments[2 * end + 1]);
      const mate = mates[end ^ 1];
      if (mate < 0) break;
      end = mate;
    }
    out.push(Float64Array.from(points));
  }
  return out;
}

/** The loop at even steps of about `step` pixels. */
function resampled(loop: Float64Array, step: number): Float64Array<ArrayBuffer> {
  const n = loop.length / 2;
  const lengths = new Float64Array(n + 1);
  for (let i = 0; i < n; i++) {
    const j = (i + 1) % n;
    lengths[i + 1] = lengths[i] + Math.sqrt((loop[2 * j] - loop[2 * i]) ** 2 + (loop[2 * j + 1] - loop[2 * i + 1]) ** 2);
  }
  const count = Math.max(3, Math.round(lengths[n] / step));
  const out = new Float64Array(2 * count);
  for (let k = 0, i = 0; k < count; k++) {
    const want = (lengths[n] * k) / count;
    while (lengths[i + 1] < want) i++;
    const j = (i + 1) % n;
    const span = lengths[i + 1] - lengths[i];
    const t = span > 0 ? (want - lengths[i]) / span : 0;
    out[2 * k] = loop[2 * i] + (loop[2 * j] - loop[2 * i]) * t;
    out[2 * k + 1] = loop[2 * i + 1] + (loop[2 * j + 1] - loop[2 * i + 1]) * t;
  }
  return out;
}

function faired(loop: Float64Array<ArrayBuffer>): Float64Array {
  const n = loop.length / 2;
  let now = loop;
  let next = new Float64Array(loop.length);
  for (let pass = 0; pass < 2 * PASSES; pass++) {
    const k = pass % 2 === 0 ? LAMBDA : MU;
    for (let i = 0; i < n; i++) {
      const a = 2 * ((i + n - 1) % n);
      const b = 2 * ((i + 1) % n);
      next[2 * i] = now[2 * i] + k * ((now[a] + now[b]) / 2 - now[2 * i]);
      next[2 * i + 1] = now[2 * i + 1] + k * ((now[a + 1] + now[b + 1]) / 2 - now[2 * i + 1]);
    }
    [now, next] = [next, now];
  }
  return now;
}

/**
 * A new matte whose outline, at `level`, has lost all waves shorter than about `length` pixels; hard-edged, of strength
 * `strongest`. Where the outline leaves the picture it is taken to go straight on.
 */
export function roundMatte(matte: Gray, level: number, strongest: number, length: number): Gray {
  const margin = Math.ceil(length) + 2;
  const width = matte.width + 2 * margin;
  const height = matte.height + 2 * margin;
  const padded = newGray(width, height);
  // The border's own pixels repeated outwards, closed by a rim of nothing.
  for (let y = 1; y < height - 1; y++) {
    const from = Math.max(0, Math.min(matte.height - 1, y - margin)) * matte.width;
    const row = y * width;
    padded.data.fill(matte.data[from], row + 1, row + margin);
    padded.data.set(matte.data.subarray(from, from + matte.width), row + margin);
    padded.data.fill(matte.data[from + matte.width - 1], row + margin + matte.width, row + width - 1);
  }
  const step = Math.max(0.25, length / CUT_OFF);
  const smooth = loops(contourAt(padded, level)).map((loop) => (loop.length < 8 ? loop : faired(resampled(loop, step))));
  for (const loop of smooth) for (let i = 0; i < loop.length; i++) loop[i] -= margin;
  const out = fillPolylines(smooth, matte.width, matte.height);
  if (strongest !== 1) for (let i = 0; i < out.data.length; i++) out.data[i] *= strongest;
  return out;
}
