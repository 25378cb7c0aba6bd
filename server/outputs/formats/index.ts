/** The registry of outputs: a kind of file is one beside this and a line here; what can be written goes into all that carry it. */
import { z } from 'zod';
import type { ShotDocument } from '../../../core/document/schema.ts';
import { Problem } from '../../problem.ts';
import { deliveryOf } from '../delivered.ts';
import { type Encoding, formatFrom } from '../encoding.ts';
import type { FormatDescription, OutputFormat, OutputSpec } from '../format.ts';
import { mattes, type OutputSource, SOURCES } from '../source.ts';
import { exr } from './exr.ts';
import { exrChannels } from './exr-channels.ts';
import { ffv1 } from './ffv1.ts';
import { hevc } from './hevc.ts';
import { mp4 } from './mp4.ts';
import { png } from './png.ts';
import { prores } from './prores.ts';
import { proresHq } from './prores-hq.ts';
import { tiff } from './tiff.ts';
import { webm } from './webm.ts';

const ENCODINGS: readonly Encoding[] = [mp4, prores, png, exr, webm, tiff, ffv1, proresHq, hevc];

/** What each source is written as first. */
const FIRST: Record<string, string> = { matte: 'png', cutout: 'prores', composed: 'mp4', elements: 'prores' };

const formatsOf = (source: OutputSource): OutputFormat[] => {
  const own = ENCODINGS.filter((e) => e.carries.includes(source.carries) && (source.only?.includes(e.id) ?? true));
  return [...own.filter((e) => e.id === FIRST[source.id]), ...own.filter((e) => e.id !== FIRST[source.id])].map((encoding) => formatFrom(source, encoding));
};

export const FORMATS: readonly OutputFormat[] = SOURCES.flatMap((source) =>
  source.id === 'mattes-rgb' ? [formatFrom(mattes, exrChannels), ...formatsOf(source)] : formatsOf(source),
);

export const formatOf = ({ kind }: Pick<OutputSpec, 'kind'>): OutputFormat => FORMATS.find((f) => f.id === kind) as OutputFormat;

/** @throws Problem, in words, where an output cannot be written of a document */
export function mustBeWritable(spec: OutputSpec, document: ShotDocument): void {
  const format = formatOf(spec);
  const { frames, firstNumber } = document.plate;
  if (spec.last >= frames) throw new Problem('out-of-range', `This shot ends at frame ${frames - 1 + firstNumber}. Choose a range inside it.`, 422);
  if (spec.subject !== undefined && !document.cast.some((s) => s.id === spec.subject))
    throw new Problem('no-subject', 'That subject is no longer in the cast. Choose another.', 422);
  const refusal = format.refuses?.(document);
  if (refusal) throw new Problem('not-here', refusal, 422);
  if (deliveryOf(spec).note && !format.takesNote)
    throw new Problem('no-note', `Nothing can be written into "${format.label}": choose a finished picture, or leave the note out.`, 422);
}

const anySpec = z.discriminatedUnion('kind', FORMATS.map((f) => f.schema) as [z.ZodObject, ...z.ZodObject[]]) as unknown as z.ZodType<OutputSpec>;

export const outputSpecSchema = anySpec.refine((s) => s.first <= s.last, { error: 'The last frame comes before the first.' });

export const FORMAT_DESCRIPTIONS: FormatDescription[] = FORMATS.map(({ id, label, name, of, what, single, extension, pattern, takesNote, options }) => ({
  id,
  label,
  name,
  of,
  what,
  single,
  extension,
  pattern,
  takesNote,
  options,
}));
