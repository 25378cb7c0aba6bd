/** A picture at full, half, quarter … size, as trackers look at it. */
import { gaussianWeights } from '../image/gaussian.ts';
import { type Gray, lumaOf, type Region, type Size } from '../image/picture.ts';
import { clamp } from '../math/clamp.ts';
import type { Homography } from '../math/homography.ts';
import { type Kernels, ownKernels } from '../wasm/host.ts';
import type { Extent } from './samples.ts';

/**
 * Smoothing that makes values between pixels trustworthy (plain bilinear ones pull results to the pixels' centres): the middle one of
 * five weights, and those to one side.
 */
const WEIGHTS = gaussianWeights(0.8, 2).subarray(2);
/** Rows that are smoothed at once, so few that they stay at hand, and those on each side that have a say in them. */
const ROWS = 32;
const REACH = 2;
const SMALLEST = 8;
/** Pictures, at most: coarse enough for the largest region. */
const LEVELS = 5;

/** A picture in a memory, in ever smaller sizes: level k holds pixels of 2^k plate pixels. A smaller one is made when it is first asked for. */
export class Pyramid {
  /** Where its pictures begin on the plate. */
  readonly left: number;
  readonly top: number;
  readonly sizes: readonly Size[];
  readonly memory: TrackMemory;
  private readonly images: Gray[] = [];
  /** The float of the memory at which each level begins. */
  private readonly begins: number[] = [];

  /** @param begins where the first level lies, which is there already; the others have room behind it */
  constructor(left: number, top: number, sizes: readonly Size[], memory: TrackMemory, begins: number) {
    this.left = left;
    this.top = top;
    this.sizes = sizes;
    this.memory = memory;
    this.put(begins);
  }

  get count(): number {
    return this.sizes.length;
  }

  image(level: number): Gray {
    for (let k = this.images.length; k <= level; k++) {
      const before = this.begins[k - 1];
      const next = before + roomFor(this.sizes[k - 1]);
      this.memory.halve(before, this.sizes[k - 1], next);
      this.put(next);
    }
    return this.images[level];
  }

  /** The byte of the memory at which a level begins. */
  at(level: number): number {
    this.image(level);
    return 4 * this.begins[level];
  }

  private put(begins: number): void {
    const size = this.sizes[this.images.length];
    this.begins.push(begins);
    this.images.push({ ...size, data: this.memory.floats.subarray(begins, begins + size.width * size.height) });
  }
}

/** The luma of a picture of RGBA bytes as trackers take it, in grey levels of 0 to 255. */
export function greyLevels(bytes: Uint8Array | Uint8ClampedArray, size: Size): Gray {
  const luma = lumaOf(bytes, 4, size);
  for (let i = 0; i < luma.data.length; i++) luma.data[i] *= 255;
  return luma;
}

/** The sizes of a picture's levels. */
function sizesOf({ width, height }: Size): Size[] {
  const sizes = [{ width, height }];
  for (let last = sizes[0]; sizes.length < LEVELS && Math.min(last.width, last.height) >= 2 * SMALLEST; sizes.push(last))
    last = { width: last.width >> 1, height: last.height >> 1 };
  return sizes;
}

/** Floats of a picture with what is read behind it: a row, and a few since all goes by four. */
const roomFor = ({ width, height }: Size): number => (width * (height + 1) + 11) & ~3;

/** Floats at the beginning of a memory, in which patterns are aligned; see AlignBench. */
export const ALIGNER_FLOATS = 2 ** 16;

/** Where patterns and the levels of two pictures lie while a thing is tracked: the newest and the one before it. */
export class TrackMemory {
  readonly kernels: Kernels;
  readonly floats: Float32Array;
  readonly doubles: Float64Array;
  /** Floats at which a line to work on begins, behind the bench, some rows of the picture as it comes, and either one's levels. */
  private readonly line = ALIGNER_FLOATS;
  private readonly rows: number;
  private readonly turns: readonly [number, number];
  private turn = 0;

  /** Of the largest picture. */
  private readonly size: Size;

  constructor(size: Size) {
    this.size = { width: size.width, height: size.height };
    this.rows = this.line + ((size.width + WEIGHTS.length + 19) & ~3);
    const pyramid = sizesOf(size).reduce((sum, one) => sum + roomFor(one), 0);
    const first = this.rows + roomFor({ width: size.width, height: ROWS + 2 * REACH });
    this.turns = [first, first + pyramid];
    const { kernels, floats } = ownKernels(first + 2 * pyramid);
    this.kernels = kernels;
    this.floats = floats;
    this.doubles = new Float64Array(floats.buffer);
  }

  isFor({ width, height }: Size): boolean {
    return width === this.size.width && height === this.size.height;
  }

  /** Takes the levels of a picture in place of those of the one before the last; `left` and `top` are where its part begins. */
  take(luma: Gray, left: number, top: number, size: Size): Pyramid {
    const { floats, kernels, line, rows } = this;
    if (!this.isFor(luma)) throw new RangeError('A picture has another size than those before it.');
    this.turn = 1 - this.turn;
    const { width, height } = size;
    floats.set(WEIGHTS, line);
    const first = this.turns[this.turn];
    for (let begin = 0; begin < height; begin += ROWS) {
      const end = Math.min(height, begin + ROWS);
      const [above, below] = [Math.max(0, begin - REACH), Math.min(height, end + REACH)];
      for (let y = above; y < below; y++) {
        const from = Math.min(luma.height - 1, top + y) * luma.width + Math.min(left, luma.width - width);
        floats.set(luma.data.subarray(from, from + width), rows + (y - above) * width);
      }
      const target = first + begin * width;
      kernels.smoothRows(4 * rows, width, below - above, begin - above, end - above, 4 * line, 4 * (line + WEIGHTS.length), 4 * target);
    }
    return new Pyramid(left, top, sizesOf(size), this, first);
  }

  /** Puts the half of a picture that begins at a float at another. */
  halve(from: number, { width, height }: Size, to: number): void {
    this.kernels.halveFloats(4 * from, width, height, 4 * to, 4 * this.line);
  }
}

/** One that nobody uses: a memory takes long to make, and is not given up at once. */
let spare: TrackMemory | null = null;

/** A memory for pictures of this size; to be given back. */
export function takeMemory(size: Size): TrackMemory {
  const found = spare?.isFor(size) ? spare : new TrackMemory(size);
  if (found === spare) spare = null;
  return found;
}

export function giveBack(memory: TrackMemory): void {
  spare = memory;
}

/**
 * The levels of a picture (luma of any unit) of the part within `region` where it is given (it is grown to whole pixels of the coarsest
 * level). They stay until `memory` takes the second one after it.
 */
export function pyramidOf(luma: Gray, region?: Region, memory = new TrackMemory(luma)): Pyramid {
  const cell = 2 ** (LEVELS - 1);
  const left = region ? Math.max(0, Math.floor(region.left / cell) * cell) : 0;
  const top = region ? Math.max(0, Math.floor(region.top / cell) * cell) : 0;
  const right = region ? Math.min(luma.width, Math.ceil(region.right / cell) * cell) : luma.width;
  const bottom = region ? Math.min(luma.height, Math.ceil(region.bottom / cell) * cell) : luma.height;
  return memory.take(luma, left, top, { width: Math.max(1, right - left), height: Math.max(1, bottom - top) });
}

/** The plate's box round where samples within an extent lie; null where some lie behind the horizon. */
export function boundsOf([u0, v0, u1, v1]: Extent, homography: Homography): Region | null {
  const out = { left: Infinity, top: Infinity, right: -Infinity, bottom: -Infinity };
  for (const u of [u0, u1])
    for (const v of [v0, v1]) {
      const w = homography[6] * u + homography[7] * v + homography[8];
      if (!(w > 1e-9)) return null;
      const x = (homography[0] * u + homography[1] * v + homography[2]) / w;
      const y = (homography[3] * u + homography[4] * v + homography[5]) / w;
      out.left = Math.min(out.left, x);
      out.right = Math.max(out.right, x);
      out.top = Math.min(out.top, y);
      out.bottom = Math.max(out.bottom, y);
    }
  return out;
}

/**
 * The pixels of a level that samples within an extent may lie between, cut to the picture and at least two each way; all of it where
 * some lie behind the horizon.
 */
export function pixelsRound(extent: Extent, homography: Homography, pyramid: Pyramid, level: number): Region {
  const { width, height } = pyramid.sizes[level];
  const scale = 2 ** -level;
  const bounds = boundsOf(extent, homography);
  if (!bounds) return { left: 0, top: 0, right: width, bottom: height };
  const [x0, x1] = [(bounds.left - pyramid.left) * scale, (bounds.right - pyramid.left) * scale];
  const [y0, y1] = [(bounds.top - pyramid.top) * scale, (bounds.bottom - pyramid.top) * scale];
  const from = (least: number, size: number) => clamp(Math.floor(least) - 2, 0, size - 2);
  const to = (most: number, size: number) => clamp(Math.ceil(most) + 3, 2, size);
  const [left, top] = [from(x0, width), from(y0, height)];
  return { left, top, right: Math.max(left + 2, to(x1, width)), bottom: Math.max(top + 2, to(y1, height)) };
}
