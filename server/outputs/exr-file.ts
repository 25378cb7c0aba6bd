/** OpenEXR files of any number of named channels, which no encoder at hand writes: scan lines, compressed by ZIP (OpenEXR file layout, and its ZIP compression). */
import { deflateSync } from 'node:zlib';
import type { Size } from '../../core/image/picture.ts';
import { attribute, type FrameFacts, factAttributes, ints } from './exr-attributes.ts';

/** Numbers of 32 bits, as those of 16 (IEEE 754 binary16), rounded to the nearest, ties to even. */
function halfOf(value: number): number {
  const a = Math.abs(value);
  const sign = value < 0 ? 0x8000 : 0;
  if (a >= 65_520) return sign | 0x7c00;
  // Below the smallest number with a leading one, steps are all alike.
  const exponent = Math.max(-14, Math.floor(Math.log2(a || 2 ** -24)));
  const steps = a / 2 ** (exponent - 10);
  const low = Math.floor(steps);
  const rest = steps - low;
  const rounded = rest > 0.5 || (rest === 0.5 && low % 2 === 1) ? low + 1 : low;
  // A step beyond the highest goes over into the next exponent by itself.
  return sign | (exponent === -14 ? rounded : ((exponent + 14) << 10) + rounded);
}

/** Lines that are compressed together. */
const LINES = 16;
const ZIP = 3;

const floats = (...values: number[]): Buffer => Buffer.from(Float32Array.from(values).buffer);

/** Bytes as ZIP of OpenEXR has them: every second one first, then each as its difference from the one before. */
function packed(raw: Buffer): Buffer {
  const out = Buffer.alloc(raw.length);
  const half = (raw.length + 1) >> 1;
  for (let i = 0; i < raw.length; i++) out[(i & 1 ? half : 0) + (i >> 1)] = raw[i];
  for (let i = out.length - 1; i > 0; i--) out[i] = out[i] - out[i - 1] + 128;
  const small = deflateSync(out, { level: 4 });
  return small.length < raw.length ? small : raw;
}

/**
 * @param channels of the same size, their names of at most 31 letters
 * @param numbers of 16 or of 32 bits
 */
export function exrFile(
  { width, height }: Size,
  channels: readonly { name: string; data: Float32Array }[],
  numbers: 'half' | 'float',
  facts: FrameFacts,
): Buffer {
  const sorted = [...channels].sort((a, b) => (a.name < b.name ? -1 : 1));
  const bytes = numbers === 'half' ? 2 : 4;
  const list = sorted.map(({ name }) => Buffer.concat([Buffer.from(`${name}\0`, 'latin1'), ints(numbers === 'half' ? 1 : 2, 0, 1, 1)]));
  const box = ints(0, 0, width - 1, height - 1);
  const header = Buffer.concat([
    ints(20_000_630, 2),
    attribute('channels', 'chlist', Buffer.concat([...list, Buffer.of(0)])),
    attribute('compression', 'compression', Buffer.of(ZIP)),
    attribute('dataWindow', 'box2i', box),
    attribute('displayWindow', 'box2i', box),
    attribute('lineOrder', 'lineOrder', Buffer.of(0)),
    attribute('pixelAspectRatio', 'float', floats(1)),
    attribute('screenWindowCenter', 'v2f', floats(0, 0)),
    attribute('screenWindowWidth', 'float', floats(1)),
    factAttributes(facts),
    Buffer.of(0),
  ]);
  const blocks: Buffer[] = [];
  for (let top = 0; top < height; top += LINES) {
    const lines = Math.min(LINES, height - top);
    const raw = Buffer.alloc(lines * width * bytes * sorted.length);
    let o = 0;
    for (let y = top; y < top + lines; y++)
      for (const { data } of sorted)
        for (let x = 0; x < width; x++, o += bytes) {
          if (bytes === 2) raw.writeUInt16LE(halfOf(data[y * width + x]), o);
          else raw.writeFloatLE(data[y * width + x], o);
        }
    const small = packed(raw);
    blocks.push(Buffer.concat([ints(top, small.length), small]));
  }
  const table = Buffer.alloc(8 * blocks.length);
  let at = header.length + table.length;
  for (const [i, block] of blocks.entries()) {
    table.writeBigUInt64LE(BigInt(at), 8 * i);
    at += block.length;
  }
  return Buffer.concat([header, table, ...blocks]);
}
