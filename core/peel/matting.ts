/**
 * Alpha where the edge is blurred, by motion or by the lens. In a window, alpha is taken to be a linear function of colour (K. He,
 * J. Sun, X. Tang, "Guided Image Filtering", ECCV 2010, with a colour guide). For hair and hard edges it is the wrong tool
 * (docs/quality.md).
 */
import { boxMean } from './box-mean.ts';
import { boxRound, cropLab, cropMask } from './crop.ts';
import type { LabPicture } from './lab.ts';

/** Radius of the windows, pixels: about as wide as edges of blur are. */
const RADIUS = 10;
/** Times that the result is filtered again: the first pass still shows the step of the mask. */
const PASSES = 2;
/** Variance of colour (of a guide in [0,1]) that counts as none. */
const EPSILON = 1e-4;
/** Pixels over which what is solved goes over into what is round it. */
const BLEND = 3;

/** The alpha that colours give a mask (or an alpha), clamped to [0,1]: the filter over a whole picture. */
export function guidedAlpha(mask: ArrayLike<number>, { width, height, lab }: LabPicture, radius: number): Float32Array {
  const n = width * height;
  const mean = (of: (i: number) => number) => {
    const values = new Float32Array(n);
    for (let i = 0; i < n; i++) values[i] = of(i);
    return boxMean(values, width, height, radius);
  };
  // L*a*b* in parts of 100.
  const guide = [0, 1, 2].map((c) => Float32Array.from({ length: n }, (_, i) => lab[3 * i + c] / 100));
  const [l, a, b] = guide;
  const [ml, ma, mb] = guide.map((g) => boxMean(g, width, height, radius));
  const mp = mean((i) => mask[i]);
  const [lp, ap, bp] = guide.map((g) => mean((i) => g[i] * mask[i]));
  const ll = mean((i) => l[i] * l[i]);
  const la = mean((i) => l[i] * a[i]);
  const lb = mean((i) => l[i] * b[i]);
  const aa = mean((i) => a[i] * a[i]);
  const ab = mean((i) => a[i] * b[i]);
  const bb = mean((i) => b[i] * b[i]);
  const slopes = [new Float32Array(n), new Float32Array(n), new Float32Array(n)];
  const offset = new Float32Array(n);
  for (let i = 0; i < n; i++) {
    // Covariance of the guide, of the guide with the mask, and the solution of the 3 by 3 system by its cofactors.
    const s00 = ll[i] - ml[i] * ml[i] + EPSILON;
    const s01 = la[i] - ml[i] * ma[i];
    const s02 = lb[i] - ml[i] * mb[i];
    const s11 = aa[i] - ma[i] * ma[i] + EPSILON;
    const s12 = ab[i] - ma[i] * mb[i];
    const s22 = bb[i] - mb[i] * mb[i] + EPSILON;
    const c0 = lp[i] - ml[i] * mp[i];
    const c1 = ap[i] - ma[i] * mp[i];
    const c2 = bp[i] - mb[i] * mp[i];
    const k00 = s11 * s22 - s12 * s12;
    const k01 = s02 * s12 - s01 * s22;
    const k02 = s01 * s12 - s02 * s11;
    const k11 = s00 * s22 - s02 * s02;
    const k12 = s01 * s02 - s00 * s12;
    const k22 = s00 * s11 - s01 * s01;
    const determinant = s00 * k00 + s01 * k01 + s02 * k02;
    const x = (k00 * c0 + k01 * c1 + k02 * c2) / determinant;
    const y = (k01 * c0 + k11 * c1 + k12 * c2) / determinant;
    const z = (k02 * c0 + k12 * c1 + k22 * c2) / determinant;
    slopes[0][i] = x;
    slopes[1][i] = y;
    slopes[2][i] = z;
    offset[i] = mp[i] - x * ml[i] - y * ma[i] - z * mb[i];
  }
  const [x, y, z] = slopes.map((s) => boxMean(s, width, height, radius));
  const base = boxMean(offset, width, height, radius);
  const out = new Float32Array(n);
  for (let i = 0; i < n; i++) out[i] = Math.max(0, Math.min(1, x[i] * l[i] + y[i] * a[i] + z[i] * b[i] + base[i]));
  return out;
}

/** Solves alpha in the soft zone, in place, from the mask and the picture; round the zone it goes over into what is there. */
export function solveSoftZone(alpha: Float32Array, mask: Uint8Array, zone: Uint8Array, picture: LabPicture): void {
  const { width, height } = picture;
  const radius = Math.max(1, Math.min(RADIUS, Math.floor(Math.min(width, height) / 8)));
  const box = boxRound(zone, width, height, 2 * radius + BLEND);
  if (!box) return;
  const part = cropLab(picture, box);
  let solved = guidedAlpha(cropMask(mask, width, box), part, radius);
  for (let pass = 1; pass < PASSES; pass++) solved = guidedAlpha(solved, part, radius);
  const share = boxMean(Float32Array.from(cropMask(zone, width, box)), box.width, box.height, BLEND);
  for (let y = 0; y < box.height; y++)
    for (let x = 0; x < box.width; x++) {
      const i = y * box.width + x;
      if (share[i] === 0) continue;
      const at = (y + box.top) * width + x + box.left;
      alpha[at] += (solved[i] - alpha[at]) * share[i];
    }
}
