/** Letters of titles as curves, from the typeface that ships with Mottrel: the same in the page and on the server. */
import { type Command, type Font, type Glyph, parse } from 'opentype.js/dist/opentype.mjs';
import type { Letters, Weight } from '../core/matte/sources.ts';
import { corner, type Shape, type Vertex } from '../core/path/path.ts';

/** The files of a weight: each holds letters that the others may not. The first is asked first. */
const SUBSETS = ['latin', 'latin-ext', 'vietnamese'] as const;
export type Subset = (typeof SUBSETS)[number];
const NUMBERS: Record<Weight, 400 | 700> = { regular: 400, bold: 700 };

/** The file of a subset, as it is named in its package. */
export const fileName = (subset: Subset, weight: Weight): string => `hanken-grotesk-${subset}-${NUMBERS[weight]}-normal.woff`;

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

/** Gives letters, with the files that `read` brings. A letter that none of them has is left out, as wide as a space. */
export function lettersFrom(read: (file: string) => Promise<ArrayBuffer>): (line: string, weight: Weight) => Promise<Letters> {
  const fonts = new Map<string, Promise<Font>>();
  const fontOf = (subset: Subset, weight: Weight): Promise<Font> => {
    const file = fileName(subset, weight);
    let font = fonts.get(file);
    if (!font) {
      font = read(file).then(parse);
      // What could not be read is asked for again the next time.
      font.catch(() => fonts.delete(file));
      fonts.set(file, font);
    }
    return font;
  };
  const glyphOf = async (letter: string, weight: Weight): Promise<{ glyph: Glyph; font: Font } | null> => {
    for (const subset of SUBSETS) {
      const font = await fontOf(subset, weight);
      if (font.charToGlyphIndex(letter) > 0) return { glyph: font.charToGlyph(letter), font };
    }
    return null;
  };
  return async (line, weight) => {
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
}

/** Gives the letters of a text that none of the files has. */
export function missingFrom(read: (file: string) => Promise<ArrayBuffer>): (words: string) => Promise<string[]> {
  return async (words) => {
    const fonts = await Promise.all(SUBSETS.map(async (subset) => parse(await read(fileName(subset, 'regular')))));
    const letters = [...new Set(words.normalize('NFC').replace(/\s/g, ''))];
    return letters.filter((letter) => fonts.every((font) => font.charToGlyphIndex(letter) === 0));
  };
}
