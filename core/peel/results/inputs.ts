/** What a Peel is found from, which of it decides each frame, and a name for that, under which results are kept. */
import { sha256 } from '@noble/hashes/sha2.js';
import { bytesToHex, utf8ToBytes } from '@noble/hashes/utils.js';
import type { FrameRange } from '../../time/ranges.ts';
import { CUT_SETTINGS, type PeelSettings, PROPAGATION_SETTINGS, type Quality } from '../settings.ts';
import { allAnchors, anchorsIn, decidingBefore } from '../strokes/anchors.ts';
import { neighbours } from '../strokes/plan.ts';
import { type FrameStroke, startsFrom } from '../strokes/strokes.ts';

/** Raised when the same strokes come to give another result, so that what was kept before is not taken for it. */
const METHOD = 16;

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
  /** Frames whose result stays as it was found once, and the name it is kept under. */
  held: readonly { frame: number; key: string }[];
  /** All that says where the fence is on every frame, outside of which nothing belongs to the subject; null where there is none. */
  fencing: string | null;
}

type FrozenResult = PeelInputs['held'][number];

/** What is painted, but for what is on held frames that carrying starts from. */
export const paintedOf = (inputs: PeelInputs): FrameStroke[] => paintedBeside(inputs, startingFrozen(inputs));

function paintedBeside({ strokes }: PeelInputs, held: readonly FrozenResult[]): FrameStroke[] {
  const holding = new Set(held.map((h) => h.frame));
  return strokes.filter((s) => s.enabled && !holding.has(s.frame));
}

/** Frames from which carrying starts, rising: those that are cut or mended, and held ones that would be found otherwise by now. */
export const anchorsOf = (inputs: PeelInputs): readonly number[] => namesFor(inputs).anchors;

/** Frames on which strokes mend what is carried there, in the order in which they were first painted on. */
export const mendsOf = (inputs: PeelInputs): readonly number[] => namesFor(inputs).mends;

/** What decides that which the strokes of a frame mend: a Peel as it was before this frame was painted on. */
export function inputsBefore(inputs: PeelInputs, frame: number): PeelInputs {
  const { strokes, given } = namesFor(inputs).before(frame);
  return { ...inputs, held: given, strokes: strokes.map((s) => ({ ...s, enabled: true })) };
}

/** Whether there is any frame from which carrying starts. */
export const startsSomewhere = ({ strokes, held }: Pick<PeelInputs, 'strokes' | 'held'>): boolean =>
  held.length > 0 || strokes.some((s) => s.enabled && startsFrom(s));

const startingOf = new WeakMap<readonly FrozenResult[], WeakMap<object, readonly FrozenResult[]>>();

/**
 * The held frames that carrying starts from: those that would by now be found otherwise. One that is as it would be found anyway
 * changes nothing for the others, so holding it leaves them as they are.
 */
export function startingFrozen(inputs: PeelInputs): readonly FrozenResult[] {
  const { held } = inputs;
  if (held.length === 0) return held;
  const known = startingOf.get(held) ?? new WeakMap();
  startingOf.set(held, known);
  let starting: readonly FrozenResult[] | undefined = known.get(inputs);
  if (starting) return starting;
  const natural = (others: readonly FrozenResult[]) => namesBeside(inputs, others).ofFrame;
  const asFound = natural([]);
  starting = held.filter((h) => asFound(h.frame) !== h.key);
  // One that was found from another that starts is as it would be found, too.
  for (const h of starting) {
    const others: readonly FrozenResult[] = starting.filter((o) => o !== h);
    if (natural(others)(h.frame) === h.key) starting = others;
  }
  known.set(inputs, starting);
  return starting;
}

export const peelSettings = ({ look, smoothness, separatePieces, specks, holes }: PeelControls): PeelSettings => ({
  cut: { ...CUT_SETTINGS, smoothness: CUT_SETTINGS.smoothness * smoothness, separatePieces },
  carry: { ...PROPAGATION_SETTINGS, band: look, smoothness: PROPAGATION_SETTINGS.smoothness * smoothness, separatePieces, pieces: specks, holes },
});

/** Where carrying starts, and names for what decides frames, by the strokes that count and the held frames that it starts from. */
interface Names {
  anchors: readonly number[];
  mends: readonly number[];
  /** What decides that which the strokes of a frame mend. */
  before(frame: number): { strokes: FrameStroke[]; given: readonly FrozenResult[] };
  /** For what a Peel says on a range of frames. Ranges on which it says the same are named once. */
  ofRange(first: number, last: number): string;
  /** For what decides a frame; null where there is no anchor. */
  ofFrame(frame: number): string | null;
}

/** @param mended names for what the strokes of frames mend, which are the same whatever was painted after them */
function namesOf(inputs: PeelInputs, strokes: readonly FrameStroke[], starting: readonly FrozenResult[], mended = new Map<number, string | null>()): Names {
  const controls = CONTROLS.map((c) => inputs[c]);
  const given = starting.map((h) => h.frame);
  const plan = anchorsIn(strokes, given);
  const anchors = allAnchors(plan, given);
  const before = (frame: number) => decidingBefore(strokes, starting, plan, frame);
  const nameOfMended = (frame: number): string | null => {
    const known = mended.get(frame);
    if (known !== undefined) return known;
    const { strokes: painted, given: held } = before(frame);
    const name = namesOf(inputs, painted, held, mended).ofFrame(frame);
    mended.set(frame, name);
    return name;
  };
  const names = new Map<string, string>();
  const ofRange = (first: number, last: number): string => {
    const deciding = strokes.flatMap((s, i) => (s.frame >= first && s.frame <= last ? [i] : []));
    const hidden = inputs.hidden.filter((r) => r.last >= first && r.first <= last).map((r) => [Math.max(first, r.first), Math.min(last, r.last)]);
    const held = starting.filter((h) => h.frame >= first && h.frame <= last);
    const which = JSON.stringify([deciding, hidden, held]);
    let name = names.get(which);
    if (!name) {
      const told = deciding.map((i) => [strokes[i].frame, strokes[i].kind, strokes[i].radius, strokes[i].points, strokes[i].pressures ?? 0]);
      const onto = plan.mends.filter((m) => m >= first && m <= last).map((m) => [m, nameOfMended(m)]);
      const all = JSON.stringify([METHOD, controls, hidden, told, held.map((h) => [h.frame, h.key]), inputs.fencing ?? 0, ...(onto.length > 0 ? [onto] : [])]);
      name = bytesToHex(sha256(utf8ToBytes(all))).slice(0, 32);
      names.set(which, name);
    }
    return name;
  };
  const ofFrame = (frame: number): string | null => {
    const { from, to } = neighbours(anchors, frame);
    return from === undefined && to === undefined ? null : ofRange(from ?? frame, to ?? frame);
  };
  return { anchors, mends: plan.mends, before, ofRange, ofFrame };
}

const namesBeside = (inputs: PeelInputs, starting: readonly FrozenResult[]): Names => namesOf(inputs, paintedBeside(inputs, starting), starting);

const namesKnown = new WeakMap<PeelInputs, Names>();

/** The names of a Peel as it is; made once, since what is mended is named by all that was painted before it. */
function namesFor(inputs: PeelInputs): Names {
  const names = namesKnown.get(inputs) ?? namesBeside(inputs, startingFrozen(inputs));
  namesKnown.set(inputs, names);
  return names;
}

/** Gives names for what decides a frame: as long as the name is the same, so is the result. Null where there is no anchor. */
export function peelKeys(inputs: PeelInputs): (frame: number) => string | null {
  const held = new Map(inputs.held.map((h) => [h.frame, h.key]));
  const { ofFrame } = namesFor(inputs);
  return (frame) => held.get(frame) ?? ofFrame(frame);
}

/** Gives names for what decides what is known of a frame that was carried from an anchor one way. */
export function stateKeys(inputs: PeelInputs): (anchor: number, frame: number) => string {
  const { ofRange } = namesFor(inputs);
  return (anchor, frame) => ofRange(Math.min(anchor, frame), Math.max(anchor, frame));
}

function addKeys(inputs: PeelInputs, first: number, last: number, used: Set<string>): void {
  const anchors = anchorsOf(inputs);
  const [keyOf, stateKeyOf] = [peelKeys(inputs), stateKeys(inputs)];
  for (let frame = first; frame <= last; frame++) {
    const key = keyOf(frame);
    if (!key) break;
    used.add(key);
    const { from, to } = neighbours(anchors, frame);
    for (const anchor of [from, to]) if (anchor !== undefined) used.add(stateKeyOf(anchor, frame));
  }
}

/** All names under which something of these inputs may be kept for the frames of a shot. */
export function keysInUse(inputs: PeelInputs, frames: number): Set<string> {
  const used = new Set<string>();
  addKeys(inputs, 0, frames - 1, used);
  for (const frame of mendsOf(inputs)) addKeys(inputsBefore(inputs, frame), frame, frame, used);
  return used;
}
