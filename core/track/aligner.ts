/** Where a pattern lies in the memory of a tracker's kernels while it is aligned, and what is worked out there. */
import { clamp } from '../math/clamp.ts';
import type { Homography } from '../math/homography.ts';
import type { Kernels, PatternOnLevel } from '../wasm/host.ts';
import { ALIGNER_FLOATS, type Pyramid, pixelsRound, type TrackMemory } from './pyramid.ts';
import type { Pattern, Samples } from './samples.ts';

/** Samples of a pattern, at most. */
const MOST = 4096;
/** Planes of floats, one a sample: those of the pattern, then what is worked out. */
const PLANES = 9;
const [U, V, WEIGHT, VALUE, SLOPE_U, SLOPE_V, SEEN, RESIDUAL, COUNTED] = Array.from({ length: PLANES }, (_, k) => k);

/** Moves asked for at once, at most. */
const MOVES = 1024;

/** Floats, all multiples of four: a byte of each sample's cell, the cells' weights, a motion, a step's sums (ten, and fifty-five pairs, of four lanes), six doubles, moves, and what the kernels work on. */
const SIZES = {
  planes: PLANES * MOST,
  cell: MOST / 4,
  cells: 64,
  motion: 12,
  right: 40,
  normal: 220,
  lights: 12,
  state: 28,
  known: 200,
  moves: 2 * MOVES,
  scratch: 856,
};
const BEGINS = {} as Record<keyof typeof SIZES, number>;
const TAKEN = (Object.keys(SIZES) as (keyof typeof SIZES)[]).reduce((begin, name) => {
  BEGINS[name] = 4 * begin;
  return begin + SIZES[name];
}, 0);
if (TAKEN > ALIGNER_FLOATS) throw new RangeError('A bench takes more than a memory has for it.');

/** Doubles of the state of an alignment: the place, then these. */
const [GAIN, OFFSET, SCORE, TOLD, KNOWN] = [9, 10, 11, 12, 13];

/** What a whole alignment comes to. */
export interface Aligned {
  homography: number[];
  gain: number;
  offset: number;
  /** Null where too little was seen. */
  score: number | null;
  /** Samples that are seen. */
  inside: number;
}

export class Aligner {
  private readonly kernels: Kernels;
  private readonly floats: Float32Array;
  private readonly doubles: Float64Array;
  private readonly bytes: Uint8Array;
  /** What lies in the planes: a pattern, or places of which nothing is known yet. */
  private pattern: Pattern | null = null;
  private u: Float32Array | null = null;
  private pyramid: Pyramid | null = null;
  private level = 0;
  /** Samples, made a multiple of four. */
  private count = 0;

  constructor({ kernels, floats, doubles }: TrackMemory) {
    this.kernels = kernels;
    this.floats = floats;
    this.doubles = doubles;
    this.bytes = new Uint8Array(floats.buffer);
  }

  /** Byte where a plane begins. */
  private plane(index: number): number {
    return BEGINS.planes + 4 * index * this.count;
  }

  private fill(index: number, data: Float32Array, rest: number): void {
    const at = this.plane(index) / 4;
    this.floats.set(data, at);
    // What fills up to a multiple of four lies nowhere and counts for nothing.
    for (let k = data.length; k < this.count; k++) this.floats[at + k] = rest;
  }

  private takeSamples({ u, v, weight }: Samples): void {
    if (u === this.u) return;
    if (u.length > MOST) throw new RangeError(`A pattern has ${MOST} samples at most, this one ${u.length}.`);
    this.u = u;
    this.count = (u.length + 3) & ~3;
    this.fill(U, u, Number.NaN);
    this.fill(V, v, Number.NaN);
    this.fill(WEIGHT, weight, 0);
  }

  /** Puts a pattern on the bench, and a level of a picture. */
  take(pattern: Pattern, pyramid: Pyramid, level: number): void {
    this.pyramid = pyramid;
    this.level = level;
    if (pattern === this.pattern) return;
    this.takeSamples(pattern);
    this.fill(VALUE, pattern.value, 0);
    this.fill(SLOPE_U, pattern.slopeU, 0);
    this.fill(SLOPE_V, pattern.slopeV, 0);
    this.pattern = pattern;
  }

  /** What a level of a picture shows where `place` puts samples: values, NaN beyond it, slopes along u and v, and whether all lie in it; lent until the next pattern is looked at. */
  see(
    samples: Samples,
    extent: Pattern['extent'],
    pyramid: Pyramid,
    level: number,
    homography: Homography,
  ): Pick<Pattern, 'value' | 'slopeU' | 'slopeV'> & { all: boolean } {
    this.takeSamples(samples);
    this.pattern = null;
    // With two pixels round it, so that only the picture's own border is one.
    const box = pixelsRound(extent, homography, pyramid, level);
    const { width } = pyramid.sizes[level];
    this.setMotion(homography, pyramid, level, box.left, box.top);
    const inside = this.kernels.trackPattern(
      this.plane(U),
      this.plane(V),
      this.count,
      BEGINS.motion,
      pyramid.at(level) + 4 * (box.top * width + box.left),
      width,
      box.right - box.left,
      box.bottom - box.top,
      this.plane(VALUE),
      this.plane(SLOPE_U),
      this.plane(SLOPE_V),
    );
    // What fills up to a multiple of four was looked at nowhere.
    for (let k = samples.u.length; k < this.count; k++) for (let index = VALUE; index <= SLOPE_V; index++) this.floats[this.plane(index) / 4 + k] = 0;
    const of = (index: number) => this.floats.subarray(this.plane(index) / 4, this.plane(index) / 4 + samples.u.length);
    return { value: of(VALUE), slopeU: of(SLOPE_U), slopeV: of(SLOPE_V), all: inside === samples.u.length };
  }

  /** Says that what was seen last is this pattern. */
  call(pattern: Pattern): void {
    this.pattern = pattern;
  }

  /** Puts a motion to pixels of a level down, told from one of them, so that floats are fine enough. */
  private setMotion(homography: Homography, { left, top }: Pyramid, level: number, fromX: number, fromY: number): void {
    const { floats } = this;
    const m = BEGINS.motion / 4;
    const scale = 2 ** -level;
    for (let c = 0; c < 3; c++) {
      floats[m + c] = homography[c] * scale - (left * scale + 0.5 + fromX) * homography[6 + c];
      floats[m + 3 + c] = homography[3 + c] * scale - (top * scale + 0.5 + fromY) * homography[6 + c];
      floats[m + 6 + c] = homography[6 + c];
    }
  }

  /** The pattern on the bench, and the level of a picture, as the kernels take them. */
  private onLevel(): PatternOnLevel {
    const pattern = this.pattern as Pattern;
    const pyramid = this.pyramid as Pyramid;
    const { width, height } = pyramid.sizes[this.level];
    const scale = 2 ** -this.level;
    const [offX, offY] = [pyramid.left * scale + 0.5, pyramid.top * scale + 0.5];
    return [BEGINS.planes, this.count, pattern.u.length, pyramid.at(this.level), width, height, offX, offY, scale];
  }

  /** Aligns what is seen of the pattern, all of it, from `place` on; see the kernel. */
  align(homography: Homography, gain: number, offset: number, parameters: number, rounds: number, small: number): Aligned {
    const { doubles } = this;
    const pattern = this.pattern as Pattern;
    const state = BEGINS.state / 8;
    doubles.set(homography, state);
    doubles[state + GAIN] = gain;
    doubles[state + OFFSET] = offset;
    const known = pattern.products.get(parameters);
    if (known) doubles.set(known, BEGINS.known / 8);
    const inside = this.kernels.trackAlign(...this.onLevel(), parameters, rounds, small, BEGINS.state, BEGINS.known, known ? 1 : 0, BEGINS.scratch);
    if (!known && doubles[state + KNOWN]) pattern.products.set(parameters, doubles.slice(BEGINS.known / 8, BEGINS.known / 8 + (parameters + 2) ** 2));
    const at = (k: number) => doubles[state + k];
    return {
      homography: [at(0), at(1), at(2), at(3), at(4), at(5), at(6), at(7), at(8)],
      gain: at(GAIN),
      offset: at(OFFSET),
      score: at(TOLD) ? at(SCORE) : null,
      inside,
    };
  }

  /**
   * How alike all of the pattern is to what is seen (correlation) where `place` is moved by each of `moves`, x and y in pixels of the plate,
   * and the share of it that is seen, in the same order.
   */
  ask(homography: Homography, moves: readonly number[]): Float32Array {
    const at = BEGINS.moves / 4;
    const found = new Float32Array(moves.length);
    for (let from = 0; from < moves.length; from += 2 * MOVES) {
      const some = moves.slice(from, from + 2 * MOVES);
      this.floats.set(some, at);
      this.doubles.set(homography, BEGINS.state / 8);
      this.kernels.trackAsk(...this.onLevel(), BEGINS.state, BEGINS.moves, some.length / 2, BEGINS.scratch);
      found.set(this.floats.subarray(at, at + some.length), from);
    }
    return found;
  }

  /** Looks at the picture where `place` puts the samples; gives how many lie in it. */
  look(homography: Homography): number {
    const pyramid = this.pyramid as Pyramid;
    const { left, top } = pyramid;
    const { width, height } = pyramid.sizes[this.level];
    const scale = 2 ** -this.level;
    const near = (at: number, from: number, size: number) => clamp(Math.floor((at / homography[8] - from) * scale), 0, size - 1) || 0;
    const [x, y] = [near(homography[2], left, width), near(homography[5], top, height)];
    this.setMotion(homography, pyramid, this.level, x, y);
    const from = pyramid.at(this.level) + 4 * (y * width + x);
    return this.kernels.trackLook(
      this.plane(U),
      this.plane(V),
      this.count,
      BEGINS.motion,
      from,
      width,
      -x,
      -y,
      width - 1 - x,
      height - 1 - y,
      this.plane(SEEN),
    );
  }

  /** Gain and offset that bring the pattern nearest to what is seen, by the weights that count or the samples' own. */
  light(counted: boolean): { gain: number; offset: number; score: number } {
    const value = (this.pattern as Pattern).value[0];
    this.kernels.trackLight(this.plane(SEEN), this.plane(VALUE), this.plane(counted ? COUNTED : WEIGHT), this.count, value, BEGINS.lights);
    const score = this.kernels.lightFrom(BEGINS.lights, value, BEGINS.lights);
    const [gain, offset] = this.doubles.subarray(BEGINS.lights / 8, BEGINS.lights / 8 + 2);
    return { gain, offset, score };
  }

  /** What is seen under the light, less the pattern; in memory that is lent. */
  residuals(gain: number, offset: number): Float32Array {
    this.kernels.trackResiduals(this.plane(SEEN), this.plane(VALUE), this.count, gain, offset, this.plane(RESIDUAL));
    const at = this.plane(RESIDUAL) / 4;
    return this.floats.subarray(at, at + this.count);
  }

  /** Makes the weights that count, by those of the cells, see the kernel. Gives how many agree. */
  weigh(reach: number, cells: Float32Array): number {
    const { cell } = this.pattern as Pattern;
    this.bytes.set(cell, BEGINS.cell);
    this.bytes.fill(0, BEGINS.cell + cell.length, BEGINS.cell + this.count);
    this.floats.set(cells, BEGINS.cells / 4);
    return this.kernels.trackWeights(this.plane(RESIDUAL), this.plane(WEIGHT), BEGINS.cell, BEGINS.cells, this.count, reach, this.plane(COUNTED));
  }

  /** The sums of a step, see the kernel, and of the weights. */
  sums(parameters: number, right: Float64Array, normal: Float64Array): number {
    const size = parameters + 2;
    this.kernels.trackSums(
      this.plane(U),
      this.plane(V),
      this.plane(SLOPE_U),
      this.plane(SLOPE_V),
      this.plane(VALUE),
      this.plane(COUNTED),
      this.plane(RESIDUAL),
      this.count,
      parameters,
      BEGINS.right,
      BEGINS.normal,
      BEGINS.scratch,
    );
    const { floats } = this;
    const four = (at: number) => floats[at] + floats[at + 1] + floats[at + 2] + floats[at + 3];
    for (let i = 0; i < size; i++) right[i] = four(BEGINS.right / 4 + 4 * i);
    let at = BEGINS.normal / 4;
    for (let i = 0; i < size; i++) for (let j = 0; j <= i; j++, at += 4) normal[i * size + j] = four(at);
    // The change for the offset is 1, so its own product is the sum of the weights.
    return normal[size * size - 1];
  }
}

const benches = new WeakMap<TrackMemory, Aligner>();

/** The bench of a memory, at its beginning. */
export function alignerIn(memory: TrackMemory): Aligner {
  let aligner = benches.get(memory);
  if (!aligner) {
    aligner = new Aligner(memory);
    benches.set(memory, aligner);
  }
  return aligner;
}

/** The bench with a pattern, and a level of a picture, on it. */
export function alignerFor(pattern: Pattern, pyramid: Pyramid, level: number): Aligner {
  const aligner = alignerIn(pyramid.memory);
  aligner.take(pattern, pyramid, level);
  return aligner;
}
