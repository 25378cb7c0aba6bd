/** Pictures as Peel sees them: CIE L*a*b* (D65), in which distances are about as eyes see them, and coarse cells of colour. */

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
  const lab = new Float32Array(3 * n);
  const cell = new Uint16Array(n);
  for (let i = 0; i < n; i++) {
    const r = data[4 * i];
    const g = data[4 * i + 1];
    const b = data[4 * i + 2];
    labOf(r, g, b, lab, 3 * i);
    cell[i] = ((r >> 3) << 10) | ((g >> 3) << 5) | (b >> 3);
  }
  return { width, height, lab, cell };
}

/** The picture at a `factor`-th of its size, whole numbers; each pixel the mean of a square. Rest rows and columns are cut off. */
export function shrink(
  data: Uint8ClampedArray | Uint8Array,
  width: number,
  height: number,
  factor: number,
): { width: number; height: number; data: Uint8Array } {
  const [w, h] = [Math.max(1, Math.floor(width / factor)), Math.max(1, Math.floor(height / factor))];
  const out = new Uint8Array(4 * w * h);
  const [fx, fy] = [Math.min(factor, width), Math.min(factor, height)];
  const share = 1 / (fx * fy);
  for (let y = 0; y < h; y++)
    for (let x = 0; x < w; x++) {
      let [r, g, b] = [0, 0, 0];
      for (let v = 0; v < fy; v++) {
        let at = 4 * ((y * factor + v) * width + x * factor);
        for (let u = 0; u < fx; u++, at += 4) {
          r += data[at];
          g += data[at + 1];
          b += data[at + 2];
        }
      }
      const to = 4 * (y * w + x);
      out[to] = r * share + 0.5;
      out[to + 1] = g * share + 0.5;
      out[to + 2] = b * share + 0.5;
      out[to + 3] = 255;
    }
  return { width: w, height: h, data: out };
}
