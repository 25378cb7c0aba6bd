/**
 * The edge of a subject, step by step: specks and holes, roundness, steadiness, grow or shrink, feather inwards and outwards by
 * exact distance, firmness. Shutter blur and opacity are laid over the result by renderMatte.
 */
import type { Falloff } from '../document/schema.ts';
import { type Box, type Gray, type Region, wholeOf } from '../image/picture.ts';
import { clamp } from '../math/clamp.ts';
import { borrowKernels } from '../wasm/host.ts';
import { cleanPieces } from './components.ts';
import type { Contour } from './contour.ts';
import { lendDistance, signedDistance } from './distance.ts';
import { FALLOFF_STEPS, falloffTable } from './falloff.ts';
import { roundMatte } from './roundness.ts';
import { type Distances, steadied } from './steadiness.ts';

/** Tolerance of distances for a band one pixel wide: a wide band forgives more, since alpha changes slowly across it. */
const TOLERANCE = 0.003;

export interface EdgeValues {
  /** Pixels the outline moves outwards; negative moves it inwards. */
  grow: number;
  /** Width in pixels of the soft band inside and outside the moved outline, >= 0. */
  featherIn: number;
  featherOut: number;
  falloff: Falloff;
  /** Contrast of alpha round `pivot`, [0,1]: 0 leaves it, 1 makes a hard step. */
  firmness: number;
  /** Share of the strongest alpha in (0,1). */
  pivot: number;
  /** Length in pixels of what is smoothed off the outline. */
  roundness: number;
  /** Area in square pixels below which a piece, or a hole, is taken away. */
  specks: number;
  holes: number;
}

export const PLAIN_EDGE: EdgeValues = {
  grow: 0,
  featherIn: 0,
  featherOut: 0,
  falloff: 'smooth',
  firmness: 0,
  pivot: 0.5,
  roundness: 0,
  specks: 0,
  holes: 0,
};

interface Band {
  /** Distances from the outline at which alpha is full and none. */
  inside: number;
  outside: number;
  /** How far distances are needed. */
  reach: number;
}

function bandOf({ grow, featherIn, featherOut }: EdgeValues): Band {
  const inside = Math.max(0.5, featherIn) - grow;
  const outside = Math.max(0.5, featherOut) + grow;
  return { inside, outside, reach: Math.max(1, Math.abs(inside), Math.abs(outside)) + 1 };
}

/** A matte's outline: the region outside which the matte is flat, and the outline itself where it has been found already. */
interface Outline {
  busy: Region;
  known: Contour | null;
}

/** Steps that change what the outline is, in place: pieces and roundness. */
export function shapeOutline(matte: Gray, { specks, holes, roundness }: EdgeValues, busy: Region): Outline {
  const as = { busy, known: null };
  if (specks <= 0 && holes <= 0 && roundness <= 0) return as;
  const strongest = largest(matte, busy);
  if (strongest === 0) return as;
  if (specks > 0 || holes > 0) cleanPieces(matte, busy, strongest / 2, strongest, specks, holes);
  if (roundness <= 0) return as;
  const known = roundMatte(matte, busy, strongest / 2, strongest, roundness);
  return { busy: grown(busy, Math.ceil(roundness), matte), known };
}

/** The region with a margin all round, cut to the picture. */
function grown({ left, top, right, bottom }: Region, margin: number, { width, height }: { width: number; height: number }): Region {
  return {
    left: Math.max(0, left - margin),
    top: Math.max(0, top - margin),
    right: Math.min(width, right + margin),
    bottom: Math.min(height, bottom + margin),
  };
}

/**
 * Grows, feathers and firms in place. The outline is taken at half of the matte's strongest alpha, and the result is as strong,
 * so a subject that fades keeps its edge.
 */
function softenEdge(matte: Gray, values: EdgeValues, { busy, known }: Outline): void {
  const { grow, featherIn, featherOut } = values;
  const soft = grow !== 0 || featherIn > 0 || featherOut > 0;
  if (!soft && values.firmness <= 0) return;
  const { width, data } = matte;
  const strongest = largest(matte, busy);
  if (strongest === 0) return;
  const level = strongest / 2;
  const { inside, outside, reach } = bandOf(values);
  const lent = soft ? lendDistance(matte, level, reach, TOLERANCE * (inside + outside), known ?? busy) : null;
  if (!lent) {
    firmInPlace(matte, values, strongest, busy);
    return;
  }
  const { box, stride } = lent;
  const floats = applyProfile(stride * box.height, values, strongest);
  makeCertain(matte, box, busy, level, strongest);
  for (let y = 0; y < box.height; y++) data.set(floats.subarray(y * stride, y * stride + box.width), (y + box.top) * width + box.left);
}

/** Turns the distances at the start of the kernels' memory into alpha and firms it, in place; gives that memory. */
function applyProfile(size: number, values: EdgeValues, strongest: number): Float32Array {
  const { inside, outside } = bandOf(values);
  const { kernels, floats } = borrowKernels(size + FALLOFF_STEPS + 2);
  const table = falloffTable(values.falloff);
  for (let i = 0; i < table.length; i++) floats[size + i] = table[i] * strongest;
  kernels.profile(0, size, inside, outside, size * 4, FALLOFF_STEPS);
  if (values.firmness > 0) kernels.firm(0, size, values.pivot * strongest, contrast(values.firmness), strongest);
  return floats;
}

/** Signed distances of a whole picture, for steadying; null where there is no outline. */
export function wholeDistances(matte: Gray, values: EdgeValues, { busy, known }: Outline): { field: Distances; strongest: number } | null {
  const { width, height, data } = matte;
  const strongest = largest(matte, busy);
  if (strongest === 0) return null;
  const { reach } = bandOf(values);
  const level = strongest / 2;
  const found = signedDistance(matte, level, reach, undefined, known ?? busy);
  if (!found) return null;
  const field = new Float32Array(width * height);
  for (let i = 0; i < field.length; i++) field[i] = data[i] > level ? reach : -reach;
  for (let y = 0; y < found.height; y++) field.set(found.data.subarray(y * found.width, (y + 1) * found.width), (y + found.top) * width + found.left);
  return { field, strongest };
}

/** The matte whose outline is steadied by the distances of the frames round it, grown, feathered and firmed. */
export function steadyEdge(
  around: readonly ({ field: Distances; strongest: number } | null)[],
  size: { width: number; height: number },
  values: EdgeValues,
  steadiness: number,
): Gray | null {
  const own = around[around.length >> 1];
  if (!own) return null;
  const { reach } = bandOf(values);
  const field = steadied(
    around.map((a) => a?.field ?? null),
    size,
    reach,
    steadiness,
  );
  const count = (field.length + 3) & ~3;
  borrowKernels(count + FALLOFF_STEPS + 2).floats.set(field, 0);
  const floats = applyProfile(count, values, own.strongest);
  return { ...size, data: floats.slice(0, field.length) };
}

/** How many times the distance of alpha from the pivot grows; a firmness of 1 makes a step that is hard for any eye. */
const contrast = (firmness: number): number => 1 / Math.max(1e-6, 1 - firmness);

/** Firms a matte in place; only in `region` is there any alpha between none and full. */
function firmInPlace({ data, width }: Gray, { firmness, pivot }: EdgeValues, strongest: number, region: Region): void {
  const k = contrast(firmness);
  const middle = pivot * strongest;
  for (let y = region.top; y < region.bottom; y++)
    for (let i = y * width + region.left; i < y * width + region.right; i++) {
      const a = data[i];
      if (a === 0 || a === strongest) continue;
      data[i] = clamp(middle + (a - middle) * k, 0, strongest);
    }
}

/** All steps that need this frame alone, in place; gives the matte. */
export function finishEdge(matte: Gray, values: EdgeValues, busy: Region = wholeOf(matte)): Gray {
  softenEdge(matte, values, shapeOutline(matte, values, busy));
  return matte;
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
