/** Parts of pictures: most work is needed only round the subject. */
import type { Box } from '../../image/picture.ts';
import type { LabPicture } from './lab.ts';

/** The box round all that is set, with `room` pixels more on each side as far as there are any; null where nothing is set. */
export function boxRound(mask: Uint8Array, width: number, height: number, room: number): Box | null {
  const first = mask.indexOf(1);
  if (first < 0) return null;
  const y0 = Math.floor(first / width);
  const y1 = Math.floor(mask.lastIndexOf(1) / width);
  let [x0, x1] = [width, -1];
  for (let y = y0; y <= y1; y++) {
    const row = mask.subarray(y * width, (y + 1) * width);
    const left = row.indexOf(1);
    if (left < 0) continue;
    x0 = Math.min(x0, left);
    x1 = Math.max(x1, row.lastIndexOf(1));
  }
  const [left, top] = [Math.max(0, x0 - room), Math.max(0, y0 - room)];
  return { left, top, width: Math.min(width, x1 + 1 + room) - left, height: Math.min(height, y1 + 1 + room) - top };
}

/** The smallest box that holds both. */
export function boxAround(a: Box, b: Box): Box {
  const [left, top] = [Math.min(a.left, b.left), Math.min(a.top, b.top)];
  const right = Math.max(a.left + a.width, b.left + b.width);
  const bottom = Math.max(a.top + a.height, b.top + b.height);
  return { left, top, width: right - left, height: bottom - top };
}

/** What lies in both; null where nothing does. */
export function boxWithin(a: Box, b: Box): Box | null {
  const [left, top] = [Math.max(a.left, b.left), Math.max(a.top, b.top)];
  const [width, height] = [Math.min(a.left + a.width, b.left + b.width) - left, Math.min(a.top + a.height, b.top + b.height) - top];
  return width > 0 && height > 0 ? { left, top, width, height } : null;
}

/** The part of `data`, rows of `stride` pixels of so many `channels`, that lies in the box, into `out`. */
export function crop<T extends Uint8Array | Float32Array | Uint16Array>(
  data: T,
  stride: number,
  { left, top, width, height }: Box,
  channels: number,
  out: T,
): T {
  for (let y = 0; y < height; y++) {
    const from = ((y + top) * stride + left) * channels;
    out.set(data.subarray(from, from + width * channels), y * width * channels);
  }
  return out;
}

/** Puts the part back where the box lies in `out`, rows of `stride` pixels of one channel. */
export function paste<T extends Uint8Array | Float32Array>(out: T, stride: number, part: T, { left, top, width, height }: Box): void {
  for (let y = 0; y < height; y++) out.set(part.subarray(y * width, (y + 1) * width), (y + top) * stride + left);
}

export const cropMask = (mask: Uint8Array, stride: number, box: Box): Uint8Array => crop(mask, stride, box, 1, new Uint8Array(box.width * box.height));

export function cropLab({ width, lab, cell }: LabPicture, box: Box): LabPicture {
  const n = box.width * box.height;
  return {
    width: box.width,
    height: box.height,
    lab: crop(lab, width, box, 3, new Float32Array(3 * n)),
    cell: crop(cell, width, box, 1, new Uint16Array(n)),
  };
}
