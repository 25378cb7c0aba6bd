/** Frames between two anchors: what was carried from both sides becomes one. */
import { clamp, smoothstep } from '../../math/clamp.ts';
import { boxRound, cropMask, paste } from '../picture/crop.ts';
import { either, union } from '../picture/masks.ts';
import { maskDistance } from '../picture/signed-distance.ts';
import type { PropagationState } from '../results/propagation-state.ts';
import { agreementOf, type Uncertainty } from '../uncertainty/uncertainty.ts';

/** Pixels of distance from an edge beyond which all is alike. */
const FAR = 12;
/** The part of the way between two anchors, from its middle on each side, on which both count. */
const BOTH = 1 / 6;
/** Agreement of the two sides below which it is told as a reason. */
const PARTED = 0.9;

/** How much the later of two anchors counts on a frame between them: 0 near the earlier, 1 near the later, a soft step between. */
export function shareOfLater(from: number, to: number, frame: number): number {
  const t = clamp(((frame - from) / (to - from) - (0.5 - BOTH)) / (2 * BOTH), 0, 1);
  return smoothstep(t);
}

/** The mask halfway between two, `share` of the way from `a` to `b`, by the distances from their edges. */
function maskBetween(a: Uint8Array, b: Uint8Array, share: number, width: number, height: number): Uint8Array {
  const out = new Uint8Array(a.length);
  const box = boxRound(either(a, b), width, height, 2);
  if (!box) return out;
  const [p, q] = [a, b].map((m) => maskDistance(cropMask(m, width, box), box.width, box.height, FAR));
  const part = new Uint8Array(p.length);
  for (let i = 0; i < part.length; i++) part[i] = (1 - share) * p[i] + share * q[i] > 0 ? 1 : 0;
  paste(out, width, part, box);
  return out;
}

export interface Joined {
  mask: Uint8Array;
  zone: Uint8Array | null;
  doubt: Uncertainty;
}

/** What two sides come to together. Where only one of them has the subject in sight, it is believed. */
export function joined(earlier: PropagationState, later: PropagationState, share: number, { width, height }: { width: number; height: number }): Joined {
  if (share === 0 || later.lost) return earlier;
  if (share === 1 || earlier.lost) return later;
  const mask = maskBetween(earlier.mask, later.mask, share, width, height);
  const { agreement, places } = agreementOf(earlier.mask, later.mask, width, height);
  const [a, b] = [earlier.doubt, later.doubt];
  const reasons = [...new Set([...(agreement < PARTED ? (['two-sides'] as const) : []), ...a.reasons, ...b.reasons])];
  const doubt = Math.round(a.doubt + (b.doubt - a.doubt) * share);
  return { mask, zone: union(earlier.zone, later.zone), doubt: { doubt, reasons, places: places.length > 0 ? places : share < 0.5 ? a.places : b.places } };
}
