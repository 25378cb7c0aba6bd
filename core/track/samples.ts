/** Samples of a piece of a picture, and what is seen there. */
import { clamp } from '../math/clamp.ts';
import type { MotionModel } from '../math/homography.ts';

/**
 * Places of a piece in coordinates of its own: its middle is the origin, half of its longer side about 1, so that all numbers of a
 * motion are of one order.
 */
export interface Samples {
  u: Float32Array;
  v: Float32Array;
  /** How much each counts, in (0, 1]. */
  weight: Float32Array;
}

/** Samples and what was seen there. */
export interface Pattern extends Samples {
  value: Float32Array;
  /** Slope of the brightness along u and v. */
  slopeU: Float32Array;
  slopeV: Float32Array;
  /** Which of the {@link CELLS} by CELLS cells each lies in, row after row. */
  cell: Uint8Array;
  extent: Extent;
  /** The sums of the products of the changes of brightness by the samples' own weights, where all are counted; by parameters. */
  products: Map<number, Float64Array>;
}

/** Cells of a pattern each way, over its own square. */
export const CELLS = 8;
export const cellOf = (u: number, v: number): number => clamp(((u + 1) * CELLS) >> 1, 0, CELLS - 1) + CELLS * clamp(((v + 1) * CELLS) >> 1, 0, CELLS - 1);

/** Parameters of each model. */
export const PARAMETERS: Record<MotionModel, number> = { move: 2, similarity: 4, affine: 6, perspective: 8 };

/** The box round samples in their own coordinates: least u and v, largest u and v. */
export type Extent = readonly [number, number, number, number];
