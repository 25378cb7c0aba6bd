/**
 * Roundness: the outline smoothed without shrinking (Taubin 1995, "A signal processing approach to fair surface design"), so
 * thin parts keep their width. Each side of a thin part is a stretch of outline of its own.
 */
import { type Gray, newGray, type Region } from '../image/picture.ts';
import { clamp } from '../math/clamp.ts';
import { fillPolylines } from '../path/fill.ts';
import { borrowKernels } from '../wasm/host.ts';
import { type Contour, contourAt, contourOf } from './contour.ts';

const LAMBDA = 0.5;
const MU = -0.53;
const PASSES = 60;
/** Samples of the shortest wave that goes through whole: what the pass band 1/λ + 1/μ comes to. */
const CUT_OFF = (2 * Math.PI) / Math.sqrt(1 / LAMBDA + 1 / MU);

/** The closed loops of a contour as x0,y0,x1,y1,… */
function loops({ segments, mates, count }: Contour): Float64Array[] {
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
function resampled(loop: Float64Array, step: number): Float64Array {
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

function faired(loop: Float64Array): Float64Array {
  const { kernels, floats } = borrowKernels(4 * loop.length);
  const doubles = new Float64Array(floats.buffer, 0, 2 * loop.length);
  doubles.set(loop);
  kernels.fairLoop(0, loop.byteLength, loop.length / 2, PASSES, LAMBDA, MU);
  return doubles.slice(0, loop.length);
}

/** The outline at `level` with all waves shorter than about `length` pixels taken out of it. */
function roundLoops(matte: Gray, level: number, length: number, busy?: Region): Float64Array[] {
  // Waves of half that length are all but gone, so `length` is taken for it.
  const step = Math.max(0.25, (2 * length) / CUT_OFF);
  return loops(contourAt(matte, level, busy)).map((loop) => (loop.length < 8 ? loop : faired(resampled(loop, step))));
}

function scale({ data, width }: Gray, { left, top, right, bottom }: Region, factor: number): void {
  if (factor === 1) return;
  for (let y = top; y < bottom; y++) for (let i = y * width + left; i < y * width + right; i++) data[i] *= factor;
}

/**
 * Rounds in place: the outline, at `level`, loses all waves shorter than about `length` pixels; hard-edged afterwards, of
 * strength `strongest`. Where the outline leaves the picture it is taken to go straight on.
 * @param busy outside it the matte is flat
 * @returns the outline it has now, where all of it lies in the picture; else null
 */
export function roundMatte(matte: Gray, busy: Region, level: number, strongest: number, length: number): Contour | null {
  const margin = Math.ceil(length) + 2;
  const region = { left: busy.left - margin, top: busy.top - margin, right: busy.right + margin, bottom: busy.bottom + margin };
  if (busy.right <= busy.left || busy.bottom <= busy.top) return null;
  const inside = region.left >= 0 && region.top >= 0 && region.right <= matte.width && region.bottom <= matte.height;
  if (!inside || matte.data[0] > level) {
    roundPadded(matte, region, level, strongest, length);
    return null;
  }
  // All of the outline lies in the picture, so it is drawn anew where it was.
  const smooth = roundLoops(matte, level, length, busy);
  for (let y = busy.top; y < busy.bottom; y++) matte.data.fill(0, y * matte.width + busy.left, y * matte.width + busy.right);
  fillPolylines(smooth, matte.width, matte.height, matte);
  scale(matte, region, strongest);
  return contourOf(smooth);
}

/** As roundMatte, over a copy with a margin round what is busy; beyond the picture its border's own pixels are repeated. */
function roundPadded(matte: Gray, { left, top, right, bottom }: Region, level: number, strongest: number, length: number): void {
  const [width, height] = [right - left, bottom - top];
  const padded = newGray(width, height);
  const [inLeft, inRight] = [Math.max(1, -left), Math.min(width - 1, matte.width - left)];
  for (let y = 1; y < height - 1; y++) {
    const from = clamp(y + top, 0, matte.height - 1) * matte.width;
    const row = y * width;
    padded.data.fill(matte.data[from], row + 1, row + inLeft);
    padded.data.set(matte.data.subarray(from + inLeft + left, from + inRight + left), row + inLeft);
    padded.data.fill(matte.data[from + matte.width - 1], row + inRight, row + width - 1);
  }
  const smooth = roundLoops(padded, level, length);
  padded.data.fill(0);
  fillPolylines(smooth, width, height, padded);
  scale(padded, { left: 0, top: 0, right: width, bottom: height }, strongest);
  const [outLeft, outRight] = [Math.max(inLeft, 1), Math.min(inRight, width - 1)];
  for (let y = Math.max(1, -top); y < Math.min(height - 1, matte.height - top); y++)
    matte.data.set(padded.data.subarray(y * width + outLeft, y * width + outRight), (y + top) * matte.width + outLeft + left);
}
