/** Joining parts into one matte with the operations of the CSS Masking standard (mask-composite), on alphas. */
import type { Operation } from '../document/schema.ts';
import type { Box, Gray } from '../image/picture.ts';

/** The matte of a part where it is busy: rows of `stride` floats, of which the box's columns count; elsewhere the part is `outside`. */
export interface Drawn {
  box: Box;
  data: Float32Array;
  stride: number;
  outside: 0 | 1;
}

type Stretch = (a: Float32Array, at: number, b: Float32Array, from: number, count: number, opacity: number) => void;

/**
 * One stretch of pixels of `a` joined with as many of `b`. A function of its own for each operation, so that each is a tight
 * loop; memory that stays as it is is not written.
 */
const JOIN: Record<Operation, Stretch> = {
  add(a, at, b, from, count, opacity) {
    for (let i = 0; i < count; i++) if (b[from + i] !== 0) a[at + i] += b[from + i] * opacity * (1 - a[at + i]);
  },
  subtract(a, at, b, from, count, opacity) {
    for (let i = 0; i < count; i++) if (b[from + i] !== 0) a[at + i] *= 1 - b[from + i] * opacity;
  },
  intersect(a, at, b, from, count, opacity) {
    for (let i = 0; i < count; i++) a[at + i] *= 1 - opacity + b[from + i] * opacity;
  },
  exclude(a, at, b, from, count, opacity) {
    for (let i = 0; i < count; i++) {
      const p = b[from + i] * opacity;
      a[at + i] = a[at + i] * (1 - p) + p * (1 - a[at + i]);
    }
  },
};

/** Joins `part`, scaled with `opacity` in [0,1], to `below`, in place. */
export function combineInto(below: Gray, part: Drawn, operation: Operation, opacity: number): void {
  const { data, width, height } = below;
  const { box, outside } = part;
  const bottom = box.top + box.height;
  const join = JOIN[operation];
  // Most operations leave alone what the part does not touch.
  const everywhere = outside === 1 ? operation !== 'intersect' : operation === 'intersect';
  const flat = new Float32Array(everywhere ? width : 0).fill(outside);
  for (let y = everywhere ? 0 : box.top; y < (everywhere ? height : bottom); y++) {
    const row = y * width;
    if (y < box.top || y >= bottom) {
      join(data, row, flat, 0, width, opacity);
      continue;
    }
    if (everywhere) {
      const right = box.left + box.width;
      join(data, row, flat, 0, box.left, opacity);
      join(data, row + right, flat, 0, width - right, opacity);
    }
    join(data, row + box.left, part.data, (y - box.top) * part.stride, box.width, opacity);
  }
}

/** A whole picture with the part alone in it. */
export function placeInto(below: Gray, { box, data, stride, outside }: Drawn): void {
  if (outside === 1) below.data.fill(1);
  for (let y = 0; y < box.height; y++) below.data.set(data.subarray(y * stride, y * stride + box.width), (y + box.top) * below.width + box.left);
}

export function invertInPlace(data: Float32Array): void {
  for (let i = 0; i < data.length; i++) data[i] = 1 - data[i];
}
