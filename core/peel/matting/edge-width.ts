/**
 * How soft the picture's own edge is at each place of a subject's outline: of edges of several widths the one that explains the
 * colours best as a mix of the subject's and the surroundings' nearby. So motion blur and defocus keep their softness.
 */
import type { Size } from '../../image/picture.ts';
import { clamp } from '../../math/clamp.ts';
import { borrowParts } from '../../wasm/host.ts';
import { softenedIn, softeningParts } from '../picture/box-mean.ts';
import { boxRound, crop, cropLab, cropMask } from '../picture/crop.ts';
import { HALF, halved, halveInto, halvingParts } from '../picture/halved.ts';
import type { LabPicture } from '../picture/lab.ts';
import { maskDistance } from '../picture/signed-distance.ts';

/** Radii of the two box means that make a soft edge of a mask, pixels. */
const RADII = [3, 6, 10];
/** Pixels from a crisp edge to what is all of one side. */
const CRISP = 2;
/** Pixels from the edge within which any of them differs from the mask. */
const BAND = 2 * (RADII.at(-1) as number) + 2;
/** Widths are told apart on a picture of half the size. In its pixels: round a place, where mixes are judged, and widths blended. */
/** Beyond the edge's reach, how far the colours of a side are taken from. */
const COLOURS = 6;
const JUDGED = 3;
const BLEND = 2;
/** How far along the edge its place is judged as a whole, so too. */
const ALONG = 5;
/** Share of the square round a place that must lie deep on each side for the edge to be moved: thin parts stay where they are. */
const DEEP = 0.2;
/** Pixels from the mask's edge from which on a better place counts as one; nearer ones are found in settling. */
const MOVED = 1;
/** A softer edge must explain the colours by so much better than a crisp one, and by more than grain (squared, in L*a*b*). */
const BETTER = 0.8;
const GRAIN = 4;
/** Weights that running sums leave where there is nothing. */
const NOTHING = 1e-6;
/** Misfit where one of the sides is not there. */
const UNKNOWN = 1e6;

/** A picture of half the size round an edge, in the kernels' memory, on which widths and places are told apart. */
class Around {
  readonly width: number;
  readonly height: number;
  /** Distance of the mask's edge, and 1 where it is near. */
  readonly distance: Float32Array;
  readonly near: Float32Array;
  /** How much of what is judged round a place is near. */
  readonly counted: Float32Array;
  private readonly whole: Size;
  private readonly memory: ReturnType<typeof memoryFor>;

  constructor(picture: LabPicture, distance: Float32Array) {
    const [width, height] = [Math.floor(picture.width / HALF), Math.floor(picture.height / HALF)];
    this.width = width;
    this.height = height;
    this.whole = picture;
    this.distance = halved(distance, picture);
    this.memory = memoryFor({ width, height }, picture);
    halveInto(this.memory, this.memory.at.colours, picture.lab, picture);
    this.near = this.memory.part.near;
    for (let i = 0; i < this.near.length; i++) this.near[i] = Math.abs(this.distance[i]) < BAND ? 1 : 0;
    this.counted = this.mean(this.near, JUDGED);
  }

  /** Alpha, at the whole size, of a mask whose edge goes from nothing to all within 2·radius+1 pixels on each side. */
  softened(mask: Uint8Array, radius: number): Float32Array {
    return softenedIn(this.memory, mask, this.whole.width, this.whole.height, radius);
  }

  private box(at: number, radius: number): void {
    const { kernels, at: own } = this.memory;
    kernels.boxMean(at, own.rows, at, own.sums, this.width, this.height, radius);
  }

  private mean(data: Float32Array, radius: number): Float32Array {
    const { part, at } = this.memory;
    part.error.set(data);
    this.box(at.error, radius);
    return part.error.slice();
  }

  /** Mean colours round each place of what lies beyond the reach of an edge, for what is asked next. */
  private sides(distance: Float32Array, reach: number): void {
    const { kernels, part, at } = this.memory;
    part.distance.set(distance);
    const radius = Math.ceil(reach / HALF) + COLOURS;
    kernels.sideMeans(at.colours, at.distance, 1, reach, at.rows, at.sums, at.inside, this.width, this.height, radius);
    kernels.sideMeans(at.colours, at.distance, -1, reach, at.rows, at.sums, at.outside, this.width, this.height, radius);
  }

  /**
   * How badly an edge of this alpha, of the whole size, explains the colours round each place: what lies beyond `reach` from `distance` is
   * all of one side.
   */
  misfit(alpha: Float32Array, distance: Float32Array, reach: number): Float32Array {
    const { kernels, part, at } = this.memory;
    this.sides(distance, reach);
    halveInto(this.memory, at.alpha, alpha, this.whole);
    kernels.mixErrors(at.alpha, at.inside, at.outside, at.colours, at.near, UNKNOWN, at.error, part.alpha.length);
    this.box(at.error, JUDGED);
    return part.error.slice();
  }

  /**
   * How far inwards from the mask's the edge lies, in pixels, that explains the colours best: one step of least squares for the place of
   * an edge that goes from nothing to all within 2·radius+1 pixels on each side. At most `radius`. Asked after its misfit.
   */
  place(radius: number): Float32Array {
    const { kernels, part, at } = this.memory;
    const n = part.alpha.length;
    kernels.placeSums(at.alpha, at.inside, at.outside, at.colours, at.distance, 2 * radius + 1, DEEP, GRAIN, at.error, at.weight, n);
    this.box(at.error, ALONG);
    this.box(at.weight, ALONG);
    const place = new Float32Array(n);
    for (let i = 0; i < n; i++) if (part.weight[i] > NOTHING) place[i] = clamp(part.error[i] / part.weight[i], -radius, radius);
    return place;
  }

  /** The share that so many choices have round each place, by the one that is best at each. */
  shares(best: Uint8Array, choices: number): Float32Array[] {
    const share = new Float32Array(best.length);
    return Array.from({ length: choices }, (_, k) => {
      for (let i = 0; i < share.length; i++) share[i] = best[i] === k ? 1 : 0;
      return this.mean(share, BLEND);
    });
  }
}

function memoryFor({ width, height }: Size, whole: Size) {
  const n = width * height;
  const four = { colours: 4 * n, inside: 4 * n, outside: 4 * n, rows: 4 * n, sums: 4 * width + 16 };
  const one = { distance: n, alpha: n, near: n, error: n, weight: n };
  const all = whole.width * whole.height;
  return borrowParts({ ...four, ...one, ...halvingParts(all), ...softeningParts(whole.width, all) });
}

/** Makes an alpha's edge as soft as the picture's, in place, where that is softer than a crisp one, and puts it where the picture has it. */
export function softenToPicture(alpha: Float32Array, mask: Uint8Array, picture: LabPicture): void {
  const { width, height } = picture;
  const box = boxRound(mask, width, height, 2 * BAND);
  if (!box || box.width < 2 * HALF || box.height < 2 * HALF) return;
  const part = cropMask(mask, width, box);
  const crisp = crop(alpha, width, box, 1, new Float32Array(box.width * box.height));
  const full = maskDistance(part, box.width, box.height, BAND + 1);
  const around = new Around(cropLab(picture, box), full);
  const { distance, near, counted } = around;
  const least = around.misfit(crisp, distance, CRISP);
  for (let i = 0; i < least.length; i++) least[i] = BETTER * least[i] - GRAIN * counted[i];
  const candidates: Float32Array[] = [crisp];
  const best = new Uint8Array(least.length);
  const consider = (candidate: Float32Array, error: Float32Array): boolean => {
    let better = false;
    for (let i = 0; i < error.length; i++)
      if (error[i] < least[i]) {
        least[i] = error[i];
        best[i] = candidates.length;
        better = true;
      }
    if (better) candidates.push(candidate);
    return better;
  };
  for (const r of RADII) {
    const soft = around.softened(part, r);
    let better = consider(soft, around.misfit(soft, distance, 2 * r));
    const place = around.place(r);
    if (place.some((p, i) => near[i] > 0 && Math.abs(p) > MOVED)) {
      const placed = around.softened(insideOf(full, place, box, around), r);
      const moved = new Float32Array(distance.length);
      for (let i = 0; i < moved.length; i++) moved[i] = distance[i] - place[i];
      const error = around.misfit(placed, moved, 2 * r);
      // It must explain the colours as much better again.
      for (let i = 0; i < error.length; i++) error[i] = error[i] / BETTER + GRAIN * counted[i];
      better = consider(placed, error) || better;
    }
    // Where the next softer is nowhere better, still softer ones are not either.
    if (!better) break;
  }
  if (candidates.length === 1) return;
  const shares = around.shares(best, candidates.length);
  for (let y = 0; y < around.height * HALF; y++)
    for (let x = 0; x < around.width * HALF; x++) {
      const i = ((y / HALF) | 0) * around.width + ((x / HALF) | 0);
      // All crisp: that is what is there.
      if (near[i] === 0 || shares[0][i] === 1) continue;
      let sum = 0;
      for (let k = 0; k < candidates.length; k++) sum += shares[k][i] * candidates[k][y * box.width + x];
      alpha[(y + box.top) * width + x + box.left] = sum;
    }
}

/** The mask inside of an edge that lies so far inwards, told for a picture of half the size. */
function insideOf(distance: Float32Array, place: Float32Array, { width, height }: Size, small: Size): Uint8Array {
  const mask = new Uint8Array(width * height);
  for (let y = 0; y < height; y++) {
    const row = Math.min(small.height - 1, (y / HALF) | 0) * small.width;
    for (let x = 0; x < width; x++) {
      const i = y * width + x;
      mask[i] = distance[i] > place[row + Math.min(small.width - 1, (x / HALF) | 0)] ? 1 : 0;
    }
  }
  return mask;
}
