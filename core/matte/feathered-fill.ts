/**
 * Fill of curves whose vertices have feathers of their own: a pixel takes the widths of the nearest place of the curve, which
 * go evenly from vertex to vertex along it, and its alpha follows from its distance.
 */
import type { Falloff } from '../document/schema.ts';
import type { Gray } from '../image/picture.ts';
import { chordsOf, pointOn, type Shape, segment } from '../path/path.ts';
import { borrowKernels } from '../wasm/host.ts';
import { FALLOFF_STEPS, falloffTable } from './falloff.ts';

/** Pixels between curve and chord that a feather forgives. */
const FLATNESS = 0.02;
const FLOATS = 8;

/** Chords with widths, x0,y0,x1,y1,in0,in1,out0,out1 each, in scaled pixels with centres at whole numbers. */
function gather(shapes: readonly Shape[], scaleX: number, scaleY: number, left: number, top: number): Float32Array {
  const out: number[] = [];
  const scale = (scaleX + scaleY) / 2;
  for (const shape of shapes)
    for (let i = 0; i < shape.length; i++) {
      const s = segment(shape, i);
      for (let k = 0; k < 8; k += 2) {
        s[k] *= scaleX;
        s[k + 1] *= scaleY;
      }
      const [v, w] = [shape[i], shape[(i + 1) % shape.length]];
      const [in0, in1, out0, out1] = [v.featherIn ?? 0, w.featherIn ?? 0, v.featherOut ?? 0, w.featherOut ?? 0];
      const n = chordsOf(s, FLATNESS);
      let before = pointOn(s, 0);
      for (let k = 1; k <= n; k++) {
        const p = pointOn(s, k / n);
        const [a, b] = [(k - 1) / n, k / n];
        out.push(before.x - left - 0.5, before.y - top - 0.5, p.x - left - 0.5, p.y - top - 0.5);
        out.push((in0 + (in1 - in0) * a) * scale, (in0 + (in1 - in0) * b) * scale, (out0 + (out1 - out0) * a) * scale, (out0 + (out1 - out0) * b) * scale);
        before = p;
      }
    }
  return Float32Array.from(out);
}

/** How far, in scaled pixels, the widest feather of any vertex reaches from the curve, and a little more. */
export function featherReach(shapes: readonly Shape[], scaleX: number, scaleY: number): number {
  let widest = 0;
  for (const shape of shapes) for (const v of shape) widest = Math.max(widest, v.featherIn ?? 0, v.featherOut ?? 0);
  return Math.ceil(widest * Math.max(scaleX, scaleY)) + 2;
}

/**
 * Turns the coverage of closed `shapes`, in place, into their feathered matte. `coverage` is the part of the picture from
 * (left, top) on that the feathers reach.
 */
export function featherInPlace(coverage: Gray, shapes: readonly Shape[], scaleX: number, scaleY: number, left: number, top: number, falloff: Falloff): void {
  const { width, height, data } = coverage;
  if (data.length === 0) return;
  const chords = gather(shapes, scaleX, scaleY, left, top);
  const table = falloffTable(falloff);
  const stride = (width + 3) & ~3;
  const size = stride * height;
  // Layout: coverage | squared distances | inner | outer widths, three floats of room after each | table | chords.
  const [atField, atInner, atOuter] = [size + 4, 2 * (size + 4), 3 * (size + 4)];
  const atTable = 4 * (size + 4);
  const atChords = atTable + FALLOFF_STEPS + 4;
  const { kernels, floats } = borrowKernels(atChords + chords.length);
  for (let y = 0; y < height; y++) floats.set(data.subarray(y * width, (y + 1) * width), y * stride);
  floats.fill(1e12, atField, atField + size + 4);
  floats.fill(0, atInner, atTable);
  floats.set(table, atTable);
  floats.set(chords, atChords);
  kernels.spreadFeather(atChords * 4, chords.length / FLOATS, atField * 4, atInner * 4, atOuter * 4, stride, width, height);
  kernels.featherAlpha(0, atField * 4, atInner * 4, atOuter * 4, size, atTable * 4, FALLOFF_STEPS);
  for (let y = 0; y < height; y++) data.set(floats.subarray(y * stride, y * stride + width), y * width);
}
