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

/** Red, green, blue and alpha at a place, as they are without that alpha: before the first stop and after the last there are theirs. */
export function stopAt(stops: readonly number[], place: number): [number, number, number, number] {
  const n = stops.length / STOP;
  let next = 0;
  while (next < n && stops[next * STOP] <= place) next++;
  const [before, after] = [Math.max(0, next - 1) * STOP, Math.min(n - 1, next) * STOP];
  const wide = stops[after] - stops[before];
  const share = wide > 0 ? (place - stops[before]) / wide : 0;
  const between = (k: number) => stops[before + k] + (stops[after + k] - stops[before + k]) * share;
  return [between(1), between(2), between(3), between(4)];
}

/** Premultiplied colours from 0 to 1, `STEPS` + 1 of them. */
export function coloursOf(stops: readonly number[]): Float32Array {
  const out = new Float32Array(4 * (STEPS + 1));
  for (let s = 0; s <= STEPS; s++) {
    const [red, green, blue, alpha] = stopAt(stops, s / STEPS);
    out.set([red * alpha, green * alpha, blue * alpha, alpha], 4 * s);
  }
  return out;
}
