/** From a mask to an alpha: where between the pixels the edge lies, and the width that a lens and a sampled picture give it. */
import { clamp } from '../../math/clamp.ts';
import { boxMean, softened } from '../picture/box-mean.ts';
import { boxRound, cropLab, cropMask, paste } from '../picture/crop.ts';
import type { LabPicture } from '../picture/lab.ts';
import { dilate } from '../picture/masks.ts';
import { maskDistance } from '../picture/signed-distance.ts';
import { softenToPicture } from './edge-width.ts';
import { estimateEdgeAlpha, estimateZoneAlpha } from './estimate-alpha.ts';

/** How much more than half a pixel of the mask is, at least, and how much less one that is not: so that lines of a pixel are kept. */
const ITS_SIDE = 0.08;

/**
 * Alpha in [0,1] of a binary mask whose edge is hard in the world: two box means of three pixels, but for what would change sides. Edges
 * sharper than that are made softer than they are (docs/research/peel-and-tracking.md).
 */
export function softMask(mask: Uint8Array, width: number, height: number): Float32Array {
  const alpha = softened(mask, width, height, 1);
  for (let i = 0; i < alpha.length; i++) {
    if (mask[i]) alpha[i] = Math.max(alpha[i], 0.5 + ITS_SIDE);
    else alpha[i] = Math.min(alpha[i], 0.5 - ITS_SIDE);
  }
  return alpha;
}

/** Pixels on each side of the edge in which the picture's own edge is looked for. */
const BAND = 3;
/** Stretch of edge over which the offset is a mean, as a radius. */
const ALONG = 5;
/** Share of the square round a pixel that must lie deeper than BAND on each side: thin parts, whose two edges mix, stay as they are. */
const DEEP = 0.13;
/** Change of colour (squared, in L*a*b* a pixel) that counts as little: grain and soft shading. */
const LITTLE = 60;

/** Pixels round the edge that have a say in its alpha: the band, and twice the stretch for what is deep. */
export const LOOKED_AT = BAND + 3 + 2 * ALONG;

/**
 * The soft alpha of a mask, its edge moved, by parts of a pixel, to where the picture's own colours change the most near it: the
 * middle of all change across the edge, as a mean over a stretch of it. Where there is little change it stays where it was.
 */
export function settledMask(mask: Uint8Array, picture: LabPicture): Float32Array {
  const { width, height } = picture;
  const out = new Float32Array(mask.length);
  // Beyond what is looked at round the edge there is nothing of the subject.
  const box = boxRound(mask, width, height, LOOKED_AT);
  if (!box) return out;
  paste(out, width, settledPart(cropMask(mask, width, box), cropLab(picture, box)), box);
  return out;
}

function settledPart(mask: Uint8Array, { width, height, lab }: LabPicture): Float32Array {
  const alpha = softMask(mask, width, height);
  const distance = maskDistance(mask, width, height, BAND + 3);
  const n = width * height;
  const change = new Float32Array(n);
  const moment = new Float32Array(n);
  const slope = new Float32Array(n);
  for (let y = 1; y + 1 < height; y++)
    for (let x = 1; x + 1 < width; x++) {
      const i = y * width + x;
      if (Math.abs(distance[i]) > BAND + 1) continue;
      const nx = alpha[i + 1] - alpha[i - 1];
      const ny = alpha[i + width] - alpha[i - width];
      slope[i] = Math.sqrt(nx * nx + ny * ny) / 2;
      if (Math.abs(distance[i]) > BAND) continue;
      const gx = distance[i + 1] - distance[i - 1];
      const gy = distance[i + width] - distance[i - width];
      const length = Math.sqrt(gx * gx + gy * gy);
      if (length === 0) continue;
      // Change of colour along the way from outside to inside.
      let energy = 0;
      for (let c = 0; c < 3; c++) {
        const across = ((lab[3 * (i + 1) + c] - lab[3 * (i - 1) + c]) * gx + (lab[3 * (i + width) + c] - lab[3 * (i - width) + c]) * gy) / (2 * length);
        energy += across * across;
      }
      const w = energy * energy;
      change[i] = w;
      moment[i] = w * distance[i];
    }
  const changes = boxMean(change, width, height, ALONG);
  const moments = boxMean(moment, width, height, ALONG);
  const deep = [1, -1].map((side) => {
    const within = new Float32Array(n);
    for (let i = 0; i < n; i++) if (side * distance[i] > BAND) within[i] = 1;
    return boxMean(within, width, height, 2 * ALONG);
  });
  const out = alpha.slice();
  for (let i = 0; i < n; i++) {
    if (slope[i] === 0 || deep[0][i] < DEEP || deep[1][i] < DEEP) continue;
    const shift = -moments[i] / (changes[i] + LITTLE);
    out[i] = clamp(alpha[i] + shift * slope[i], 0, 1);
  }
  return out;
}

/**
 * The finished alpha of a mask: settled on the picture's edge, as soft as it and where a soft one lies, and unmixed from the colours of both sides where they
 * tell it for certain, or, where the edge was called soft, as far as they tell it.
 */
export function finishedAlpha(mask: Uint8Array, picture: LabPicture, zone: Uint8Array | null): Float32Array {
  const alpha = settledMask(mask, picture);
  softenToPicture(alpha, mask, picture);
  estimateEdgeAlpha(alpha, mask, picture);
  if (zone) estimateZoneAlpha(alpha, mask, zone, picture);
  return alpha;
}

/** The finished edge must lie so many pixels off for a mask to follow it, and that counts so far along the edge. */
const OFF = 1.5;
const AROUND = 3;

/**
 * The mask with its edge half way where the picture's is soft: a mask is cut at the outer end of a blur. Elsewhere it is as it was, since
 * what is thin would be lost.
 */
export function halfwayMask(mask: Uint8Array, picture: LabPicture): Uint8Array {
  const { width, height } = picture;
  const alpha = finishedAlpha(mask, picture, null);
  const distance = maskDistance(mask, width, height, OFF + 2);
  const off = mask.map((v, i) => (alpha[i] > 0.5 !== (v === 1) && Math.abs(distance[i]) >= OFF ? 1 : 0));
  const near = dilate(off, width, height, AROUND);
  return mask.map((v, i) => (near[i] ? (alpha[i] > 0.5 ? 1 : 0) : v));
}
