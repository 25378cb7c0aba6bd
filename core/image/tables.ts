/** Changes of each channel by itself. */
import { clamp } from '../math/clamp.ts';
import { lookUp } from '../math/curve.ts';
import type { Rgba } from './picture.ts';

/** Sends the colours of a premultiplied picture, each as it is without its alpha, through tables for red, green and blue. */
export function throughTables({ data }: Rgba, tables: readonly [Float32Array, Float32Array, Float32Array]): void {
  for (let i = 0; i < data.length; i += 4) {
    const a = data[i + 3];
    if (a <= 0) continue;
    for (let k = 0; k < 3; k++) data[i + k] = a * lookUp(tables[k], clamp(data[i + k] / a, 0, 1));
  }
}
