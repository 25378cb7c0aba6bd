/**
 * A matte that was found on a proxy, made fine at the size of the plate: its edge settles on the plate's own, and is as soft as
 * it. Edges that were found softer than a plate's crisp one stay as they are.
 */
import { type Gray, newGray, resized } from '../../image/picture.ts';
import { boxRound, crop, cropMask, paste } from '../picture/crop.ts';
import { type FrameBytes, labPicture } from '../picture/lab.ts';
import { dilate } from '../picture/masks.ts';
import { maskDistance } from '../picture/signed-distance.ts';
import { finishedAlpha, LOOKED_AT } from './soft-edge.ts';

/** Below this many plate pixels a proxy pixel there is nothing to make finer. */
const WORTH = 1.2;
/** A crisp edge goes from nothing to all within so many pixels of the proxy on each side; alpha between these beyond is soft. */
const CRISP = 2;
const BETWEEN = 0.12;
/** Pixels of the proxy round what is soft that stay with it. */
const ROOM = 4;

/** Where a matte's edge is softer than a crisp one: 1 there and round it; null where nowhere. */
function softPlaces({ width, height, data }: Gray): Uint8Array | null {
  const mask = Uint8Array.from(data, (v) => (v > 0.5 ? 1 : 0));
  const distance = maskDistance(mask, width, height, CRISP + 2);
  const soft = new Uint8Array(data.length);
  for (let i = 0; i < soft.length; i++) if (data[i] > BETWEEN && data[i] < 1 - BETWEEN && Math.abs(distance[i]) > CRISP) soft[i] = 1;
  return soft.includes(1) ? dilate(soft, width, height, ROOM) : null;
}

/** The matte at the size of the plate's picture. */
export function refined(matte: Gray, plate: FrameBytes): Gray {
  const { width, height } = plate;
  const large = resized(matte, { width, height });
  const scale = width / matte.width;
  if (scale < WORTH) return large;
  const mask = new Uint8Array(large.data.length);
  for (let i = 0; i < mask.length; i++) if (large.data[i] > 0.5) mask[i] = 1;
  const box = boxRound(mask, width, height, LOOKED_AT);
  if (!box) return large;
  const bytes = new Uint8Array(plate.data.buffer, plate.data.byteOffset, plate.data.byteLength);
  const fine = finishedAlpha(
    cropMask(mask, width, box),
    labPicture({ width: box.width, height: box.height, data: crop(bytes, width, box, 4, new Uint8Array(4 * box.width * box.height)) }),
    null,
  );
  const soft = softPlaces(matte);
  if (soft)
    for (let y = 0; y < box.height; y++) {
      const v = Math.min(matte.height - 1, Math.floor(((y + box.top + 0.5) * matte.height) / height));
      for (let x = 0; x < box.width; x++) {
        const u = Math.min(matte.width - 1, Math.floor((x + box.left + 0.5) / scale));
        if (soft[v * matte.width + u]) fine[y * box.width + x] = large.data[(y + box.top) * width + x + box.left];
      }
    }
  const out = newGray(width, height);
  paste(out.data, width, fine, box);
  return out;
}
