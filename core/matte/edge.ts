/** Finishing of a subject's matte: grow or shrink, then feather inwards and outwards, by exact distance. */
import type { Gray } from '../image/picture.ts';
import { signedDistance } from './distance.ts';

export const FALLOFFS = ['linear', 'smooth'] as const;
export type Falloff = (typeof FALLOFFS)[number];

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

/** A new matte with the edge finished; the same one where nothing is asked for. */
export function finishEdge(matte: Gray, { grow, featherIn, featherOut, falloff }: EdgeValues): Gray {
  if (grow === 0 && featherIn <= 0 && featherOut <= 0) return matte;
  const inside = Math.max(0.5, featherIn) - grow;
  const outside = Math.max(0.5, featherOut) + grow;
  const reach = Math.max(1, Math.abs(inside), Math.abs(outside)) + 1;
  const field = signedDistance(matte, reach);
  for (let i = 0; i < field.length; i++) {
    const d = field[i];
    field[i] = d >= reach ? 1 : d <= -reach ? 0 : featherProfile(d + grow, featherIn, featherOut, falloff);
  }
  return { width: matte.width, height: matte.height, data: field };
}
