/** What a Peel is found from, which of it decides each frame, and a name for that, under which results are kept. */
import { sha256 } from '@noble/hashes/sha2.js';
import { bytesToHex, utf8ToBytes } from '@noble/hashes/utils.js';
import type { FrameRange } from '../time/ranges.ts';
import type { FrameStroke } from './peel-shot.ts';
import { neighbours } from './plan.ts';
import { CARRY_SETTINGS, CUT_SETTINGS, type PeelSettings, type Quality } from './settings.ts';

/** Raised when the same strokes come to give another result, so that what was kept before is not taken for it. */
const METHOD = 2;

/** The settings of a Peel that decide what is found. */
export interface PeelControls {
  /** A draft looks at pictures of half the size of the proxy, and is not made finer at the size of the plate. */
  quality: Quality;
  /** Pixels from the expected edge within which a carried edge is looked for. */
  look: number;
  /** Cost of a boundary where the picture shows no edge, against the usual one. */
  smoothness: number;
  /** Pieces that hold no keep stroke may stay. */
  separatePieces: boolean;
  /** Pieces, and holes, of fewer pixels of the proxy are left out. */
  specks: number;
  holes: number;
}
export const CONTROLS = ['quality', 'look', 'smoothness', 'separatePieces', 'specks', 'holes'] as const satisfies (keyof PeelControls)[];

export interface PeelInputs extends PeelControls {
  strokes: readonly (FrameStroke & { enabled: boolean })[];
  /** Frames on which the subject is out of sight. */
  hidden: readonly FrameRange[];
  /** Frames whose result stays as it was found once, and the name it is kept under. What is painted on them counts for nothing. */
  held: readonly { frame: number; key: string }[];
}

/** What is painted and counts. */
export function paintedOf({ strokes, held }: PeelInputs): FrameStroke[] {
  const holding = new Set(held.map((h) => h.frame));
  return strokes.filter((s) => s.enabled && !holding.has(s.frame));
}

/** Frames from which carrying starts, rising: those on which something is kept, and those that are held. */
export const anchorsOf = (inputs: PeelInputs): number[] => {
  const kept = paintedOf(inputs).filter((s) => s.kind === 'keep');
  return [...new Set([...kept, ...inputs.held].map((s) => s.frame))].sort((a, b) => a - b);
};

export const peelSettings = ({ look, smoothness, separatePieces, specks, holes }: PeelControls): PeelSettings => ({
  cut: { ...CUT_SETTINGS, smoothness: CUT_SETTINGS.smoothness * smoothness, separatePieces },
  carry: { ...CARRY_SETTINGS, band: look, smoothness: CARRY_SETTINGS.smoothness * smoothness, pieces: specks, holes },
});

/** Gives names for what a Peel says on a range of frames. Ranges on which it says the same are named once. */
function namesOf(inputs: PeelInputs): (first: number, last: number) => string {
  const strokes = paintedOf(inputs);
  const controls = CONTROLS.map((c) => inputs[c]);
  const names = new Map<string, string>();
  return (first, last) => {
    const deciding = strokes.flatMap((s, i) => (s.frame >= first && s.frame <= last ? [i] : []));
    const hidden = inputs.hidden.filter((r) => r.last >= first && r.first <= last).map((r) => [Math.max(first, r.first), Math.min(last, r.last)]);
    const held = inputs.held.filter((h) => h.frame >= first && h.frame <= last);
    const which = JSON.stringify([deciding, hidden, held]);
    let name = names.get(which);
    if (!name) {
      const told = deciding.map((i) => [strokes[i].frame, strokes[i].kind, strokes[i].radius, strokes[i].points, strokes[i].pressures ?? 0]);
      name = bytesToHex(sha256(utf8ToBytes(JSON.stringify([METHOD, controls, hidden, told, held.map((h) => [h.frame, h.key])])))).slice(0, 32);
      names.set(which, name);
    }
    return name;
  };
}

/** The frames whose strokes decide a frame, first and last; null where there is no anchor. */
function decidingRange(anchors: readonly number[], frame: number): FrameRange | null {
  const { from, to } = neighbours(anchors, frame);
  return from === undefined && to === undefined ? null : { first: from ?? frame, last: to ?? frame };
}

/** Gives names for what decides a frame: as long as the name is the same, so is the result. Null where there is no anchor. */
export function peelKeys(inputs: PeelInputs): (frame: number) => string | null {
  const anchors = anchorsOf(inputs);
  const nameOf = namesOf(inputs);
  const held = new Map(inputs.held.map((h) => [h.frame, h.key]));
  return (frame) => {
    const own = held.get(frame);
    if (own) return own;
    const range = decidingRange(anchors, frame);
    return range && nameOf(range.first, range.last);
  };
}

/** Gives names for what decides what is known of a frame that was carried from an anchor one way. */
export function stateKeys(inputs: PeelInputs): (anchor: number, frame: number) => string {
  const nameOf = namesOf(inputs);
  return (anchor, frame) => nameOf(Math.min(anchor, frame), Math.max(anchor, frame));
}

/** All names under which something of these inputs may be kept for the frames of a shot. */
export function keysInUse(inputs: PeelInputs, frames: number): Set<string> {
  const anchors = anchorsOf(inputs);
  const [keyOf, stateKeyOf] = [peelKeys(inputs), stateKeys(inputs)];
  const used = new Set<string>();
  for (let frame = 0; frame < frames; frame++) {
    const key = keyOf(frame);
    if (!key) break;
    used.add(key);
    const { from, to } = neighbours(anchors, frame);
    for (const anchor of [from, to]) if (anchor !== undefined) used.add(stateKeyOf(anchor, frame));
  }
  return used;
}

const END = Number.MAX_SAFE_INTEGER;

/** Frames, first and last, that what is painted on `frame` decides; null where it decides none. */
export function decidedBy(inputs: PeelInputs, frame: number): FrameRange | null {
  if (inputs.held.some((h) => h.frame === frame)) return null;
  const anchors = anchorsOf(inputs);
  const { from, to } = neighbours(anchors, frame);
  if (from === undefined && to === undefined) return null;
  if (from === to) {
    const i = anchors.indexOf(frame);
    return { first: i === 0 ? 0 : anchors[i - 1] + 1, last: i === anchors.length - 1 ? END : anchors[i + 1] - 1 };
  }
  if (from === undefined) return { first: 0, last: frame };
  return { first: to === undefined ? frame : from + 1, last: to === undefined ? END : to - 1 };
}
