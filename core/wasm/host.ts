/** Loads the SIMD kernels once a thread and lends their memory out. */
import { KERNELS_WASM } from './kernels.wasm.ts';

/** A pattern, and the level of a picture that it is compared with, as the kernels of core/wasm/align.as.ts take them. */
export type PatternOnLevel = [
  planes: number,
  count: number,
  samples: number,
  image: number,
  width: number,
  height: number,
  offX: number,
  offY: number,
  scale: number,
];

/** What the module exports; the .as.ts files here say what each does. Places are in bytes. */
export interface Kernels {
  alongRows(
    source: number,
    stride: number,
    target: number,
    stripRows: number,
    count: number,
    rows: number,
    channels: number,
    weights: number,
    radius: number,
  ): void;
  downColumns(source: number, target: number, count: number, rows: number, weights: number, radius: number): void;
  crossedCells(source: number, stride: number, columns: number, rows: number, level: number, found: number): number;
  spreadChords(chords: number, count: number, field: number, stride: number, columns: number, rows: number, reach: number): void;
  spreadChordsFar(chords: number, count: number, field: number, stride: number, columns: number, rows: number, reach: number, far: number): void;
  signedRoots(field: number, matte: number, count: number, level: number): void;
  spreadFeather(chords: number, count: number, field: number, inner: number, outer: number, stride: number, columns: number, rows: number): void;
  featherAlpha(coverage: number, field: number, inner: number, outer: number, count: number, table: number, steps: number): void;
  fairLoop(points: number, other: number, count: number, passes: number, lambda: number, mu: number): void;
  profile(field: number, count: number, inside: number, outside: number, table: number, steps: number): void;
  patchFlow(
    first: number,
    second: number,
    width: number,
    height: number,
    columns: number,
    rows: number,
    apart: number,
    u: number,
    v: number,
    cost: number,
    scratch: number,
    rounds: number,
  ): void;
  meanMotion(u: number, v: number, cost: number, columns: number, rows: number, apart: number, sums: number, width: number, height: number, out: number): void;
  cutGraph(
    lab: number,
    labels: number,
    undecided: number,
    logit: number,
    width: number,
    height: number,
    strength: number,
    beta: number,
    scale: number,
    nodeAt: number,
    neighbour: number,
    capacity: number,
    terminal: number,
  ): number;
  minimumCut(nodes: number, neighbour: number, capacity: number, terminal: number, scratch: number, kept: number): void;
  boxMean(data: number, rows: number, out: number, sums: number, width: number, height: number, radius: number): void;
  softenMask(mask: number, width: number, height: number, radius: number, sums: number, one: number, other: number, out: number): void;
  signedDistance(mask: number, field: number, out: number, width: number, height: number, most: number): void;
  mixtureSums(l: number, a: number, b: number, weight: number, count: number, terms: number, k: number, scratch: number, sums: number): void;
  halveBytes(source: number, width: number, height: number, out: number): void;
  labColours(rgba: number, count: number, table: number, lab: number, cell: number): void;
  layerSources(layer: number, columns: number, rows: number, factor: number, left: number, top: number, width: number, height: number, out: number): void;
  layerErrors(
    next: number,
    before: number,
    mask: number,
    width: number,
    first: number,
    end: number,
    from: number,
    count: number,
    side: number,
    unexplained: number,
    worst: number,
    out: number,
  ): void;
  affineErrors(
    own: number,
    columns: number,
    rows: number,
    other: number,
    width: number,
    height: number,
    motion: number,
    unexplained: number,
    out: number,
  ): void;
  affineLook(picture: number, mask: number, width: number, height: number, motion: number, columns: number, rows: number, lab: number, own: number): void;
  patchDifference(before: number, next: number, pixels: number, count: number, shift: number, cap: number): number;
  blendShifts(places: number, count: number, reach: number, from: number, sums: number, width: number, height: number): void;
  pullPairs(pairs: number, weights: number, width: number, height: number, smaller: number, weight: number): void;
  pushPairs(pairs: number, weights: number, coarse: number, width: number, height: number): void;
  sideMeans(
    colours: number,
    distance: number,
    side: number,
    reach: number,
    rows: number,
    sums: number,
    out: number,
    width: number,
    height: number,
    radius: number,
  ): void;
  mixErrors(alpha: number, inside: number, outside: number, colours: number, near: number, unknown: number, out: number, count: number): void;
  placeSums(
    alpha: number,
    inside: number,
    outside: number,
    colours: number,
    distance: number,
    wide: number,
    deep: number,
    grain: number,
    moved: number,
    weight: number,
    count: number,
  ): void;
  firm(field: number, count: number, middle: number, k: number, most: number): void;
  trackLook(
    u: number,
    v: number,
    count: number,
    motion: number,
    image: number,
    stride: number,
    x0: number,
    y0: number,
    x1: number,
    y1: number,
    seen: number,
  ): number;
  trackLight(seen: number, value: number, weight: number, count: number, middle: number, sums: number): void;
  trackResiduals(seen: number, value: number, count: number, gain: number, offset: number, residual: number): void;
  trackWeights(residual: number, weight: number, cell: number, cells: number, count: number, reach: number, counted: number): number;
  trackSums(
    u: number,
    v: number,
    slopeU: number,
    slopeV: number,
    value: number,
    counted: number,
    residual: number,
    count: number,
    parameters: number,
    right: number,
    normal: number,
    scratch: number,
  ): void;
  trackPattern(
    u: number,
    v: number,
    count: number,
    motion: number,
    image: number,
    stride: number,
    width: number,
    height: number,
    value: number,
    slopeU: number,
    slopeV: number,
  ): number;
  lightFrom(sums: number, middle: number, light: number): number;
  trackAlign(
    ...on: [...PatternOnLevel, parameters: number, rounds: number, small: number, state: number, known: number, isKnown: number, scratch: number]
  ): number;
  trackAsk(...on: [...PatternOnLevel, state: number, moves: number, asked: number, scratch: number]): void;
  smoothRows(source: number, width: number, height: number, from: number, to: number, weights: number, line: number, target: number): void;
  halveMeans(source: number, width: number, height: number, out: number): void;
  halveColours(source: number, width: number, height: number, out: number): void;
  halveFloats(source: number, width: number, height: number, target: number, line: number): void;
  cutRows(picture: number, stride: number, matte: number, matteStride: number, out: number, width: number, height: number): void;
  replaceRows(picture: number, stride: number, layer: number, width: number, height: number, mix: number): void;
  layRows(picture: number, stride: number, layer: number, width: number, height: number, mix: number): void;
  blendRows(picture: number, stride: number, layer: number, width: number, height: number, mix: number, mode: number): void;
  layByRows(picture: number, over: number, stride: number, matte: number, matteStride: number, width: number, height: number): void;
  addRows(sum: number, stride: number, layer: number, layerStride: number, width: number, height: number, share: number): void;
  discRows(pixels: number, width: number, height: number, halves: number, rows: number, pad: number, ring: number, share: number): void;
  meanOfTwo(source: number, width: number, height: number, motions: number, out: number): void;
  gradePixels(pixels: number, count: number, gain: number, saturation: number, red: number, green: number, blue: number): void;
  reducePicture(
    source: number,
    width: number,
    height: number,
    out: number,
    outWidth: number,
    outHeight: number,
    line: number,
    across: boolean,
    down: boolean,
  ): void;
  expandPicture(
    small: number,
    smallWidth: number,
    smallHeight: number,
    out: number,
    width: number,
    height: number,
    line: number,
    across: boolean,
    down: boolean,
  ): void;
  warpPicture(source: number, width: number, height: number, motion: number, out: number, outWidth: number, outHeight: number, share: number): void;
  warpUpright(
    source: number,
    width: number,
    columns: number,
    rows: number,
    first: number,
    last: number,
    line: number,
    out: number,
    outWidth: number,
    outHeight: number,
    share: number,
  ): void;
  pixelsOfBytes(bytes: number, channels: number, count: number, out: number): void;
  bytesOfPixels(pixels: number, count: number, channels: number, out: number): void;
  timesRest(out: number, matte: number, count: number): void;
  extentOf(matte: number, width: number, height: number, out: number): void;
  spreadBack(mask: number, bytes: number, length: number, step: number): void;
  rowRuns(source: number, stride: number, columns: number, rows: number, limit: number, below: number, found: number): number;
}

const PAGE = 65536;
let module: WebAssembly.Module | undefined;
let memory: WebAssembly.Memory | undefined;
let kernels: Kernels | undefined;

function kernelsIn(memory: WebAssembly.Memory): Kernels {
  module ??= new WebAssembly.Module(decode(KERNELS_WASM));
  return new WebAssembly.Instance(module, { env: { memory } }).exports as unknown as Kernels;
}

/** Kernels with a memory of their own, of so many floats, that nobody borrows: what is put there stays. */
export function ownKernels(floats: number): { kernels: Kernels; floats: Float32Array } {
  const own = new WebAssembly.Memory({ initial: Math.max(1, Math.ceil((4 * floats) / PAGE)) });
  return { kernels: kernelsIn(own), floats: new Float32Array(own.buffer) };
}

function decode(text: string): Uint8Array<ArrayBuffer> {
  const raw = atob(text);
  const bytes = new Uint8Array(raw.length);
  for (let i = 0; i < raw.length; i++) bytes[i] = raw.charCodeAt(i);
  return bytes;
}

/** The kernels, with memory of at least `floats` floats; earlier views of it may be detached. */
export function borrowKernels(floats: number): { kernels: Kernels; floats: Float32Array } {
  if (!memory || !kernels) {
    memory = new WebAssembly.Memory({ initial: 16 });
    kernels = kernelsIn(memory);
  }
  const missing = Math.ceil((floats * 4 - memory.buffer.byteLength) / PAGE);
  if (missing > 0) memory.grow(missing);
  return { kernels, floats: new Float32Array(memory.buffer) };
}

/** Kernels that store by four may run over the end of a part by so many floats less one. */
const LANES = 4;

/** The kernels with parts of their memory, by name: as an array, and the byte at which it begins. */
export interface Parts<Name extends string> {
  kernels: Kernels;
  part: Record<Name, Float32Array>;
  at: Record<Name, number>;
}

/** The kernels with parts of their memory of so many floats each. */
export function borrowParts<Name extends string>(sizes: Record<Name, number>): Parts<Name> {
  const names = Object.keys(sizes) as Name[];
  const begins: number[] = [];
  let all = 0;
  for (const name of names) {
    begins.push(all);
    all += LANES * (Math.ceil(sizes[name] / LANES) + 1);
  }
  const { kernels, floats } = borrowKernels(all);
  const [part, at] = [{} as Record<Name, Float32Array>, {} as Record<Name, number>];
  names.forEach((name, k) => {
    part[name] = floats.subarray(begins[k], begins[k] + sizes[name]);
    at[name] = 4 * begins[k];
  });
  return { kernels, part, at };
}
