/** The plate without a subject: what is behind one whose effect takes it out of its outline. */
import type { Subject } from '../document/schema.ts';
import { rawLayer } from '../image/in-room.ts';
import { cutInto, layOver } from '../image/lay.ts';
import { commonOf, type Gray, grownBy, isEmpty, type Region, type Rgba, type Size, wholeOf } from '../image/picture.ts';
import { clamp } from '../math/clamp.ts';
import type { Sources } from '../matte/sources.ts';
import { crop } from '../peel/picture/crop.ts';
import { dilate } from '../peel/picture/masks.ts';
import { pushPull } from '../peel/picture/push-pull.ts';
import { roomOf } from '../wasm/room.ts';

/** Plate pixels by which a matte is made larger, so that no colour of the subject's edge is left. */
const MARGIN = 3;

/** An opaque picture that goes on from what is known of it into what is not. */
function filledIn({ width, height, data }: Rgba, unknown: Uint8Array): Rgba {
  const count = width * height;
  const weights = Float32Array.from(unknown, (u) => 1 - u);
  const out: Rgba = { width, height, data: new Float32Array(4 * count).fill(1) };
  // Red and green, then blue with nothing.
  for (const first of [0, 2]) {
    const pairs = new Float32Array(2 * count);
    const channels = first === 0 ? 2 : 1;
    for (let p = 0; p < count; p++) for (let k = 0; k < channels; k++) pairs[2 * p + k] = weights[p] * data[4 * p + first + k];
    const filled = pushPull(pairs, weights, width, height);
    for (let p = 0; p < count; p++) for (let k = 0; k < channels; k++) out.data[4 * p + first + k] = filled[2 * p + k];
  }
  return out;
}

/** Plate pixels round a subject, at least, from which what was behind it is computed; and the share of its own size. */
const ROUND = 48;
const OWN_SIZE = 0.5;

/** Takes a subject out of the picture: its clean plate is laid there, or what lies round it goes on. Gives the part that was changed. */
export async function takeOut(
  picture: Rgba,
  { clean }: Subject,
  matte: Gray,
  extent: Region,
  { frame, scale, sources, size }: { frame: number; scale: number; sources: Sources; size: Size },
): Promise<Region> {
  if (isEmpty(extent)) return extent;
  const margin = Math.ceil(MARGIN * scale);
  const around = Math.max(ROUND * scale, OWN_SIZE * Math.max(extent.right - extent.left, extent.bottom - extent.top));
  const near = commonOf(wholeOf(size), grownBy(extent, Math.ceil(around) + margin));
  // Of the picture only what is near is looked at.
  const part = rawLayer(null, near);
  cutInto(part, picture, null);
  const [width, height] = [part.width, part.height];
  const cropped = crop(matte.data, matte.width, part, 1, new Float32Array(width * height));
  const gone = dilate(Uint8Array.from(cropped, Math.ceil), width, height, margin);
  const shown = clean && (await sources.footage(clean, clamp(frame, 0, clean.frames - 1), size));
  // One that is not there is empty; of one with alpha, what it leaves open is computed.
  const whole = shown && !clean.alpha && shown.data[3] === 1;
  const behind = whole ? part : filledIn(part, gone);
  if (shown) {
    const there = rawLayer(null, near);
    cutInto(there, shown, null);
    layOver(behind, { ...there, left: 0, top: 0 }, 'normal', 1);
  }
  // Only where it was: what lies round it stays.
  const own = rawLayer(roomOf(picture.data), near);
  cutInto({ ...own, left: 0, top: 0 }, behind, { width, height, data: Float32Array.from(gone) });
  layOver(picture, own, 'normal', 1);
  return near;
}
