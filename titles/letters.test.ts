import { readFile } from 'node:fs/promises';
import { fileURLToPath } from 'node:url';
import { describe, expect, it } from 'vitest';
import { corner, flatten } from '../core/path/path.ts';
import { shapesOf, typefaceFrom } from './letters.ts';

const read = async (file: string): Promise<ArrayBuffer> =>
  new Uint8Array(await readFile(fileURLToPath(import.meta.resolve(`@fontsource/hanken-grotesk/files/${file}`)))).buffer;
const { letters, missing } = typefaceFrom(read);

const area = (shape: Parameters<typeof flatten>[0]): number => {
  const p = flatten(shape, 100, 100);
  let sum = 0;
  for (let i = 0, j = p.length - 2; i < p.length; j = i, i += 2) sum += p[j] * p[i + 1] - p[i] * p[j + 1];
  return sum / 2 / 1e4;
};

describe('letters', () => {
  it('stand on their baseline, capitals about seven tenths high, holes the other way round', async () => {
    const { shapes } = await letters('HO', 'bold');
    const ys = shapes[0].flat().map((v) => v.y);
    expect([Math.min(...ys), Math.max(...ys)]).toEqual([expect.closeTo(-0.7, 1), 0]);
    expect(shapes[1]).toHaveLength(2);
    const [one, two] = shapes[1].map(area);
    expect(Math.sign(one)).toBe(-Math.sign(two));
  });

  it('are heavier in bold', async () => {
    const ink = async (weight: 'regular' | 'bold') => Math.abs((await letters('I', weight)).shapes[0].reduce((sum, s) => sum + area(s), 0));
    expect(await ink('bold')).toBeGreaterThan(1.3 * (await ink('regular')));
  });

  it('are kerned, and a space is as wide as a space', async () => {
    const [both, one] = [await letters('AV', 'bold'), await letters('A', 'bold')];
    expect(both.advances[0]).toBeLessThan(one.advances[0] - 0.03);
    const space = await letters(' ', 'bold');
    expect([space.shapes[0], space.advances[0] > 0.1]).toEqual([[], true]);
  });

  it('come with their marks, from other files where the first has none; what no file has is left out and told', async () => {
    expect((await letters('Łódź', 'regular')).shapes.every((s) => s.length > 0)).toBe(true);
    expect((await letters('水', 'regular')).shapes).toEqual([[]]);
    expect(await missing('Tide 水 Łódź 水')).toEqual(['水']);
  });

  it('of curves of the second degree are the same curves of the third', () => {
    const [shape] = shapesOf([{ type: 'M', x: 0, y: 0 }, { type: 'Q', x1: 3, y1: 6, x: 6, y: 0 }, { type: 'L', x: 0, y: 0 }, { type: 'Z' }]);
    expect(shape).toEqual([
      { ...corner(0, 0), outX: 2, outY: 4 },
      { ...corner(6, 0), inX: -2, inY: 4 },
    ]);
  });
});
