/**
 * Distance from pixels to the outline of a matte. The outline is taken with its place between the pixels, in chords; each
 * chord is measured, exactly, for the pixels within reach of it, and the smallest distance stays. Nothing farther from the
 * outline than the reach is ever visited.
 */
import { type Box, type Gray, type Region, wholeOf } from '../image/picture.ts';
import { borrowKernels } from '../wasm/host.ts';
import { type Contour, contourAt } from './contour.ts';

/** How many joined segments back the direction of an outline is read where it leaves the picture. */
const LOOK_BACK = 6;

/** Tolerance under one step of an 8-bit matte for an edge one pixel wide. */
const EXACT = 0.004;

/** From this reach on, pixels, it pays to tell which chords can be nearest before they are measured. */
const FAR = 24;

/** Signed distances in a box, pixels inside the outline positive, clamped to ±reach; pixels outside the box are farther than that. */
export interface DistanceField extends Box {
  data: Float32Array;
}

/** Distances that lie in the memory of the kernels: floats from 0 on, rows of `stride`; good until the next borrowing. */
export interface LentField {
  box: Box;
  stride: number;
}

/**
 * Signed distance in pixels to where `matte` crosses `level`. Where the outline leaves the picture it is taken to go on straight.
 * @param reach how far from the outline distances are needed, pixels, > 0
 * @param tolerance how far, in pixels, the outline may lie from the chord that stands for a stretch of it
 * @param outline where to look for the outline (elsewhere the matte is flat), or the outline itself where it is known
 * @returns null where the matte never crosses the level
 */
export function lendDistance(matte: Gray, level: number, reach: number, tolerance = EXACT, outline: Region | Contour = wholeOf(matte)): LentField | null {
  const contour = 'segments' in outline ? outline : contourAt(matte, level, outline);
  if (contour.count === 0) return null;
  const pieces = chords(extendOpenEnds(contour, reach), contour.mates, contour.count, tolerance);
  const box = boxOf(contour, matte, reach);
  // Centres of pixels of the box at whole numbers, as the kernel wants them.
  for (let i = 0; i < pieces.length; i += 2) {
    pieces[i] -= box.left + 0.5;
    pieces[i + 1] -= box.top + 0.5;
  }
  const stride = (box.width + 3) & ~3;
  const size = stride * box.height;
  // Layout: field and three floats of room | the matte in the box | chords | how far they are.
  const atMatte = size + 4;
  const atChords = atMatte + size;
  const { kernels, floats } = borrowKernels(atChords + pieces.length + pieces.length / 4);
  floats.fill(reach * reach, 0, size);
  for (let y = 0; y < box.height; y++) {
    const from = (y + box.top) * matte.width + box.left;
    floats.set(matte.data.subarray(from, from + box.width), atMatte + y * stride);
  }
  floats.set(pieces, atChords);
  const count = pieces.length / 4;
  if (reach < FAR) kernels.spreadChords(atChords * 4, count, 0, stride, box.width, box.height, reach);
  else kernels.spreadChordsFar(atChords * 4, count, 0, stride, box.width, box.height, reach, (atChords + pieces.length) * 4);
  kernels.signedRoots(0, atMatte * 4, size, level);
  return { box, stride };
}

/** As {@link lendDistance}, in memory of its own. */
export function signedDistance(matte: Gray, level: number, reach: number, tolerance = EXACT, outline: Region | Contour = wholeOf(matte)): DistanceField | null {
  const lent = lendDistance(matte, level, reach, tolerance, outline);
  if (!lent) return null;
  const { box, stride } = lent;
  const { floats } = borrowKernels(0);
  const data = new Float32Array(box.width * box.height);
  for (let y = 0; y < box.height; y++) data.set(floats.subarray(y * stride, y * stride + box.width), y * box.width);
  return { ...box, data };
}

function boxOf({ segments, count }: Contour, { width, height }: Gray, reach: number): Box {
  let x0 = width;
  let y0 = height;
  let x1 = 0;
  let y1 = 0;
  for (let i = 0; i < 4 * count; i += 2) {
    if (segments[i] < x0) x0 = segments[i];
    if (segments[i] > x1) x1 = segments[i];
    if (segments[i + 1] < y0) y0 = segments[i + 1];
    if (segments[i + 1] > y1) y1 = segments[i + 1];
  }
  const left = Math.max(0, Math.floor(x0 - reach) - 1);
  const top = Math.max(0, Math.floor(y0 - reach) - 1);
  const right = Math.min(width, Math.ceil(x1 + reach) + 1);
  const bottom = Math.min(height, Math.ceil(y1 + reach) + 1);
  return { left, top, width: right - left, height: bottom - top };
}

/** A copy of the segments in which those that end at the border of the picture go on `reach` pixels. */
function extendOpenEnds({ segments, mates, count }: Contour, reach: number): Float32Array {
  const out = segments.slice();
  for (let end = 0; end < 2 * count; end++) {
    if (mates[end] >= 0) continue;
    let far = end ^ 1;
    for (let k = 0; k < LOOK_BACK && mates[far] >= 0; k++) far = mates[far] ^ 1;
    const dx = segments[2 * end] - segments[2 * far];
    const dy = segments[2 * end + 1] - segments[2 * far + 1];
    const length = Math.sqrt(dx * dx + dy * dy);
    if (length < 1e-6) continue;
    out[2 * end] += (dx / length) * reach;
    out[2 * end + 1] += (dy / length) * reach;
  }
  return out;
}

const SEGMENTS_IN_CHORD = 48;

/** The outline in fewer, longer pieces: x0,y0,x1,y1 each. Stretches that are all but straight become one chord. */
function chords(segments: Float32Array, mates: Int32Array, count: number, tolerance: number): Float32Array {
  const out: number[] = [];
  const taken = new Uint8Array(count);
  const xs = new Float64Array(SEGMENTS_IN_CHORD + 1);
  const ys = new Float64Array(SEGMENTS_IN_CHORD + 1);
  for (let s = 0; s < count; s++) {
    if (taken[s]) continue;
    // Forward along the outline from the first end of this segment, leaving out what was taken before.
    let end = 2 * s + 1;
    let points = 1;
    xs[0] = segments[4 * s];
    ys[0] = segments[4 * s + 1];
    for (;;) {
      taken[end >> 1] = 1;
      xs[points] = segments[2 * end];
      ys[points] = segments[2 * end + 1];
      points++;
      const far = points - 1;
      if (!straight(xs, ys, far, tolerance)) {
        // The last piece bends away: close the chord before it and go on from there.
        out.push(xs[0], ys[0], xs[far - 1], ys[far - 1]);
        xs[0] = xs[far - 1];
        ys[0] = ys[far - 1];
        xs[1] = xs[far];
        ys[1] = ys[far];
        points = 2;
      }
      const mate = mates[end];
      if (mate < 0 || taken[mate >> 1] || points > SEGMENTS_IN_CHORD) {
        out.push(xs[0], ys[0], xs[points - 1], ys[points - 1]);
        if (mate < 0 || taken[mate >> 1]) break;
        xs[0] = xs[points - 1];
        ys[0] = ys[points - 1];
        points = 1;
      }
      end = mate ^ 1;
    }
  }
  return Float32Array.from(out);
}

/** Whether the points between the first and `far` lie on the chord between those two. */
function straight(xs: Float64Array, ys: Float64Array, far: number, tolerance: number): boolean {
  const dx = xs[far] - xs[0];
  const dy = ys[far] - ys[0];
  const length = Math.sqrt(dx * dx + dy * dy);
  for (let k = 1; k < far; k++) {
    const px = xs[k] - xs[0];
    const py = ys[k] - ys[0];
    const along = px * dx + py * dy;
    if (along < 0 || along > length * length || Math.abs(px * dy - py * dx) > tolerance * length) return false;
  }
  return true;
}
