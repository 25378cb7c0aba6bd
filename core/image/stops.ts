/** Colours with their alpha at places between 0 and 1: place, red, green, blue, alpha, five numbers each. */
import { STEPS } from '../math/curve.ts';

/** Numbers of a stop. */
export const STOP = 5;
/** Stops, at most. */
export const MOST_STOPS = 16;

export const areStops = (stops: readonly number[]): boolean =>
  stops.length >= STOP &&
  stops.length <= STOP * MOST_STOPS &&
  stops.length % STOP === 0 &&
  stops.every((v, i) => v >= 0 && v <= 1 && (i % STOP !== 0 || i === 0 || v >= stops[i - STOP]));

/** Premultiplied colours from 0 to 1, `STEPS` + 1 of them: before the first stop and after the last there are theirs. */
export function coloursOf(stops: readonly number[]): Float32Array {
  const out = new Float32Array(4 * (STEPS + 1));
  const n = stops.length / STOP;
  for (let s = 0, next = 0; s <= STEPS; s++) {
    const place = s / STEPS;
    while (next < n && stops[next * STOP] <= place) next++;
    const [before, after] = [Math.max(0, next - 1) * STOP, Math.min(n - 1, next) * STOP];
    const wide = stops[after] - stops[before];
    const share = wide > 0 ? (place - stops[before]) / wide : 0;
    const between = (k: number) => stops[before + k] + (stops[after + k] - stops[before + k]) * share;
    const alpha = between(4);
    for (let k = 0; k < 3; k++) out[4 * s + k] = between(k + 1) * alpha;
    out[4 * s + 3] = alpha;
  }
  return out;
}
