/** How alpha falls over the soft band of an edge. */
import type { Falloff } from '../document/schema.ts';
import { smoothstep } from '../math/clamp.ts';

/** The gaussian is cut where it has all but arrived, at this many deviations, and stretched to arrive. */
const DEVIATIONS = 2.5;

/** Abramowitz and Stegun 7.1.26: right to 1.5e-7. */
function erf(x: number): number {
  const t = 1 / (1 + 0.3275911 * Math.abs(x));
  const y = 1 - ((((1.061405429 * t - 1.453152027) * t + 1.421413741) * t - 0.284496736) * t + 0.254829592) * t * Math.exp(-x * x);
  return x < 0 ? -y : y;
}

/** Alpha at the share `t` of the way across the band, from its outside to its inside, both in [0,1]. */
function falloffAt(t: number, falloff: Falloff): number {
  if (t <= 0) return 0;
  if (t >= 1) return 1;
  if (falloff === 'smooth') return smoothstep(t);
  if (falloff === 'gaussian') return 0.5 + (0.5 * erf(((2 * t - 1) * DEVIATIONS) / Math.SQRT2)) / erf(DEVIATIONS / Math.SQRT2);
  return t;
}

/** Steps of the table that the kernels read a falloff from: linear between them it is right to a hundred-thousandth. */
export const FALLOFF_STEPS = 1024;

const TABLES = new Map<Falloff, Float32Array>();

/** A falloff as the kernels want it: `FALLOFF_STEPS` + 2 values. */
export function falloffTable(falloff: Falloff): Float32Array {
  let table = TABLES.get(falloff);
  if (!table) {
    table = Float32Array.from({ length: FALLOFF_STEPS + 2 }, (_, i) => falloffAt(i / FALLOFF_STEPS, falloff));
    TABLES.set(falloff, table);
  }
  return table;
}
