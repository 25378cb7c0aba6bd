/** EXR files of several channels, read back by another reader than the one that wrote them. */
import { execFileSync } from 'node:child_process';
import { mkdtempSync, writeFileSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { describe, expect, it } from 'vitest';
import { randomFrom } from '../../core/math/random.ts';
import { exrFile } from './exr-file.ts';

const folder = mkdtempSync(path.join(os.tmpdir(), 'mottrel-exr-'));

const FACTS = { rate: { num: 24, den: 1 }, timecode: '00:00:01:00', frame: 24 };

/** One layer as ffmpeg reads it. */
function layer(file: string, name: string): Float32Array {
  const bytes = execFileSync('ffmpeg', ['-v', 'error', '-layer', name, '-i', file, '-f', 'rawvideo', '-pix_fmt', 'grayf32le', '-'], { maxBuffer: 1 << 26 });
  return new Float32Array(bytes.buffer.slice(bytes.byteOffset, bytes.byteOffset + bytes.length));
}

describe.each(['half', 'float'] as const)('a file of %s numbers', (numbers) => {
  // Smooth and noisy, with the ends of what a matte can be; heights that do not divide into blocks.
  it.each([
    [33, 37],
    [161, 91],
    [16, 16],
    [1, 1],
  ])('of %ix%i gives each layer back, whatever the order of their names', (width, height) => {
    const random = randomFrom(width);
    const channels = ['tern', 'Courier', 'crate-2'].map((name, c) => ({
      name: `${name}.Y`,
      data: Float32Array.from({ length: width * height }, (_, i) => (i % 7 === 0 ? i % 2 : c === 0 ? (i % width) / width : random())),
    }));
    const file = path.join(folder, `${numbers}-${width}.exr`);
    writeFileSync(file, exrFile({ width, height }, channels, numbers, FACTS));
    for (const { name, data } of channels) {
      const read = layer(file, name.slice(0, -2));
      expect(read).toHaveLength(data.length);
      // Ten bits after the leading one.
      const within = numbers === 'half' ? 2 ** -12 : 0;
      for (let i = 0; i < data.length; i++) expect(Math.abs(read[i] - data[i])).toBeLessThanOrEqual(within);
    }
  });
});

it('half numbers are the nearest there are', () => {
  // Smallest steps, ties, the largest, and beyond.
  const values = [0, 1, 0.5, -2, 2 ** -24, 2 ** -25, 2 ** -14, 1 + 2 ** -11, 1 + 3 * 2 ** -11, 65_504, 65_519, 1e-9, 0.1];
  const expected = [0, 1, 0.5, -2, 2 ** -24, 0, 2 ** -14, 1, 1 + 2 ** -9, 65_504, 65_504, 0, 0.0999755859375];
  const file = path.join(folder, 'values.exr');
  writeFileSync(file, exrFile({ width: values.length, height: 1 }, [{ name: 'v.Y', data: Float32Array.from(values) }], 'half', FACTS));
  expect([...layer(file, 'v')]).toEqual(expected);
});
