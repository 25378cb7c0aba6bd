/**
 * Painted frames as they are laid onto those that are carried from them: what one hides of the subject is filled in from one that was
 * painted before it, as in a mosaic, so that it is known when it comes out.
 */

import type { Size } from '../../image/picture.ts';
import { applyTo } from '../../math/homography.ts';
import { halfwayMask } from '../matting/soft-edge.ts';
import { FAR } from '../motion/layers.ts';
import type { PreparedFrame } from '../motion/prepared-frame.ts';
import { boxAround, boxRound, cropLab, cropMask, paste } from '../picture/crop.ts';
import type { LabPicture } from '../picture/lab.ts';
import { dilate, eachComponent, either } from '../picture/masks.ts';
import { maskDistance } from '../picture/signed-distance.ts';
import { boxRoundPainted, laidWhole, type Painted } from '../propagate/registration.ts';
import { halfMask } from '../uncertainty/ensemble.ts';
import type { FrameView } from './frame-views.ts';

/** A painted frame as it is laid onto others: at its size, and at half of it for the second opinion. */
export interface Whole {
  frame: Pick<PreparedFrame, 'fine' | 'coarse'>;
  mask: Uint8Array;
  half: { frame: Pick<PreparedFrame, 'fine' | 'coarse'>; mask: Uint8Array };
}

export const wholeOf = ({ prepared, half }: Pick<FrameView, 'prepared' | 'half'>, mask: Uint8Array): Whole => ({
  frame: prepared,
  mask,
  half: { frame: half, mask: halfMask(mask, prepared, half.fine) },
});

/** A painted frame by its mask, with its edge half way where it is soft. */
export const paintedWhole = (view: FrameView, mask: Uint8Array): Whole => wholeOf(view, halfwayMask(mask, view.prepared.fine));

/** What is hidden is this far, pixels, from its own edge somewhere: what is thinner is an edge that differs. */
const DEEP = 3;
/** A piece of which strokes took so much of it away is not hidden, but gone; less may lie on what hides it. */
const TAKEN = 0.2;

/** What is laid and not in the mask, but for thin edges and for pieces that strokes took away. */
function hiddenOf(laid: Uint8Array, mask: Uint8Array, dropped: Uint8Array, { width, height }: Size): Uint8Array {
  const hidden = laid.map((v, i) => (v && !mask[i] ? 1 : 0));
  eachComponent(hidden, width, height, 1, (pixels) => {
    let taken = 0;
    for (const i of pixels) taken += dropped[i];
    if (taken > TAKEN * pixels.length) for (const i of pixels) hidden[i] = 0;
  });
  const distance = maskDistance(hidden, width, height, DEEP + 1);
  const near = dilate(
    hidden.map((_, i) => (distance[i] >= DEEP ? 1 : 0)),
    width,
    height,
    DEEP,
  );
  return hidden.map((v, i) => v & near[i]);
}

/** The picture, of this size or smaller, with the colours of another where most of a pixel is `added`. */
function filledIn(picture: LabPicture, from: LabPicture, added: Uint8Array): LabPicture {
  const block = Math.floor(from.width / picture.width);
  const [lab, cell] = [picture.lab.slice(), picture.cell.slice()];
  const sum = [0, 0, 0];
  for (let y = 0, at = 0; y < picture.height; y++)
    for (let x = 0; x < picture.width; x++, at += 3) {
      let count = 0;
      let last = 0;
      sum.fill(0);
      for (let v = y * block; v < (y + 1) * block; v++)
        for (let i = v * from.width + x * block, end = i + block; i < end; i++) {
          if (!added[i]) continue;
          count++;
          last = i;
          for (let c = 0; c < 3; c++) sum[c] += from.lab[3 * i + c];
        }
      if (2 * count <= block * block) continue;
      for (let c = 0; c < 3; c++) lab[at + c] = sum[c] / count;
      cell[at / 3] = from.cell[last];
    }
  return { ...picture, lab, cell };
}

/**
 * The frame with what it hides of the subject, as it was on one painted before.
 * @param earlier that one, and about how it lies on this one
 * @param dropped what strokes took away on this one: that is not hidden
 */
export function filledFrom(own: Whole, prepared: PreparedFrame, earlier: Painted, dropped: Uint8Array): Whole {
  const { fine } = prepared;
  const { width, height } = fine;
  const here = boxRound(own.mask, width, height, FAR);
  const there = boxRoundPainted(earlier, FAR);
  if (!here || !there) return own;
  const box = boxAround(here, there);
  const mask = cropMask(own.mask, width, box);
  const edge = maskDistance(mask, box.width, box.height, FAR);
  const laid = laidWhole(earlier, earlier.back, { next: prepared, own: cropLab(fine, box), box, edge });
  const part = hiddenOf(laid.mask, mask, cropMask(dropped, width, box), box);
  if (!part.includes(1)) return own;
  const added = new Uint8Array(width * height);
  paste(added, width, part, box);
  const [lab, cell] = [fine.lab.slice(), fine.cell.slice()];
  for (let y = 0, i = 0; y < box.height; y++)
    for (let x = 0; x < box.width; x++, i++) {
      if (!part[i]) continue;
      const [u, v] = [x + box.left, y + box.top];
      for (let c = 0; c < 3; c++) lab[3 * (v * width + u) + c] = laid.picture.lab[3 * i + c];
      const [p, q] = applyTo(laid.back, u, v);
      cell[v * width + u] = earlier.frame.fine.cell[Math.round(q) * width + Math.round(p)];
    }
  const filled = { ...fine, lab, cell };
  const of = (picture: LabPicture) => filledIn(picture, filled, added);
  const whole = either(own.mask, added);
  const half = { fine: of(own.half.frame.fine), coarse: of(own.half.frame.coarse) };
  return { frame: { fine: filled, coarse: of(own.frame.coarse) }, mask: whole, half: { frame: half, mask: halfMask(whole, prepared, half.fine) } };
}
