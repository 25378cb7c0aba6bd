/** The box of a picture in which outlines are drawn. */
import type { Box, Size } from '../image/picture.ts';
import { clamp } from '../math/clamp.ts';

/** The pixels that the outlines touch or hold, with `reach` more all round, cut to the picture. */
export function boxOf(outlines: readonly Float64Array[], { width, height }: Size, reach: number): Box {
  const box = { left: width, top: height, right: 0, bottom: 0 };
  for (const p of outlines)
    for (let i = 0; i < p.length; i += 2) {
      if (p[i] < box.left) box.left = p[i];
      if (p[i] > box.right) box.right = p[i];
      if (p[i + 1] < box.top) box.top = p[i + 1];
      if (p[i + 1] > box.bottom) box.bottom = p[i + 1];
    }
  const left = clamp(Math.floor(box.left - reach), 0, width);
  const top = clamp(Math.floor(box.top - reach), 0, height);
  return {
    left,
    top,
    width: clamp(Math.ceil(box.right + reach), left, width) - left,
    height: clamp(Math.ceil(box.bottom + reach), top, height) - top,
  };
}

/** Makes places those of the box, in place: only it is drawn, and everything outside it is nothing. */
export function moveInto({ left, top }: Box, outlines: readonly Float64Array[]): void {
  for (const p of outlines)
    for (let i = 0; i < p.length; i += 2) {
      p[i] -= left;
      p[i + 1] -= top;
    }
}
