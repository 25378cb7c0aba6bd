/**
 * A second carry beside the first, at half the size, which looks farther and yields more to colour: a cheap other opinion. Where it comes
 * to another edge than the first, one of them is wrong; doubt goes by that, and by how faint the picture's edge is where the first has it.
 */

import { enlarged } from '../cut/motion-evidence.ts';
import type { PreparedFrame } from '../motion/prepared-frame.ts';
import { contrastOf } from '../picture/contrast.ts';
import { labPicture } from '../picture/lab.ts';
import { meanTranslation, type PropagationOptions, type PropagationStep, propagateFrame } from '../propagate/propagate-frame.ts';
import type { Painted } from '../propagate/registration.ts';
import { type Agreement, agreementOf } from './uncertainty.ts';

/** Its band, in its own pixels, against that of the first, in pixels that are half as large; and how much more it yields to colour. */
const BAND = 1.2;
const SLACK = 2;

export interface SecondEstimate {
  /** 1 for the subject, at its size. */
  mask: Uint8Array;
  /** Where its anchor's windows of colour are, in its pixels: x and y of each. */
  centres: Float32Array;
}

/**
 * The second, taken to be where the first is (`mask`, at its size): its windows go as far as those of the first went on average.
 * @param places where the windows of the first are now, and `before`; in pixels that are half as large as those of `second`
 */
export function secondEstimateFrom(mask: Uint8Array, centres: Float32Array, before: Float32Array, second: Float32Array): SecondEstimate {
  const gone = meanTranslation(before, centres);
  return { mask, centres: second.map((v, k) => v + gone[k % 2] / 2) };
}

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

/** What is laid onto the frames of the first carry, for those of the second; `own` is its mask there. */
export function halfPainted({ frame, back }: Painted, half: Omit<Painted, 'back'>): Painted {
  return { ...half, back: enlarged(back, half.frame.fine.width / frame.fine.width) };
}

/**
 * The second carry on the next frame, along the same motion.
 * @param step with what the anchor taught it, and what is painted, at its size
 * @param look what is laid onto it (see {@link halfPainted}) and how it went before, in its pixels
 */
export function propagateSecond(
  second: SecondEstimate,
  step: Omit<PropagationStep, 'mask'>,
  look: Pick<PropagationOptions, 'painted' | 'pace'> = {},
): SecondEstimate {
  const { band, slack } = step.settings;
  const settings = { ...step.settings, band: Math.max(2, Math.round(band * BAND)), slack: slack * SLACK };
  const model = { ...step.model, windows: { models: step.model.windows.models, centres: second.centres } };
  const { mask, centres } = propagateFrame({ ...step, mask: second.mask, model, settings }, look);
  return { mask, centres };
}

/** How far the first carry's mask and the second agree, where on the first's edge they do not, and how faint the picture is there. */
export function agreementWith({ mask: other }: SecondEstimate, { fine }: PreparedFrame, mask: Uint8Array, prepared: PreparedFrame): Agreement {
  return agreementOf(halfMask(mask, prepared, fine), other, fine.width, fine.height, fine);
}
