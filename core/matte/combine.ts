/** Joining parts into one matte with the operations of the CSS Masking standard (mask-composite), on alphas. */
import type { Operation } from '../document/schema.ts';
import type { Gray, Region } from '../image/picture.ts';

/** The matte of a part where it is busy: `matte` is a crop of the picture at (left, top); elsewhere the part is `outside`. */
export interface Drawn {
  matte: Gray;
  left: number;
  top: number;
  outside: 0 | 1;
}

export const regionOf = ({ matte, left, top }: Drawn): Region => ({ left, top, right: left + matte.width, bottom: top + matte.height });

/** What `operation` makes of alpha `a` with the part's alpha `p` in full strength. */
const joined = (operation: Operation, a: number, p: number, opacity: number): number => {
  switch (operation) {
    case 'add':
      return a + p * opacity * (1 - a);
    case 'subtract':
      return a * (1 - p * opacity);
    case 'intersect':
      // An intersecting part of opacity 0 must change nothing, so opacity mixes towards the untouched matte.
      return a * (1 - opacity + p * opacity);
    case 'exclude': {
      const q = p * opacity;
      return a * (1 - q) + q * (1 - a);
    }
  }
};

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
  const { matte, left, top, outside } = part;
  const bottom = top + matte.height;
  const join = JOIN[operation];
  // Most operations leave alone what the part does not touch.
  const everywhere = outside === 1 ? operation !== 'intersect' : operation === 'intersect';
  const rest = (from: number, to: number) => {
    for (let i = from; i < to; i++) data[i] = joined(operation, data[i], outside, opacity);
  };
  for (let y = everywhere ? 0 : top; y < (everywhere ? height : bottom); y++) {
    const row = y * width;
    if (y < top || y >= bottom) {
      rest(row, row + width);
      continue;
    }
    if (everywhere) {
      rest(row, row + left);
      rest(row + left + matte.width, row + width);
    }
    join(data, row + left, matte.data, (y - top) * matte.width, matte.width, opacity);
  }
}

/** A whole picture with the part alone in it. */
export function placeInto(below: Gray, { matte, left, top, outside }: Drawn): void {
  if (outside === 1) below.data.fill(1);
  for (let y = 0; y < matte.height; y++) below.data.set(matte.data.subarray(y * matte.width, (y + 1) * matte.width), (y + top) * below.width + left);
}

export function invertInPlace(matte: Gray): void {
  const { data } = matte;
  for (let i = 0; i < data.length; i++) data[i] = 1 - data[i];
}
