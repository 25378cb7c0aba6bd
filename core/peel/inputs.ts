/** What a Peel is found from, which of it decides each frame, and a name for that, under which results are kept. */
import { sha256 } from '@noble/hashes/sha2.js';
import { bytesToHex, utf8ToBytes } from '@noble/hashes/utils.js';
import type { FrameStroke } from './peel-shot.ts';
import { nearestAnchor } from './plan.ts';
import { CARRY_SETTINGS, CUT_SETTINGS, type PeelSettings } from './settings.ts';

/** Raised when the same strokes come to give another result, so that what was kept before is not taken for it. */
const METHOD = 1;

export interface PeelInputs {
  strokes: readonly (FrameStroke & { enabled: boolean })[];
  /** Pixels from the expected edge within which a carried edge is looked for. */
  look: number;
  /** Cost of a boundary where the picture shows no edge, against the usual one. */
  smoothness: number;
  /** Pieces that hold no keep stroke may stay. */
  separatePieces: boolean;
}

const enabledOf = ({ strokes }: PeelInputs): FrameStroke[] => strokes.filter((s) => s.enabled);

/** Frames on which something is kept, rising: carrying starts from them. */
export const anchorsOf = ({ strokes }: PeelInputs): number[] =>
  [...new Set(strokes.filter((s) => s.enabled && s.kind === 'keep').map((s) => s.frame))].sort((a, b) => a - b);

export const peelSettings = ({ look, smoothness, separatePieces }: PeelInputs): PeelSettings => ({
  cut: { ...CUT_SETTINGS, smoothness: CUT_SETTINGS.smoothness * smoothness, separatePieces },
  carry: { ...CARRY_SETTINGS, band: look, smoothness: CARRY_SETTINGS.smoothness * smoothness },
});

/**
 * Gives names for what decides a frame: as long as the name is the same, so is the result. Null where there is no anchor. Frames
 * that the same strokes decide are named once.
 */
export function peelKeys(inputs: PeelInputs): (frame: number) => string | null {
  const anchors = anchorsOf(inputs);
  const strokes = enabledOf(inputs);
  const { look, smoothness, separatePieces } = inputs;
  const names = new Map<string, string>();
  return (frame) => {
    const anchor = nearestAnchor(anchors, frame);
    if (anchor === undefined) return null;
    const [first, last] = [Math.min(anchor, frame), Math.max(anchor, frame)];
    const deciding = strokes.flatMap((s, i) => (s.frame >= first && s.frame <= last ? [i] : []));
    const which = deciding.join();
    let name = names.get(which);
    if (!name) {
      const told = deciding.map((i) => [strokes[i].frame, strokes[i].kind, strokes[i].radius, strokes[i].points]);
      name = bytesToHex(sha256(utf8ToBytes(JSON.stringify([METHOD, look, smoothness, separatePieces, told])))).slice(0, 32);
      names.set(which, name);
    }
    return name;
  };
}

/** Frames, first and last, that what is painted on `frame` decides; null where it decides none. */
export function decidedBy(inputs: PeelInputs, frame: number): { first: number; last: number } | null {
  const anchors = anchorsOf(inputs);
  const anchor = nearestAnchor(anchors, frame);
  if (anchor === undefined) return null;
  const i = anchors.indexOf(anchor);
  const first = i === 0 ? 0 : Math.floor((anchors[i - 1] + anchor) / 2) + 1;
  const last = i === anchors.length - 1 ? Number.MAX_SAFE_INTEGER : Math.floor((anchor + anchors[i + 1]) / 2);
  if (frame === anchor) return { first, last };
  return frame > anchor ? { first: frame, last } : { first, last: frame };
}
