/**
 * A second carry beside the first, at half the size and by the colours of the whole alone: a cheap other opinion. Where it comes
 * to another edge than the first, one of them is wrong; that is what doubt goes by.
 */
import { carryFrame } from './carry.ts';
import { agreementOf } from './doubt.ts';
import { contrastOf } from './grid-cut.ts';
import { labPicture } from './lab.ts';
import type { Motion } from './layers.ts';
import type { PreparedFrame } from './prepared-frame.ts';
import type { CarrySettings } from './settings.ts';

/** Its band against that of the first, whose pixels are half as large: wider, so that it may go its own way. */
const BAND = 0.7;
const NO_WINDOWS = { models: [], places: new Float32Array(0) };

/** The frame at half the size; as it is where it is too small to be halved. */
export function halfFrame(prepared: PreparedFrame): PreparedFrame {
  const { factor, half } = prepared;
  if (factor === 1) return prepared;
  const fine = labPicture(half);
  return { ...prepared, fine, factor: factor / 2, betaFine: contrastOf(fine) };
}

/** The mask at half the size, by most of each square of four; as it is where the frame is not halved. */
export function halfMask(mask: Uint8Array, { fine: { width }, factor }: PreparedFrame, half: { width: number; height: number }): Uint8Array {
  if (factor === 1) return mask;
  const out = new Uint8Array(half.width * half.height);
  for (let y = 0; y < half.height; y++)
    for (let x = 0; x < half.width; x++) {
      const i = 2 * (y * width + x);
      out[y * half.width + x] = mask[i] + mask[i + 1] + mask[i + width] + mask[i + width + 1] >= 2 ? 1 : 0;
    }
  return out;
}

/**
 * The mask of the second carry on the next frame, along the same motion.
 * @param table colours of the anchor's whole
 * @param seeds what is painted on the next frame, at its half size
 */
export function carrySecond(
  before: PreparedFrame,
  mask: Uint8Array,
  next: PreparedFrame,
  motion: Motion,
  table: Float32Array,
  seeds: Uint8Array | null,
  carry: CarrySettings,
): Uint8Array {
  const band = Math.max(2, Math.round(carry.band * BAND));
  return carryFrame(before, mask, next, motion, { table, windows: NO_WINDOWS }, seeds, { ...carry, band }).mask;
}

/** How far the first carry's mask and the second agree, and where on the first's edge they do not. */
export function agreementWith(other: Uint8Array, { fine }: PreparedFrame, mask: Uint8Array, prepared: PreparedFrame) {
  return agreementOf(halfMask(mask, prepared, fine), other, fine.width, fine.height);
}
