/**
 * Fill of curves whose vertices have feathers of their own: a pixel takes the widths of the nearest place of the curve, which
 * go evenly from vertex to vertex along it, and its alpha follows from its distance.
 */
import type { Falloff } from '../document/schema.ts';
import type { Box, Size } from '../image/picture.ts';
import { fillPolylines } from '../path/fill.ts';
import { chordsOf, pointOn, type Shape, segment } from '../path/path.ts';
import { borrowKernels } from '../wasm/host.ts';
import { FALLOFF_STEPS, falloffTable } from './falloff.ts';

/** Pixels between curve and chord that a feather one pixel wide forgives. */
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
      // Alpha changes the slower the wider the feather is, so a wide one forgives more.
      const n = chordsOf(s, FLATNESS * Math.max(1, Math.min(in0 + out0, in1 + out1) * scale));
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

/** How far, in scaled pixels, the outline under a feather may lie from the curve: where all of it is soft it need not be as exact. */
export function featherFlatness(shape: Shape, scaleX: number, scaleY: number): number | undefined {
  const narrowest = Math.min(...shape.map((v) => Math.max(v.featherIn ?? 0, v.featherOut ?? 0)));
  return narrowest * Math.min(scaleX, scaleY) >= 1 ? FLATNESS : undefined;
}

/** A matte in the memory of the kernels, rows of `stride` floats; good until they are borrowed again. */
export interface Lent {
  data: Float32Array;
  stride: number;
}

/** The fill of outlines, which are given in pixels of the box, with room for `more` floats behind it. */
function lendWithRoom(outlines: readonly Float64Array[], { width, height }: Size, more: number): Lent {
  const stride = (width + 3) & ~3;
  const data = borrowKernels(stride * height + more).floats.subarray(0, stride * height);
  data.fill(0);
  fillPolylines(outlines, stride, height, { width: stride, height, data });
  return { data, stride };
}

export const lendFilled = (outlines: readonly Float64Array[], size: Size): Lent => lendWithRoom(outlines, size, 0);

/** The feathered matte of closed `shapes` in a box of the picture; `outlines` are the same in pixels of the box. */
export function lendFeathered(outlines: readonly Float64Array[], shapes: readonly Shape[], scaleX: number, scaleY: number, box: Box, falloff: Falloff): Lent {
  const { width, height } = box;
  const chords = gather(shapes, scaleX, scaleY, box.left, box.top);
  const stride = (width + 3) & ~3;
  const size = stride * height;
  // Layout: coverage | squared distances | inner | outer widths, three floats of room after each | table | chords.
  const [atField, atInner, atOuter] = [size + 4, 2 * (size + 4), 3 * (size + 4)];
  const atTable = 4 * (size + 4);
  const atChords = atTable + FALLOFF_STEPS + 4;
  const lent = lendWithRoom(outlines, box, atChords + chords.length - size);
  const { kernels, floats } = borrowKernels(0);
  floats.fill(1e12, atField, atField + size + 4);
  floats.fill(0, atInner, atTable);
  floats.set(falloffTable(falloff), atTable);
  floats.set(chords, atChords);
  kernels.spreadFeather(atChords * 4, chords.length / FLOATS, atField * 4, atInner * 4, atOuter * 4, stride, width, height);
  kernels.featherAlpha(0, atField * 4, atInner * 4, atOuter * 4, size, atTable * 4, FALLOFF_STEPS);
  return lent;
}
