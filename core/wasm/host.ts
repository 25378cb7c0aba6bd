/** Loads the SIMD kernels once a thread and lends their memory out. */
import { KERNELS_WASM } from './kernels.wasm.ts';

/** What the module exports; kernels.as.ts says what each does. Places are in bytes. */
interface Kernels {
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
  firm(field: number, count: number, middle: number, k: number, most: number): void;
  rowRuns(source: number, stride: number, columns: number, rows: number, limit: number, below: number, found: number): number;
}

const PAGE = 65536;
let memory: WebAssembly.Memory | undefined;
let kernels: Kernels | undefined;

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
    const instance = new WebAssembly.Instance(new WebAssembly.Module(decode(KERNELS_WASM)), { env: { memory } });
    kernels = instance.exports as unknown as Kernels;
  }
  const missing = Math.ceil((floats * 4 - memory.buffer.byteLength) / PAGE);
  if (missing > 0) memory.grow(missing);
  return { kernels, floats: new Float32Array(memory.buffer) };
}
