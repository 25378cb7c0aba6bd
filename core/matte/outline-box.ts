/** The box of a picture in which outlines are drawn. */
import type { Box, Size } from '../image/picture.ts';

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
  const left = Math.min(width, Math.max(0, Math.floor(box.left - reach)));
  const top = Math.min(height, Math.max(0, Math.floor(box.top - reach)));
  return {
    left,
    top,
    width: Math.max(left, Math.min(width, Math.ceil(box.right + reach))) - left,
    height: Math.max(top, Math.min(height, Math.ceil(box.bottom + reach))) - top,
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
