/** The plate without a subject: what is behind one whose effect takes it out of its outline. */
import type { Subject } from '../document/schema.ts';
import { rawLayer } from '../image/in-room.ts';
import { cutInto, layOver } from '../image/lay.ts';
import { commonOf, type Gray, grownBy, isEmpty, type Layer, newGray, type Region, type Rgba, type Size, wholeOf } from '../image/picture.ts';
import { clamp } from '../math/clamp.ts';
import type { Sources } from '../matte/sources.ts';
import { pushPull } from '../peel/picture/push-pull.ts';
import { roomOf } from '../wasm/room.ts';

/** Plate pixels by which a matte is made larger, so that no colour of the subject's edge is left. */
const MARGIN = 3;

/** Where a matte has anything within so many pixels, 1; 0 elsewhere. */
function widened({ width, height, data }: Gray, by: number): Gray {
  const rows = newGray(width, height);
  const out = newGray(width, height);
  const spread = (from: Float32Array, to: Float32Array, lines: number, line: number, count: number, step: number) => {
    for (let l = 0; l < lines; l++) {
      let last = Number.NEGATIVE_INFINITY;
      let next = -1;
      for (let k = 0; k < count; k++) {
        // The nearest one behind, and the nearest ahead.
        if (from[l * line + k * step] > 0) last = k;
        if (next < k) {
          next = k;
          while (next < count && !(from[l * line + next * step] > 0)) next++;
        }
        if (k - last <= by || (next < count && next - k <= by)) to[l * line + k * step] = 1;
      }
    }
  };
  spread(data, rows.data, height, width, width, 1);
  spread(rows.data, out.data, width, 1, height, width);
  return out;
}

/** An opaque picture that goes on from what is known of it into what is not. */
function filledIn({ width, height, data }: Rgba, unknown: Gray): Rgba {
  const count = width * height;
  const weights = unknown.data.map((u) => (u > 0 ? 0 : 1));
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
  const gone = widened(partOf(matte, near), margin);
  const shown = clean && (await sources.footage(clean, clamp(frame, 0, clean.frames - 1), size));
  // One that is not there is empty; of one with alpha, what it leaves open is computed.
  const whole = shown && !clean.alpha && shown.data[3] === 1;
  const behind = whole ? part : filledIn(part, gone);
  if (shown) {
    const there = rawLayer(null, near);
    cutInto(there, shown, null);
    layOver(behind, { ...there, left: 0, top: 0 }, 'normal', 1);
  }
  // A matte for the part alone: what it leaves stays.
  const cut: Layer = { ...near, width: gone.width, height: gone.height, data: behind.data };
  for (let p = 0; p < gone.data.length; p++) if (gone.data[p] === 0) cut.data.fill(0, 4 * p, 4 * p + 4);
  const own = rawLayer(roomOf(picture.data), near);
  own.data.set(cut.data);
  layOver(picture, own, 'normal', 1);
  return near;
}

/** A part of a matte. */
function partOf({ width, data }: Gray, { left, top, right, bottom }: Region): Gray {
  const out = newGray(right - left, bottom - top);
  for (let y = top; y < bottom; y++) out.data.set(data.subarray(y * width + left, y * width + right), (y - top) * out.width);
  return out;
}
