/** Between the plate's own values and linear light. Plate values are taken as a power law. */
import type { Rgba } from './picture.ts';

/** The exponent of that law: light is the value to this power. */
export const POWER = 2.2;

const STEPS = 4096;
/** x to the power, and, told by the root of x, x to its inverse: both are nearly straight between two steps. */
const LINEAR = Float32Array.from({ length: STEPS + 2 }, (_, i) => (i / STEPS) ** POWER);
const PLATE = Float32Array.from({ length: STEPS + 2 }, (_, i) => (i / STEPS) ** (2 / POWER));

function looked(table: Float32Array, at: number): number {
  const place = at * STEPS;
  const i = place | 0;
  return table[i] + (table[i + 1] - table[i]) * (place - i);
}

const light = (v: number): number => (v <= 0 ? 0 : v >= 1 ? v ** POWER : looked(LINEAR, v));
const value = (l: number): number => (l <= 0 ? 0 : l >= 1 ? l ** (1 / POWER) : looked(PLATE, Math.sqrt(l)));

function changed(picture: Rgba, one: (v: number) => number): void {
  const { data } = picture;
  for (let i = 0; i < data.length; i += 4) {
    const a = data[i + 3];
    if (a === 0) continue;
    if (a === 1) {
      data[i] = one(data[i]);
      data[i + 1] = one(data[i + 1]);
      data[i + 2] = one(data[i + 2]);
    } else for (let k = i; k < i + 3; k++) data[k] = one(data[k] / a) * a;
  }
}

/** Turns the colours of a premultiplied picture into linear light, in place. */
export const toLinear = (picture: Rgba): void => changed(picture, light);

/** Turns linear light into the plate's values, in place. */
export const toPlateValues = (picture: Rgba): void => changed(picture, value);
