/** Attributes in the header of an OpenEXR file. Standard ones that an encoder left out go before its end, and what it says of places moves along. */
import type { Rate } from '../../core/time/rate.ts';
import { toTimecode } from '../../core/time/timecode.ts';
import { numberOf } from './delivered.ts';
import type { OutputTask } from './task.ts';

export interface FrameFacts {
  rate: Rate;
  /** "HH:MM:SS:FF". */
  timecode: string;
  /** Number of the frame, as in the name of its file. */
  frame: number;
}

/** What is known of a written frame. */
export function factsOf(task: OutputTask, frame: number): FrameFacts {
  const { rate, firstNumber } = task.document.plate;
  return { rate, timecode: toTimecode(frame + firstNumber, rate), frame: numberOf(task, frame) };
}

export function attribute(name: string, type: string, value: Buffer): Buffer {
  const size = Buffer.alloc(4);
  size.writeInt32LE(value.length);
  return Buffer.concat([Buffer.from(`${name}\0${type}\0`, 'latin1'), size, value]);
}

export const ints = (...values: number[]): Buffer => {
  const out = Buffer.alloc(4 * values.length);
  for (const [i, v] of values.entries()) out.writeUInt32LE(v, 4 * i);
  return out;
};

/** The flag of drop frame in a packed time. */
const DROP_FRAME = 0x40;

/** Time and frame as SMPTE 12M packs them, two decimal digits a byte: frames lowest. */
const packed = (timecode: string): number =>
  timecode
    .split(/[:;]/)
    .reverse()
    .reduce((sum, digits, i) => sum + ((Number(digits[0]) << 4) | Number(digits[1])) * 2 ** (8 * i), 0);

/** Where the header ends: the place of the empty name that closes it. */
function headerEnd(bytes: Buffer): { end: number; blocks: number } {
  let at = 8;
  let [lines, height] = [1, 0];
  while (bytes[at] !== 0) {
    const name = bytes.toString('latin1', at, bytes.indexOf(0, at));
    const type = bytes.indexOf(0, at + name.length + 1);
    const size = bytes.readInt32LE(type + 1);
    const value = type + 5;
    // Lines that are compressed together: none, RLE and ZIPS 1, ZIP 16 (OpenEXR file layout).
    if (name === 'compression') lines = bytes[value] === 3 ? 16 : 1;
    if (name === 'dataWindow') height = bytes.readInt32LE(value + 12) - bytes.readInt32LE(value + 4) + 1;
    at = value + size;
  }
  return { end: at, blocks: Math.ceil(height / lines) };
}

/** The attributes that say it. */
export const factAttributes = ({ rate, timecode, frame }: FrameFacts): Buffer =>
  Buffer.concat([
    attribute('framesPerSecond', 'rational', ints(rate.num, rate.den)),
    attribute('timeCode', 'timecode', ints(packed(timecode) + (timecode.includes(';') ? DROP_FRAME : 0), 0)),
    attribute('imageCounter', 'int', ints(frame)),
  ]);

/** @param bytes a file of scan lines, uncompressed or by ZIP */
export function withAttributes(bytes: Buffer, facts: FrameFacts): Buffer {
  const added = factAttributes(facts);
  const { end, blocks } = headerEnd(bytes);
  const out = Buffer.concat([bytes.subarray(0, end), added, bytes.subarray(end)]);
  const table = end + added.length + 1;
  for (let i = 0; i < blocks; i++) {
    const at = table + 8 * i;
    out.writeBigUInt64LE(out.readBigUInt64LE(at) + BigInt(added.length), at);
  }
  return out;
}
