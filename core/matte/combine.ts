/** Joining parts into one matte with the operations of the CSS Masking standard (mask-composite), on alphas. */
import type { Operation } from '../document/schema.ts';
import type { Gray } from '../image/picture.ts';

/** Lowers or raises `below` in place by `part` scaled with `opacity` in [0,1]. */
export function combineInto(below: Gray, part: Gray, operation: Operation, opacity: number): void {
  const a = below.data;
  const b = part.data;
  switch (operation) {
    case 'add':
      for (let i = 0; i < a.length; i++) a[i] += b[i] * opacity * (1 - a[i]);
      break;
    case 'subtract':
      for (let i = 0; i < a.length; i++) a[i] *= 1 - b[i] * opacity;
      break;
    case 'intersect':
      // An intersecting part of opacity 0 must change nothing, so opacity mixes towards the untouched matte.
      for (let i = 0; i < a.length; i++) a[i] *= 1 - opacity + b[i] * opacity;
      break;
    case 'exclude':
      for (let i = 0; i < a.length; i++) {
        const p = b[i] * opacity;
        a[i] = a[i] * (1 - p) + p * (1 - a[i]);
      }
  }
}

export function invertInPlace(matte: Gray): void {
  const { data } = matte;
  for (let i = 0; i < data.length; i++) data[i] = 1 - data[i];
}
