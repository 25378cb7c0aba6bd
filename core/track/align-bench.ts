/** Where a pattern and the piece of a picture round it lie in the memory of the kernels while they are aligned. */
import type { Region } from '../image/picture.ts';
import type { Homography } from '../math/homography.ts';
import { borrowKernels, type Kernels, timesBorrowed } from '../wasm/host.ts';
import type { Levels } from './levels.ts';
import { copyPiece, type Pattern, pixelsRound } from './pattern.ts';

/** Pixels of the level round the pattern that are lent with it, and share of its size: it will move. */
const ROUND = 4;
const ROUND_SHARE = 0.1;

/** Planes of floats, one a sample: those of the pattern, then what is worked out. */
const PLANES = ['u', 'v', 'weight', 'value', 'slopeU', 'slopeV'] as const;
const [SEEN, RESIDUAL, COUNTED] = [6, 7, 8];
/** Floats for the cells' weights, a motion, a step's sums (ten, and fifty-five pairs, of four lanes), six doubles, and scratch. */
const [CELL_FLOATS, MOTION_FLOATS, RIGHT_FLOATS, NORMAL_FLOATS, LIGHT_FLOATS, SCRATCH_FLOATS] = [64, 12, 40, 220, 12, 352];

/** Where things lie for so many samples, in bytes; the planes come first, then a byte of each sample's cell. */
function placesFor(count: number) {
  const cell = 36 * count;
  // From here on floats, at the next multiple of sixteen.
  const cells = (cell + count + 15) & ~15;
  const motion = cells + 4 * CELL_FLOATS;
  const right = motion + 4 * MOTION_FLOATS;
  const normal = right + 4 * RIGHT_FLOATS;
  const lights = normal + 4 * NORMAL_FLOATS;
  const scratch = lights + 4 * LIGHT_FLOATS;
  return { cell, cells, motion, right, normal, lights, scratch, image: scratch + 4 * SCRATCH_FLOATS };
}

/** One at a time: it holds what was lent last, and is good until the kernels are borrowed by others. */
export class AlignBench {
  private pattern: Pattern | null = null;
  private levels: Levels | null = null;
  private level = 0;
  private stamp = -1;
  private window: Region = { left: 0, top: 0, right: 0, bottom: 0 };
  private kernels: Kernels | null = null;
  private floats: Float32Array = new Float32Array(0);
  private doubles: Float64Array = new Float64Array(0);
  /** Samples, made a multiple of four. */
  private count = 0;

  /** Byte where each thing begins that follows the planes. */
  private at = placesFor(0);

  /** Byte where a plane begins. */
  private plane = (index: number): number => 4 * index * this.count;

  take(pattern: Pattern, levels: Levels, level: number): void {
    if (this.stamp === timesBorrowed() && pattern === this.pattern && levels === this.levels && level === this.level) return;
    const lent = this.stamp === timesBorrowed() && pattern === this.pattern;
    this.pattern = pattern;
    this.levels = levels;
    this.level = level;
    this.window = { left: 0, top: 0, right: 0, bottom: 0 };
    if (!lent) {
      this.count = (pattern.u.length + 3) & ~3;
      this.at = placesFor(this.count);
      this.stamp = -1;
    }
  }

  private lendPattern(): void {
    const pattern = this.pattern as Pattern;
    const n = pattern.u.length;
    for (const [i, name] of PLANES.entries()) {
      const at = this.plane(i) / 4;
      this.floats.set(pattern[name], at);
      // What fills up to a multiple of four lies nowhere and counts for nothing.
      this.floats.fill(i < 2 ? Number.NaN : 0, at + n, at + this.count);
    }
    const bytes = new Uint8Array(this.floats.buffer);
    bytes.set(pattern.cell, this.at.cell);
    bytes.fill(0, this.at.cell + n, this.at.cell + this.count);
  }

  /** Sees to it that the pixels of `wanted` are lent, and the pattern is. */
  private lend(wanted: Region): void {
    const { left, top, right, bottom } = this.window;
    const there = this.stamp === timesBorrowed();
    if (there && wanted.left >= left && wanted.top >= top && wanted.right <= right && wanted.bottom <= bottom) return;
    const picture = (this.levels as Levels).images[this.level];
    const round = Math.ceil(ROUND + ROUND_SHARE * Math.max(wanted.right - wanted.left, wanted.bottom - wanted.top));
    const next = {
      left: Math.max(0, wanted.left - round),
      top: Math.max(0, wanted.top - round),
      right: Math.min(picture.width, wanted.right + round),
      bottom: Math.min(picture.height, wanted.bottom + round),
    };
    const [w, h] = [next.right - next.left, next.bottom - next.top];
    const { kernels, floats } = borrowKernels(this.at.image / 4 + w * h + 4);
    if (floats.buffer !== this.floats.buffer) this.doubles = new Float64Array(floats.buffer);
    this.kernels = kernels;
    this.floats = floats;
    if (!there) this.lendPattern();
    this.stamp = timesBorrowed();
    this.window = next;
    copyPiece(picture, next, floats, this.at.image / 4);
  }

  /** Looks at the picture where `place` puts the samples; gives how many lie in it. */
  look(place: Homography): number {
    const pattern = this.pattern as Pattern;
    const { left, top, images } = this.levels as Levels;
    const { width, height } = images[this.level];
    const scale = 2 ** -this.level;
    const [offX, offY] = [left * scale + 0.5, top * scale + 0.5];
    const wanted = pixelsRound(pattern.extent, place, this.levels as Levels, this.level);
    this.lend(wanted);
    const { window } = this;
    const { floats } = this;
    const m = this.at.motion / 4;
    // Told from the window's corner, so that floats are fine enough.
    for (let column = 0; column < 3; column++) {
      floats[m + column] = place[column] * scale - (offX + window.left) * place[6 + column];
      floats[m + 3 + column] = place[3 + column] * scale - (offY + window.top) * place[6 + column];
      floats[m + 6 + column] = place[6 + column];
    }
    return (this.kernels as Kernels).trackLook(
      this.plane(0),
      this.plane(1),
      this.count,
      this.at.motion,
      this.at.image,
      window.right - window.left,
      -window.left,
      -window.top,
      width - 1 - window.left,
      height - 1 - window.top,
      this.plane(SEEN),
    );
  }

  /** Gain and offset that bring the pattern nearest to what is seen, by the weights that count or the samples' own. */
  light(counted: boolean): { gain: number; offset: number; score: number } {
    const value = (this.pattern as Pattern).value[0];
    (this.kernels as Kernels).trackLight(this.plane(SEEN), this.plane(3), this.plane(counted ? COUNTED : 2), this.count, value, this.at.lights);
    const at = this.at.lights / 8;
    const [sw, st, si, stt, sti, sii] = this.doubles.subarray(at, at + 6);
    if (!(sw > 0)) return { gain: 1, offset: 0, score: 0 };
    const vt = stt / sw - (st / sw) ** 2;
    const vi = sii / sw - (si / sw) ** 2;
    const vti = sti / sw - (st / sw) * (si / sw);
    const gain = vt > 1e-6 ? vti / vt : 1;
    return { gain, offset: si / sw + value - gain * (st / sw + value), score: vt > 1e-6 && vi > 1e-6 ? vti / Math.sqrt(vt * vi) : 0 };
  }

  /** What is seen under the light, less the pattern; in memory that is lent. */
  residuals(gain: number, offset: number): Float32Array {
    (this.kernels as Kernels).trackResiduals(this.plane(SEEN), this.plane(3), this.count, gain, offset, this.plane(RESIDUAL));
    const at = this.plane(RESIDUAL) / 4;
    return this.floats.subarray(at, at + this.count);
  }

  /** Makes the weights that count, see the kernel; all cells alike where none are given. Gives how many agree. */
  weigh(reach: number, cells: Float32Array | null): number {
    const at = this.at.cells / 4;
    if (cells) this.floats.set(cells, at);
    else this.floats.fill(1, at, at + CELL_FLOATS);
    return (this.kernels as Kernels).trackWeights(this.plane(RESIDUAL), this.plane(2), this.at.cell, this.at.cells, this.count, reach, this.plane(COUNTED));
  }

  /** The sums of a step, see the kernel, and of the weights; with `whole` all samples count by their own, and products are known. */
  sums(parameters: number, right: Float64Array, normal: Float64Array, whole: boolean): number {
    const size = parameters + 2;
    const pattern = this.pattern as Pattern;
    const known = whole ? pattern.products.get(parameters) : undefined;
    (this.kernels as Kernels).trackSums(
      this.plane(0),
      this.plane(1),
      this.plane(4),
      this.plane(5),
      this.plane(3),
      this.plane(COUNTED),
      this.plane(RESIDUAL),
      this.count,
      parameters,
      this.at.right,
      known ? 0 : this.at.normal,
      this.at.scratch,
    );
    const { floats } = this;
    const four = (at: number) => floats[at] + floats[at + 1] + floats[at + 2] + floats[at + 3];
    for (let i = 0; i < size; i++) right[i] = four(this.at.right / 4 + 4 * i);
    if (known) normal.set(known);
    else {
      let at = this.at.normal / 4;
      for (let i = 0; i < size; i++) for (let j = 0; j <= i; j++, at += 4) normal[i * size + j] = four(at);
      if (whole) pattern.products.set(parameters, normal.slice(0, size * size));
    }
    // The change for the offset is 1, so its own product is the sum of the weights.
    return normal[size * size - 1];
  }
}

const bench = new AlignBench();

/** The bench with a pattern, and a level of a picture, on it. */
export function benchFor(pattern: Pattern, levels: Levels, level: number): AlignBench {
  bench.take(pattern, levels, level);
  return bench;
}
