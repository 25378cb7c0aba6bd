/** Writing results without a browser, from a shot of the database or from a document file. */
import path from 'node:path';
import { parseDocument } from '../core/document/edits.ts';
import { footageOf, matteFootageOf } from '../core/document/parts.ts';
import type { ShotDocument, Subject } from '../core/document/schema.ts';
import type { OutputFormat, OutputSpec } from '../server/outputs/format.ts';
import { FORMATS, outputSpecSchema } from '../server/outputs/formats/index.ts';
import type { Original } from '../server/outputs/task.ts';
import { writeOutput } from '../server/outputs/write-output.ts';
import type { PeelPlace } from '../server/peel/carry-peel.ts';
import { type CliOptions, framesWithin, readJson, WrongCall } from './call.ts';
import { probeFootage } from './footage.ts';

interface Material {
  document: ShotDocument;
  footage?: Original;
  others?: Record<string, Original>;
  peel?: PeelPlace;
}

async function fromFile(file: string, footage: string | undefined): Promise<Material> {
  const document = parseDocument(await readJson(file, 'document'));
  if (!footage) return { document };
  const original = await probeFootage(footage);
  const { probe } = original;
  const { width, height } = document.plate;
  if (probe.width !== width || probe.height !== height)
    throw new WrongCall(`The footage is ${probe.width}×${probe.height}, but the document is for a plate of ${width}×${height}.`);
  return { document, footage: original };
}

async function material(options: CliOptions): Promise<Material> {
  const { shot, document } = options;
  if (shot && document) throw new WrongCall('Give --shot or --document, not both.');
  if (document) return fromFile(document, options.footage);
  if (!shot) throw new WrongCall('Say what to write: --shot ID or --document FILE.json.');
  // Only here is a database needed.
  const { withServices } = await import('./open.ts');
  return withServices(options.data, false, async ({ changes, shots, peels }) => {
    const [loaded, { plate }] = [await changes.load(shot), await shots.shot(shot)];
    const others = await shots.originalsOf(footageOf(loaded.document));
    const footage = { probe: shots.probeOf(plate), originals: shots.originals(plate.id) };
    return { document: loaded.document, others, footage, peel: peels.placeOf(plate.id, matteFootageOf(loaded.document)) };
  });
}

function subjectOf(document: ShotDocument, name: string | undefined): Subject {
  if (!name) throw new WrongCall(`Say which subject: --subject NAME. There is: ${document.cast.map((s) => s.name).join(', ') || 'none yet'}.`);
  const found = document.cast.find((s) => s.name === name || s.id === name);
  if (!found) throw new WrongCall(`There is no subject "${name}". There is: ${document.cast.map((s) => s.name).join(', ') || 'none yet'}.`);
  return found;
}

/** Frames "A-B" in the plate's own numbers, as frames from 0. */
function framesOf({ plate }: ShotDocument, text: string | undefined): { first: number; last: number } {
  const [a, b] = framesWithin(text, plate.firstNumber, plate.firstNumber + plate.frames - 1);
  return { first: a - plate.firstNumber, last: b - plate.firstNumber };
}

/** "a, b or c". */
const orWords = (words: readonly string[]): string => [words.slice(0, -1).join(', '), words.at(-1)].filter(Boolean).join(' or ');

/** The value of an option of a format, from the call. */
function optionOf(options: CliOptions, id: string, option: OutputFormat['options'][string]): string | number | boolean {
  const given = options as Record<string, unknown>;
  if (option.kind === 'switch') return !given[`no-${id}`];
  const chosen = option.options.find(({ value }) => String(value) === given[id]);
  if (!chosen) throw new WrongCall(`--${id} takes ${orWords(option.options.map((o) => String(o.value)))}, not "${given[id]}".`);
  return chosen.value;
}

function formatNamed(kind: string): OutputFormat {
  const format = FORMATS.find((f) => f.name === kind);
  if (!format) throw new WrongCall(`--kind takes ${orWords(FORMATS.map((f) => f.name))}, not "${kind}".`);
  return format;
}

function specOf(document: ShotDocument, options: CliOptions, format: OutputFormat): OutputSpec {
  const frames = framesOf(document, options.frames);
  const own = Object.fromEntries(Object.entries(format.options).map(([id, option]) => [id, optionOf(options, id, option)]));
  const subject = format.of === 'subject' ? { subject: subjectOf(document, options.subject).id } : {};
  return outputSpecSchema.parse({ kind: format.id, ...subject, ...own, ...frames });
}

async function write(options: CliOptions, kind: string): Promise<void> {
  if (!options.out) throw new WrongCall('Say where to write: --out DIR.');
  const format = formatNamed(kind);
  const { document, ...from } = await material(options);
  const { footage } = from;
  const spec = specOf(document, options, format);
  if (format.showsPlate && !footage) throw new WrongCall('This output shows the plate: give its footage with --footage FILE.');
  const total = spec.last - spec.first + 1;
  const shows = process.stderr.isTTY;
  const began = performance.now();
  const files = await writeOutput(
    { document, spec, directory: path.resolve(options.out), ...from },
    {
      onProgress: (done) => {
        if (shows) process.stderr.write(`\r${done} of ${total}`);
      },
    },
  );
  if (shows) process.stderr.write('\n');
  console.log(`Wrote ${files.length} files to ${path.resolve(options.out)} (${((performance.now() - began) / 1000 / total).toFixed(3)} s a frame)`);
}

export const matteCommand = (options: CliOptions): Promise<void> => write(options, 'matte');
export const outputCommand = (options: CliOptions): Promise<void> => write(options, options.kind ?? '');
