/** A title: lines of text. */
import type { Descriptions, ValuesOf } from '../effects/settings.ts';
import { multiply, scaling, translation } from '../math/homography.ts';
import { type Sources, WEIGHTS } from '../matte/sources.ts';
import { definePlaced } from './element.ts';
import { fillLine, type Line, lineOf } from './letters.ts';

/** From the top of a line to its baseline, in sizes of the type: where capitals begin. */
const RISE = 0.72;

const SETTINGS = {
  size: { kind: 'number', label: 'Size', about: 'Height of the type.', unit: 'px', min: 0, max: 5000, step: 1, start: 120, usual: [0, 600] },
  colour: { kind: 'colour', label: 'Colour', about: 'Of the letters.', start: [0.95, 0.93, 0.88] },
  weight: {
    kind: 'choice',
    label: 'Weight',
    about: 'Regular or bold.',
    options: WEIGHTS.map((id) => ({ id, label: id === 'bold' ? 'Bold' : 'Regular' })),
    start: 'bold',
  },
  align: {
    kind: 'choice',
    label: 'Align',
    about: 'How lines of different lengths stand.',
    options: [
      { id: 'middle', label: 'In the middle' },
      { id: 'left', label: 'To the left' },
      { id: 'right', label: 'To the right' },
    ],
    start: 'middle',
  },
  spacing: {
    kind: 'number',
    label: 'Spacing',
    about: 'Room between letters, of the size.',
    unit: '%',
    min: -50,
    max: 500,
    step: 1,
    start: 0,
    usual: [-20, 100],
  },
  leading: {
    kind: 'number',
    label: 'Leading',
    about: 'From line to line, of the size.',
    unit: '%',
    min: 0,
    max: 1000,
    step: 1,
    start: 110,
    usual: [50, 300],
  },
} as const satisfies Descriptions;

type V = ValuesOf<typeof SETTINGS>;

async function typeset(words: string, values: V, sources: Pick<Sources, 'letters'>): Promise<Line[]> {
  const spacing = values.spacing / 100;
  const weight = values.weight;
  return Promise.all(words.split('\n').map(async (text) => lineOf(await sources.letters(text, weight), spacing)));
}

/** From line to line, sizes of the type. */
const leading = (values: V): number => values.leading / 100;

function sizeOf(lines: readonly Line[], values: V): { width: number; height: number } {
  return { width: Math.max(...lines.map((l) => l.width)), height: RISE + (lines.length - 1) * leading(values) };
}

export const titleElement = definePlaced({
  id: 'title',
  label: 'Title',
  about: 'Words, in one line or several.',
  has: 'words',
  settings: SETTINGS,
  kept: true,
  async boxOf({ item, values, sources }) {
    if (item.words.trim() === '') return null;
    const { width, height } = sizeOf(await typeset(item.words, values, sources), values);
    const size = values.size;
    return width > 0 && size > 0 ? { width: width * size, height: height * size } : null;
  },
  // Letters hang below their line, and lean out of it.
  beyond: ({ size }) => size,
  async render(layer, { item, values, sources, motion }) {
    const lines = await typeset(item.words, values, sources);
    const { width, height } = sizeOf(lines, values);
    const size = values.size;
    const colour = values.colour;
    const align = values.align;
    lines.forEach((line, i) => {
      const room = width - line.width;
      const left = (align === 'left' ? 0 : align === 'right' ? room : room / 2) - width / 2;
      const baseline = RISE + i * leading(values) - height / 2;
      fillLine(layer, line, multiply(motion, multiply(scaling(size, size), translation(left, baseline))), colour);
    });
  },
});
