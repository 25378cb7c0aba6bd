/** What is made of a frame once, whatever is painted on it. */

import { contrastOf } from '../picture/contrast.ts';
import { CELLS, type FrameBytes, halvedFrame, type LabPicture, labPicture } from '../picture/lab.ts';
import type { Flow } from './optical-flow.ts';

/** A frame beside the one that is looked at, and the motion to it. */
export interface Neighbour {
  fine: LabPicture;
  coarse: LabPicture;
  /** Where the coarse pixels of the frame that is looked at are on it. */
  flow: Flow;
  /** How sure that is of each, (0,1]. */
  sure: Float32Array;
}

export interface PreparedFrame {
  fine: LabPicture;
  /** The picture at half the size. */
  half: FrameBytes;
  coarse: LabPicture;
  factor: number;
  betaFine: number;
  betaCoarse: number;
  /** The cells of colour that there are in it, at either size; found when they are asked for. */
  cells: Uint16Array | null;
  /** The frames beside it, where they are looked at too: what is painted moves to them. */
  beside: readonly Neighbour[];
}

/** The coarse picture is the half of the half. */
const FACTOR = 4;

export function prepareFrame(frame: FrameBytes): PreparedFrame {
  const factor = Math.min(frame.width, frame.height) >= 64 ? FACTOR : 1;
  const fine = labPicture(frame);
  const half = halvedFrame(frame);
  const coarse = factor === 1 ? fine : labPicture(halvedFrame(half));
  return { fine, half, coarse, factor, betaFine: contrastOf(fine), betaCoarse: contrastOf(coarse), cells: null, beside: [] };
}

/** The cells of colour that there are in a frame. */
export function cellsIn(frame: PreparedFrame): Uint16Array {
  if (frame.cells) return frame.cells;
  const there = new Uint8Array(CELLS ** 3);
  for (const { cell } of [frame.fine, frame.coarse]) for (let i = 0; i < cell.length; i++) there[cell[i]] = 1;
  const cells = new Uint16Array(there.length);
  let count = 0;
  for (let k = 0; k < there.length; k++) if (there[k]) cells[count++] = k;
  frame.cells = cells.slice(0, count);
  return frame.cells;
}
