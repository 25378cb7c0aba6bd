/** Finishing of a subject's matte: grow or shrink, then feather inwards and outwards, by exact distance. */
import type { Falloff } from '../document/schema.ts';
import { type Gray, newGray, type Region, wholeOf } from '../image/picture.ts';
import { signedDistance } from './distance.ts';

/** Tolerance of distances for a band one pixel wide: a wide band forgives more, since alpha changes slowly across it. */
const TOLERANCE = 0.003;

export interface EdgeValues {
  /** Pixels the outline moves outwards; negative moves it inwards. */
  grow: number;
  /** Width in pixels of the soft band inside and outside the moved outline, >= 0. */
  featherIn: number;
  featherOut: number;
  falloff: Falloff;
}

/**
 * The alpha of a pixel `distance` pixels inside the moved outline (negative: outside). The band is never narrower than one
 * pixel, so a hard edge stays anti-aliased.
 */
export function featherProfile(distance: number, featherIn: number, featherOut: number, falloff: Falloff): number {
  const inside = Math.max(0.5, featherIn);
  const outside = Math.max(0.5, featherOut);
  const t = (distance + outside) / (inside + outside);
  if (t <= 0) return 0;
  if (t >= 1) return 1;
  return falloff === 'smooth' ? t * t * (3 - 2 * t) : t;
}

/**
 * A new matte with the edge finished; the same one where nothing is asked for. The outline is taken at half of the matte's
 * strongest alpha, and the result is as strong, so a subject that fades keeps its edge.
 * @param busy outside it the matte is flat: one value all over
 */
export function finishEdge(matte: Gray, { grow, featherIn, featherOut, falloff }: EdgeValues, busy: Region = wholeOf(matte)): Gray {
  if (grow === 0 && featherIn <= 0 && featherOut <= 0) return matte;
  const { width, height, data } = matte;
  const strongest = largest(matte, busy);
  if (strongest === 0) return matte;
  const level = strongest / 2;
  const inside = Math.max(0.5, featherIn) - grow;
  const outside = Math.max(0.5, featherOut) + grow;
  const reach = Math.max(1, Math.abs(inside), Math.abs(outside)) + 1;
  const distance = signedDistance(matte, level, reach, TOLERANCE * (inside + outside), busy);
  if (!distance) return matte;
  const out = newGray(width, height);
  fillOutside(out.data, data, width, height, distance, level, strongest);
  for (let y = 0, i = 0; y < distance.height; y++) {
    let to = (y + distance.top) * width + distance.left;
    for (let x = 0; x < distance.width; x++, i++, to++) {
      const d = distance.data[i];
      // Most of the box is wholly in or out.
      if (d <= -outside) continue;
      out.data[to] = d >= inside ? strongest : strongest * featherProfile(d + grow, featherIn, featherOut, falloff);
    }
  }
  return out;
}

function largest({ width, height, data }: Gray, busy: Region): number {
  // Flat outside the region: one pixel of each side speaks for it.
  let most = Math.max(data[0], data[data.length - 1]);
  for (let y = Math.max(0, busy.top); y < Math.min(height, busy.bottom); y++) {
    const end = y * width + Math.min(width, busy.right);
    for (let at = y * width + Math.max(0, busy.left); at < end; at++) if (data[at] > most) most = data[at];
  }
  return most;
}

/** Sets what lies outside the box of distances: nothing there is near the edge, so it is wholly in or out. */
function fillOutside(
  out: Float32Array,
  data: Float32Array,
  width: number,
  height: number,
  box: { left: number; top: number; width: number; height: number },
  level: number,
  strongest: number,
): void {
  const stretch = (from: number, to: number) => {
    if (to <= from) return;
    // No outline crosses a row outside the box, so its first pixel speaks for the stretch.
    if (data[from] > level) out.fill(strongest, from, to);
  };
  for (let y = 0; y < height; y++) {
    const row = y * width;
    if (y < box.top || y >= box.top + box.height) stretch(row, row + width);
    else {
      stretch(row, row + box.left);
      stretch(row + box.left + box.width, row + width);
    }
  }
}
