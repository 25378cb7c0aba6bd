/** What carrying knows about a frame, from which it can go on to the next; kept, it need not begin at its anchor again. */
import { z } from 'zod';
import type { Homography } from '../../math/homography.ts';
import type { SecondEstimate } from '../uncertainty/ensemble.ts';
import { REASONS, type Reason, type Uncertainty } from '../uncertainty/uncertainty.ts';
import { runLengthDecode, runLengthEncode } from './run-length.ts';

/** A frame on which the subject was in sight as a whole. */
export interface Seen {
  frame: number;
  mask: Uint8Array;
  /** Where the anchor's windows were: x and y of each; and those of the second carry. */
  centres: Float32Array;
  secondCentres: Float32Array;
  /** As that of the state. */
  back: Homography;
}

export interface PropagationState {
  /** 1 for the subject, at the size of the pictures. */
  mask: Uint8Array;
  /** 1 where the edge was called soft; null where nowhere. */
  zone: Uint8Array | null;
  /** Where the anchor's windows are: x and y of each. */
  centres: Float32Array;
  second: SecondEstimate;
  doubt: Uncertainty;
  /** Log of the odds that it is wrong, for the doubt of the next one; null where that was not told by measuring. */
  odds: number | null;
  /** Pixels that the subject had of late, slowly forgotten: by them it is told when hardly anything of it is left. */
  usual: number;
  /** Whether it is out of sight. */
  lost: boolean;
  /** The last frame on which it was in sight as a whole; null where that is this one. */
  seen: Seen | null;
  /** A frame since the anchor on which strokes have dropped something, after that: it is laid on those that follow in the anchor's place. */
  dropped: { frame: number; mask: Uint8Array } | null;
  /** The subject's motion as a whole, from here back to the frame that is laid on those that follow. */
  back: Homography;
  /** Its motion from the frame before to here, or the last that was told before it went out of sight; null where none was. */
  pace: Homography | null;
}

/** Keeps states of frames carried from an anchor, for one set of strokes and settings. */
export interface StateStore {
  /** Null where there is none. */
  get(anchor: number, frame: number): Promise<PropagationState | null>;
  put(anchor: number, frame: number, state: PropagationState): Promise<void>;
}

const VERSION = 6;

const count = z.number().int().min(0);
const homography = z.array(z.number()).length(9);

/** What stands before the parts: their lengths, and all that is not an array. */
const headerSchema = z.strictObject({
  version: z.literal(VERSION),
  size: count,
  secondSize: count,
  zone: z.boolean(),
  seen: z.strictObject({ frame: count, back: homography }).nullable(),
  dropped: z.strictObject({ frame: count }).nullable(),
  back: homography,
  pace: homography.nullable(),
  doubt: z.strictObject({ doubt: z.number(), reasons: z.array(z.enum(Object.keys(REASONS) as [Reason, ...Reason[]])), places: z.array(z.number()) }),
  odds: z.number().nullable(),
  usual: z.number(),
  lost: z.boolean(),
  parts: z.array(count).min(4).max(9),
});

/** A state as bytes: the length of a header, the header as JSON, and the parts whose lengths it holds. */
export function packState({ mask, zone, centres, second, doubt, odds, usual, lost, seen, dropped, back, pace }: PropagationState): Uint8Array {
  const floats = (f: Float32Array) => new Uint8Array(f.buffer, f.byteOffset, f.byteLength);
  const parts = [runLengthEncode(mask), runLengthEncode(second.mask), floats(centres), floats(second.centres)];
  if (zone) parts.push(runLengthEncode(zone));
  if (seen) parts.push(runLengthEncode(seen.mask), floats(seen.centres), floats(seen.secondCentres));
  if (dropped) parts.push(runLengthEncode(dropped.mask));
  const header = {
    version: VERSION,
    size: mask.length,
    secondSize: second.mask.length,
    zone: zone !== null,
    seen: seen && { frame: seen.frame, back: seen.back },
    dropped: dropped && { frame: dropped.frame },
    back,
    pace,
    doubt,
    odds,
    usual,
    lost,
  };
  const head = new TextEncoder().encode(JSON.stringify({ ...header, parts: parts.map((p) => p.length) }));
  const out = new Uint8Array(4 + head.length + parts.reduce((sum, p) => sum + p.length, 0));
  new DataView(out.buffer).setUint32(0, head.length, true);
  out.set(head, 4);
  let at = 4 + head.length;
  for (const part of parts) {
    out.set(part, at);
    at += part.length;
  }
  return out;
}

/** The state again; throws where the bytes are not those of one, or of one of another version. */
export function unpackState(bytes: Uint8Array): PropagationState {
  const length = new DataView(bytes.buffer, bytes.byteOffset, 4).getUint32(0, true);
  const head = headerSchema.parse(JSON.parse(new TextDecoder().decode(bytes.subarray(4, 4 + length))));
  let at = 4 + length;
  const parts = head.parts.map((n) => {
    const part = bytes.slice(at, at + n);
    at += n;
    if (part.length !== n) throw new RangeError('A kept state was cut off.');
    return part;
  });
  const floats = (p: Uint8Array) => new Float32Array(p.buffer, 0, p.length >> 2);
  const [mask, second, centres, secondCentres] = parts;
  const rest = parts.slice(4);
  const zone = head.zone ? runLengthDecode(rest.shift() as Uint8Array, head.size) : null;
  const [seenMask, seenPlaces, seenSecond] = head.seen ? rest.splice(0, 3) : [];
  const seen = head.seen && { ...head.seen, mask: runLengthDecode(seenMask, head.size), centres: floats(seenPlaces), secondCentres: floats(seenSecond) };
  const dropped = head.dropped && { ...head.dropped, mask: runLengthDecode(rest[0], head.size) };
  return {
    mask: runLengthDecode(mask, head.size),
    zone,
    centres: floats(centres),
    second: { mask: runLengthDecode(second, head.secondSize), centres: floats(secondCentres) },
    doubt: head.doubt,
    odds: head.odds,
    usual: head.usual,
    lost: head.lost,
    seen,
    dropped,
    back: head.back,
    pace: head.pace,
  };
}

/** States in memory, packed. */
export class StatesInMemory implements StateStore {
  private readonly kept = new Map<string, Uint8Array>();
  async get(anchor: number, frame: number): Promise<PropagationState | null> {
    const bytes = this.kept.get(`${anchor}/${frame}`);
    return bytes ? unpackState(bytes) : null;
  }
  async put(anchor: number, frame: number, state: PropagationState): Promise<void> {
    this.kept.set(`${anchor}/${frame}`, packState(state));
  }
}
