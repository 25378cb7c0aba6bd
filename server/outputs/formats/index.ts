/** The registry of output formats: adding one is a file beside this and a line here. */
import { z } from 'zod';
import type { FormatDescription, OutputFormat, OutputSpec } from '../format.ts';
import { composedMp4 } from './composed-mp4.ts';
import { cutoutProres } from './cutout-prores.ts';
import { elementsPng } from './elements-png.ts';
import { elementsProres } from './elements-prores.ts';
import { mattePng } from './matte-png.ts';

export const FORMATS: readonly OutputFormat[] = [mattePng, cutoutProres, composedMp4, elementsProres, elementsPng];

export const formatOf = ({ kind }: Pick<OutputSpec, 'kind'>): OutputFormat => FORMATS.find((f) => f.id === kind) as OutputFormat;

const anySpec = z.discriminatedUnion('kind', FORMATS.map((f) => f.schema) as [z.ZodObject, ...z.ZodObject[]]) as unknown as z.ZodType<OutputSpec>;

export const outputSpecSchema = anySpec.refine((s) => s.first <= s.last, { error: 'The last frame comes before the first.' });

export const FORMAT_DESCRIPTIONS: FormatDescription[] = FORMATS.map(({ id, label, name, of, single, options }) => ({ id, label, name, of, single, options }));
