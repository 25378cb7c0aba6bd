/** How likely a carried frame is wrong, from what was measured while it was carried, and why, in words for the artist. */
import type { CarrySignals } from './carry.ts';

export const REASONS = {
  'similar-colours': 'the edge runs through similar colours',
  'moved-far': 'moved further than it could be followed',
  'far-from-anchor': 'far from any painted frame',
  vanished: 'vanished behind something or out of the picture',
} as const;
export type Reason = keyof typeof REASONS;

export interface Doubt {
  /** 0 to 100. */
  doubt: number;
  reasons: Reason[];
}

/** Frames after which a frame counts as far from its anchor. */
const FAR_FRAMES = 24;
const ALIKE = 0.14;
const MOVED = 1.8;
/** What was changed on one frame weighs on those carried from it, less with every frame. */
const MEMORY = 0.95;

/** Sum of all change since the anchor, faded. */
export const changeSoFar = (before: number, { change }: CarrySignals): number => MEMORY * before + change;

/**
 * A logistic model of "the boundary's F at 3 pixels is below 0.9" on how often the colour models were wrong on the anchor and
 * on the change so far. It tells hard shots from easy ones; within a shot it is no guide yet to the worst frame
 * (docs/quality.md).
 */
export function doubtOf(signals: CarrySignals, soFar: number, fromAnchor: number): Doubt {
  if (signals.area === 0) return { doubt: 100, reasons: ['vanished'] };
  const confusion = (Math.log(signals.confusion + 0.001) + 2.91) / 0.72;
  const changed = (Math.log(soFar + 0.001) - 2.28) / 0.78;
  const p = 1 / (1 + Math.exp(-(0.49 + 2.96 * confusion + 1.84 * changed)));
  const reasons: Reason[] = [];
  if (signals.confusion > ALIKE) reasons.push('similar-colours');
  if (signals.change > MOVED) reasons.push('moved-far');
  if (fromAnchor > FAR_FRAMES) reasons.push('far-from-anchor');
  return { doubt: Math.round(100 * p), reasons };
}
