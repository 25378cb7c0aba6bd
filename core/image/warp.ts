/** Pictures seen through a motion of the plane. */
import { clamp } from '../math/clamp.ts';
import type { Homography } from '../math/homography.ts';
import { type Room, roomOf } from '../wasm/room.ts';
import type { Gray, Rgba, Size } from './picture.ts';

/** Weights of four neighbours for a place `t` in [0,1] after the second (Keys 1981, a = -1/2). */
function cubic(t: number, out: Float64Array): void {
  const t2 = t * t;
  const t3 = t2 * t;
  out[0] = -0.5 * t + t2 - 0.5 * t3;
  out[1] = 1 - 2.5 * t2 + 1.5 * t3;
  out[2] = 0.5 * t + 2 * t2 - 1.5 * t3;
  out[3] = -0.5 * t2 + 0.5 * t3;
}

/** Whether a motion only moves, by whole pixels: then nothing lies between pixels. */
const movesWhole = (m: Homography): boolean =>
  m[0] === m[8] && m[4] === m[8] && m[1] === 0 && m[3] === 0 && m[6] === 0 && m[7] === 0 && Number.isInteger(m[2] / m[8]) && Number.isInteger(m[5] / m[8]);

/** The picture moved by whole pixels: what it shows at q lies at q + (dx, dy) in `data`. */
function moved(data: Float32Array, { width, height }: Size, channels: number, dx: number, dy: number, size: Size): Float32Array {
  const out = new Float32Array(size.width * size.height * channels);
  const left = Math.max(0, -dx);
  const right = Math.min(size.width, width - dx);
  if (right <= left) return out;
  for (let y = Math.max(0, -dy); y < Math.min(size.height, height - dy); y++) {
    const from = ((y + dy) * width + left + dx) * channels;
    out.set(data.subarray(from, from + (right - left) * channels), (y * size.width + left) * channels);
  }
  return out;
}

/** For each of `count` places along one side: the first of four neighbours, and their weights; those beyond the picture weigh nothing. */
function taps(count: number, scale: number, offset: number, length: number): { first: Int32Array; weights: Float64Array } {
  const first = new Int32Array(count);
  const weights = new Float64Array(4 * count);
  const four = new Float64Array(4);
  for (let i = 0; i < count; i++) {
    const u = scale * (i + 0.5) + offset - 0.5;
    const left = Math.floor(u);
    cubic(u - left, four);
    first[i] = left - 1;
    for (let k = 0; k < 4; k++) weights[4 * i + k] = left - 1 + k >= 0 && left - 1 + k < length ? four[k] : 0;
  }
  return { first, weights };
}

/** Cuts off the overshoot of a cubic: values within 0 and 1, and no colour above its alpha. */
function legal(out: Float32Array, from: number, to: number, channels: number): void {
  for (let i = from; i < to; i += channels) {
    const most = clamp(out[i + channels - 1], 0, 1);
    for (let k = i; k < i + channels; k++) out[k] = clamp(out[k], 0, most);
  }
}

/** Where a motion only moves, scales and flips, rows and columns are read one after the other. */
function upright(data: Float32Array, { width, height }: Size, channels: number, m: Homography, size: Size): Float32Array {
  const across = taps(size.width, m[0] / m[8], m[2] / m[8], width);
  const down = taps(size.height, m[4] / m[8], m[5] / m[8], height);
  const stride = size.width * channels;
  const rows = new Float32Array(height * stride);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < size.width; x++) {
      const w = 4 * x;
      for (let tap = 0; tap < 4; tap++) {
        const weight = across.weights[w + tap];
        if (weight === 0) continue;
        const s = (y * width + across.first[x] + tap) * channels;
        const o = y * stride + x * channels;
        for (let k = 0; k < channels; k++) rows[o + k] += weight * data[s + k];
      }
    }
  const out = new Float32Array(size.height * stride);
  for (let y = 0; y < size.height; y++) {
    const o = y * stride;
    for (let tap = 0; tap < 4; tap++) {
      const weight = down.weights[4 * y + tap];
      if (weight === 0) continue;
      const s = (down.first[y] + tap) * stride;
      for (let i = 0; i < stride; i++) out[o + i] += weight * rows[s + i];
    }
    legal(out, o, o + stride, channels);
  }
  return out;
}

/**
 * The picture whose place q shows what lies at `motion` q in the given one; both in pixels, (0, 0) the outer corner. Nothing lies
 * beyond the given picture. Values stay within 0 and 1.
 * @param size of what is seen; that of the picture where nothing is said
 */
export function seenThrough<P extends Gray | Rgba>(picture: P, motion: Homography, size: Size = picture): P {
  const { width, height, data } = picture;
  const channels = data.length / (width * height);
  const seen = (pixels: Float32Array): P => ({ ...picture, width: size.width, height: size.height, data: pixels });
  if (movesWhole(motion)) return seen(moved(data, picture, channels, motion[2] / motion[8], motion[5] / motion[8], size));
  if (motion[1] === 0 && motion[3] === 0 && motion[6] === 0 && motion[7] === 0) return seen(upright(data, picture, channels, motion, size));
  const out = new Float32Array(size.width * size.height * channels);
  const wx = new Float64Array(4);
  const wy = new Float64Array(4);
  const [a, b, c, d, e, f, g, h, i] = motion;
  for (let y = 0; y < size.height; y++)
    for (let x = 0; x < size.width; x++) {
      const px = x + 0.5;
      const py = y + 0.5;
      const w = g * px + h * py + i;
      const u = (a * px + b * py + c) / w - 0.5;
      const v = (d * px + e * py + f) / w - 0.5;
      if (!(w > 0 && u > -2 && v > -2 && u < width + 1 && v < height + 1)) continue;
      const left = Math.floor(u);
      const top = Math.floor(v);
      cubic(u - left, wx);
      cubic(v - top, wy);
      const o = (y * size.width + x) * channels;
      for (let row = 0; row < 4; row++) {
        const sy = top + row - 1;
        if (sy < 0 || sy >= height) continue;
        for (let column = 0; column < 4; column++) {
          const sx = left + column - 1;
          if (sx < 0 || sx >= width) continue;
          const weight = wx[column] * wy[row];
          const s = (sy * width + sx) * channels;
          out[o] += weight * data[s];
          if (channels === 1) continue;
          out[o + 1] += weight * data[s + 1];
          out[o + 2] += weight * data[s + 2];
          out[o + 3] += weight * data[s + 3];
        }
      }
      legal(out, o, o + channels, channels);
    }
  return seen(out);
}

/** Numbers of a row or a column in the tables of the kernels. */
const TABLE = 5;

/** Fills a table of the kernels with neighbours that all lie within the picture; gives the first and the last of them that count. */
function fillTable(table: Float32Array, count: number, scale: number, offset: number, length: number): [number, number] {
  const ints = new Int32Array(table.buffer, table.byteOffset, TABLE * count);
  const { first, weights } = taps(count, scale, offset, length);
  let [least, most] = [length, 0];
  for (let i = 0; i < count; i++) {
    const from = clamp(first[i], 0, length - 4);
    let seen = false;
    for (let k = 0; k < 4; k++) {
      // Those beyond the picture weigh nothing, so they may be left out where the four are moved into it.
      const tap = from + k - first[i];
      const weight = tap >= 0 && tap < 4 ? weights[4 * i + tap] : 0;
      table[TABLE * i + 1 + k] = weight;
      seen ||= weight !== 0;
    }
    ints[TABLE * i] = from;
    if (!seen) continue;
    least = Math.min(least, from);
    most = Math.max(most, from + 4);
  }
  return [least, most];
}

const isUpright = (m: Homography): boolean => m[1] === 0 && m[3] === 0 && m[6] === 0 && m[7] === 0;

/** The kernels' way of {@link warpInto}; false where there is no room for what it needs. */
function warpInRoom(room: Room, layer: Rgba, picture: Rgba, motion: Homography, share: number): boolean {
  const { width, height } = picture;
  if (isUpright(motion) && width >= 4 && height >= 4) {
    const [columns, rows, line] = [room.take(TABLE * layer.width), room.take(TABLE * layer.height), room.take(4 * width)];
    if (!columns || !rows || !line) return false;
    const [first, last] = fillTable(columns, layer.width, motion[0] / motion[8], motion[2] / motion[8], width);
    fillTable(rows, layer.height, motion[4] / motion[8], motion[5] / motion[8], height);
    if (last <= first) {
      if (share <= 0) layer.data.fill(0);
      return true;
    }
    // Columns that see nothing read what is left of the line.
    line.fill(0);
    const at = [columns, rows, line].map((part) => part.byteOffset);
    room.kernels.warpUpright(picture.data.byteOffset, width, at[0], at[1], first, last, at[2], layer.data.byteOffset, layer.width, layer.height, share);
    return true;
  }
  // Nine doubles in the place of eighteen floats.
  const numbers = room.take(2 * motion.length);
  if (!numbers) return false;
  new Float64Array(numbers.buffer, numbers.byteOffset, motion.length).set(motion);
  room.kernels.warpPicture(picture.data.byteOffset, width, height, numbers.byteOffset, layer.data.byteOffset, layer.width, layer.height, share);
  return true;
}

/**
 * Paints what is seen through a motion, from pixels of the layer to pixels of the picture, over all of the layer; or, where `share` is
 * above 0, adds that share of it to what is there. See {@link seenThrough}.
 */
export function warpInto(layer: Rgba, picture: Rgba, motion: Homography, share = 0): void {
  const room = roomOf(layer.data, picture.data);
  const mark = room?.mark() ?? 0;
  const done = room !== null && warpInRoom(room, layer, picture, motion, share);
  room?.release(mark);
  if (done) return;
  const seen = seenThrough(picture, motion, layer).data;
  if (share <= 0) layer.data.set(seen);
  else for (let i = 0; i < seen.length; i++) layer.data[i] += share * seen[i];
}
