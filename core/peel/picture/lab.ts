/** Pictures as Peel sees them: CIE L*a*b* (D65), in which distances are about as eyes see them, and coarse cells of colour. */

import { borrowKernels } from '../../wasm/host.ts';

/** Cells a side of the colour cube that colour models are tabled on. */
export const CELLS = 32;

export interface FrameBytes {
  width: number;
  height: number;
  /** sRGB and alpha, a byte each. */
  data: Uint8ClampedArray | Uint8Array;
}

export interface LabPicture {
  width: number;
  height: number;
  /** L, a, b of each pixel, one after the other: L in [0,100], a and b about [-100,100]. */
  lab: Float32Array;
  /** The cell of each pixel's colour: red·1024 + green·32 + blue, five bits each. */
  cell: Uint16Array;
}

const ROOTS = 4096;
/** Below this the standard's cube root goes on as a straight line. */
const STRAIGHT = 216 / 24389;
const LINEAR = Float32Array.from({ length: 256 }, (_, i) => (i <= 10 ? i / 255 / 12.92 : ((i / 255 + 0.055) / 1.055) ** 2.4));
const ROOT_TABLE = Float32Array.from({ length: ROOTS + 2 }, (_, i) => Math.cbrt(i / ROOTS));

/** L*a*b* of one sRGB colour of three bytes. */
export function labOf(r: number, g: number, b: number, out: Float32Array, at: number): void {
  const lr = LINEAR[r];
  const lg = LINEAR[g];
  const lb = LINEAR[b];
  // XYZ of D65 divided by its white.
  const x = (0.4124564 * lr + 0.3575761 * lg + 0.1804375 * lb) / 0.95047;
  const y = 0.2126729 * lr + 0.7151522 * lg + 0.072175 * lb;
  const z = (0.0193339 * lr + 0.119192 * lg + 0.9503041 * lb) / 1.08883;
  const fx = rootOf(x);
  const fy = rootOf(y);
  const fz = rootOf(z);
  out[at] = 116 * fy - 16;
  out[at + 1] = 500 * (fx - fy);
  out[at + 2] = 200 * (fy - fz);
}

function rootOf(t: number): number {
  if (t <= STRAIGHT) return ((24389 / 27) * t + 16) / 116;
  // From there on the table is right to a thousandth of L.
  const k = t < 1 ? t * ROOTS : ROOTS;
  const i = k | 0;
  return ROOT_TABLE[i] + (ROOT_TABLE[i + 1] - ROOT_TABLE[i]) * (k - i);
}

/** A picture of sRGB bytes (alpha is not looked at). */
export function labPicture({ width, height, data }: FrameBytes): LabPicture {
  const n = width * height;
  const padded = Math.ceil(n / 4) * 4;
  // Layout, in floats: table | bytes of the picture | colours | cells, two bytes each.
  const atBytes = LINEAR.length;
  const atLab = atBytes + padded;
  const atCells = atLab + 3 * padded;
  const { kernels, floats } = borrowKernels(atCells + padded / 2);
  floats.set(LINEAR, 0);
  new Uint8Array(floats.buffer).set(data.subarray(0, 4 * n), 4 * atBytes);
  kernels.labColours(4 * atBytes, padded, 0, 4 * atLab, 4 * atCells);
  return { width, height, lab: floats.slice(atLab, atLab + 3 * n), cell: new Uint16Array(floats.buffer, 4 * atCells, n).slice() };
}

/**
 * The picture at half its size: each pixel the mean of a square of four; odd rows and columns at the end are cut off. As it is
 * where it has but one row or column.
 */
export function halvedFrame(picture: FrameBytes): FrameBytes {
  const { width, height, data } = picture;
  if (width < 2 || height < 2) return picture;
  const half = { width: width >> 1, height: height >> 1 };
  const bytes = 4 * width * height;
  const size = 4 * half.width * half.height;
  // The kernel reads and writes by 32 and 16 bytes, and may go over the ends.
  const atOut = bytes + 32;
  const { kernels, floats } = borrowKernels((atOut + size + 16) / 4);
  const memory = new Uint8Array(floats.buffer);
  memory.set(data.subarray(0, bytes), 0);
  kernels.halveBytes(0, width, height, atOut);
  return { ...half, data: memory.slice(atOut, atOut + size) };
}
