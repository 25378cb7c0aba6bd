/** Letters of titles as curves, from the typeface that ships with Mottrel: the same in the page and on the server. */

import { LRUCache } from 'lru-cache';
import { type Command, type Font, type Glyph, parse } from 'opentype.js/dist/opentype.mjs';
import { memoisedPromise } from '../core/math/memo.ts';
import { type Letters, WEIGHTS, type Weight } from '../core/matte/sources.ts';
import { corner, type Shape, type Vertex } from '../core/path/path.ts';

/** The files of a weight: each holds letters that the others may not. The first is asked first. */
const SUBSETS = ['latin', 'latin-ext', 'vietnamese'] as const;
type Subset = (typeof SUBSETS)[number];
const NUMBERS: Record<Weight, 400 | 700> = { regular: 400, bold: 700 };

/** The file of a subset, as it is named in its package. */
const fileName = (subset: Subset, weight: Weight): string => `hanken-grotesk-${subset}-${NUMBERS[weight]}-normal.woff`;

/** Closed curves of a letter, quadratic ones told as cubic ones. */
export function shapesOf(commands: readonly Command[]): Shape[] {
  const shapes: Shape[] = [];
  let shape: Vertex[] = [];
  const end = () => {
    // What ends where it began has one point too many; the last handle is that of the first.
    const [first, last] = [shape[0], shape[shape.length - 1]];
    if (shape.length > 1 && Math.hypot(first.x - last.x, first.y - last.y) < 1e-6) {
      shape.pop();
      shape[0] = { ...first, inX: last.inX, inY: last.inY };
    }
    if (shape.length > 1) shapes.push(shape);
    shape = [];
  };
  const curveTo = (ax: number, ay: number, bx: number, by: number, x: number, y: number) => {
    const from = shape[shape.length - 1];
    shape[shape.length - 1] = { ...from, outX: ax - from.x, outY: ay - from.y };
    shape.push({ ...corner(x, y), inX: bx - x, inY: by - y });
  };
  for (const c of commands) {
    if (c.type === 'M') {
      end();
      shape.push(corner(c.x, c.y));
    } else if (c.type === 'L') shape.push(corner(c.x, c.y));
    else if (c.type === 'C') curveTo(c.x1, c.y1, c.x2, c.y2, c.x, c.y);
    else if (c.type === 'Q') {
      const from = shape[shape.length - 1];
      const third = (p: number, q: number) => p + (2 / 3) * (q - p);
      curveTo(third(from.x, c.x1), third(from.y, c.y1), third(c.x, c.x1), third(c.y, c.y1), c.x, c.y);
    }
  }
  end();
  return shapes;
}

/** Lines kept: a title asks for its own again and again, on every frame. */
const KEPT = 64;

export interface Typeface {
  /** A letter that no file has is left out, as wide as a space. */
  letters(line: string, weight: Weight): Promise<Letters>;
  /** The letters of a text that no file has. */
  missing(words: string): Promise<string[]>;
}

/** The typeface whose files `read` brings, each once. */
export function typefaceFrom(read: (file: string) => Promise<ArrayBuffer>): Typeface {
  const fonts = new LRUCache<string, Promise<Font>>({ max: SUBSETS.length * WEIGHTS.length });
  const lines = new LRUCache<string, Promise<Letters>>({ max: KEPT });
  const glyphOf = async (letter: string, weight: Weight): Promise<{ glyph: Glyph; font: Font } | null> => {
    for (const subset of SUBSETS) {
      const file = fileName(subset, weight);
      const font = await memoisedPromise(fonts, file, () => read(file).then(parse));
      if (font.charToGlyphIndex(letter) > 0) return { glyph: font.charToGlyph(letter), font };
    }
    return null;
  };
  const set = async (line: string, weight: Weight): Promise<Letters> => {
    const letters: Letters = { shapes: [], advances: [] };
    let before: { glyph: Glyph; font: Font } | null = null;
    for (const letter of line.normalize('NFC')) {
      const found = (await glyphOf(letter, weight)) ?? (await glyphOf(' ', weight));
      if (!found) continue;
      const { glyph, font } = found;
      const last = letters.advances.length - 1;
      if (before && before.font === font) letters.advances[last] += font.getKerningValue(before.glyph, glyph) / font.unitsPerEm;
      letters.shapes.push(shapesOf(glyph.getPath(0, 0, 1).commands));
      letters.advances.push(glyph.advanceWidth / font.unitsPerEm);
      before = found;
    }
    return letters;
  };
  return {
    letters: (line, weight) => memoisedPromise(lines, `${weight} ${line}`, () => set(line, weight)),
    async missing(words) {
      const letters = [...new Set(words.normalize('NFC').replace(/\s/g, ''))];
      const found = await Promise.all(letters.map((letter) => glyphOf(letter, 'regular')));
      return letters.filter((_, i) => found[i] === null);
    },
  };
}
