/** The little that is used of the package, which has no types of its own. */
declare module 'opentype.js/dist/opentype.mjs' {
  export type Command =
    | { type: 'M' | 'L'; x: number; y: number }
    | { type: 'Q'; x1: number; y1: number; x: number; y: number }
    | { type: 'C'; x1: number; y1: number; x2: number; y2: number; x: number; y: number }
    | { type: 'Z' };
  export interface Glyph {
    advanceWidth: number;
    getPath(x: number, y: number, size: number): { commands: Command[] };
  }
  export interface Font {
    unitsPerEm: number;
    charToGlyphIndex(letter: string): number;
    charToGlyph(letter: string): Glyph;
    getKerningValue(left: Glyph, right: Glyph): number;
  }
  export function parse(file: ArrayBuffer): Font;
}
