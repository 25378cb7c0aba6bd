/** Finishing of a subject's matte: grow or shrink, then feather inwards and outwards, by exact distance. */
import type { Falloff } from '../document/schema.ts';
import { type Gray, type Region, wholeOf } from '../image/picture.ts';
import { borrowKernels } from '../wasm/host.ts';
import { type Box, lendDistance } from './distance.ts';

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

/** Steps of the table that a profile is read from: linear between them it is right to a millionth. */
const STEPS = 1024;

const PROFILES = new Map<Falloff, Float32Array>();

/** Alpha across the band, from its outside to its inside, as the kernel wants it. */
function profileTable(falloff: Falloff): Float32Array {
  let table = PROFILES.get(falloff);
  if (!table) {
    table = Float32Array.from({ length: STEPS + 2 }, (_, i) => featherProfile(Math.min(1, i / STEPS) - 0.5, 0.5, 0.5, falloff));
    PROFILES.set(falloff, table);
  }
  return table;
}

/**
 * Finishes the edge in place. The outline is taken at half of the matte's strongest alpha, and the result is as strong, so a
 * subject that fades keeps its edge.
 * @param busy outside it the matte is flat: one value all over
 */
export function finishEdge(matte: Gray, { grow, featherIn, featherOut, falloff }: EdgeValues, busy: Region = wholeOf(matte)): void {
  if (grow === 0 && featherIn <= 0 && featherOut <= 0) return;
  const { width, data } = matte;
  const strongest = largest(matte, busy);
  if (strongest === 0) return;
  const level = strongest / 2;
  const inside = Math.max(0.5, featherIn) - grow;
  const outside = Math.max(0.5, featherOut) + grow;
  const reach = Math.max(1, Math.abs(inside), Math.abs(outside)) + 1;
  const lent = lendDistance(matte, level, reach, TOLERANCE * (inside + outside), busy);
  if (!lent) return;
  const { box, stride } = lent;
  const size = stride * box.height;
  const { kernels, floats } = borrowKernels(size + STEPS + 2);
  const table = profileTable(falloff);
  for (let i = 0; i < table.length; i++) floats[size + i] = table[i] * strongest;
  kernels.profile(0, size, inside, outside, size * 4, STEPS);
  makeCertain(matte, box, busy, level, strongest);
  for (let y = 0; y < box.height; y++) data.set(floats.subarray(y * stride, y * stride + box.width), (y + box.top) * width + box.left);
}

function largest({ width, height, data }: Gray, busy: Region): number {
  // Flat outside the region: one pixel of each side speaks for it.
  let most = Math.max(data[0], data[data.length - 1]);
  for (let y = Math.max(0, busy.top); y < Math.min(height, busy.bottom); y++) {
    const end = y * width + Math.min(width, busy.right);
    for (let at = y * width + Math.max(0, busy.left); at < end; at++) if (data[at] > most) most = data[at];
    // Nothing is stronger than 1.
    if (most === 1) break;
  }
  return most;
}

/** Nothing outside the box of distances is near the edge: it is made wholly in or out, whatever it was. */
function makeCertain({ width, height, data }: Gray, box: Box, busy: Region, level: number, strongest: number): void {
  // No outline crosses these stretches, so the first pixel speaks for each.
  const settle = (from: number, to: number, flat: boolean) => {
    if (to <= from) return;
    const sure = data[from] > level ? strongest : 0;
    // Memory that is right already is better not touched.
    if (!flat || data[from] !== sure) data.fill(sure, from, to);
  };
  const boxRight = box.left + box.width;
  const left = Math.min(box.left, Math.max(0, busy.left));
  const right = Math.max(boxRight, Math.min(width, busy.right));
  for (let y = 0; y < height; y++) {
    const row = y * width;
    const inBusy = y >= busy.top && y < busy.bottom;
    if (y < box.top || y >= box.top + box.height) settle(row, row + width, !inBusy);
    else {
      settle(row, row + left, true);
      settle(row + left, row + box.left, false);
      settle(row + boxRight, row + right, false);
      settle(row + right, row + width, true);
    }
  }
}
