/** Lines of letters on a layer. */
import type { Rgba } from '../image/picture.ts';
import { type Homography, multiply, translation } from '../math/homography.ts';
import type { Letters } from '../matte/sources.ts';
import { flatten } from '../path/path.ts';
import { warpedShape } from '../path/warped.ts';
import { fillOver } from './paint.ts';

export interface Line {
  letters: Letters;
  /** Where each letter stands, and how wide the line is; sizes of the type. */
  starts: number[];
  width: number;
}

/** @param spacing room between letters, in sizes of the type */
export function lineOf(letters: Letters, spacing = 0): Line {
  const starts: number[] = [];
  let width = 0;
  letters.advances.forEach((advance, i) => {
    starts.push(width);
    width += advance + (i < letters.advances.length - 1 ? spacing : 0);
  });
  return { letters, starts, width: Math.max(0, width) };
}

/** Fills a line with a colour. @param standing from sizes of the type, (0, 0) where its baseline begins, to pixels of the layer */
export function fillLine(layer: Rgba, { letters, starts }: Line, standing: Homography, colour: readonly number[]): void {
  letters.shapes.forEach((shapes, i) => {
    const motion = multiply(standing, translation(starts[i], 0));
    // Each letter by itself, so that letters that overlap do not cut one another out.
    if (shapes.length > 0)
      fillOver(
        layer,
        shapes.map((shape) => flatten(warpedShape(shape, motion))),
        colour,
      );
  });
}
