/** Writing results without a browser, from a shot of the database or from a document file. */
import path from 'node:path';
import type { Command } from 'commander';
import { type Delivery, deliverySchema, withHandles } from '../core/document/delivery.ts';
import { parseDocument } from '../core/document/edits.ts';
import type { ShotDocument, Subject } from '../core/document/schema.ts';
import type { OutputFormat, OutputSpec } from '../server/outputs/format.ts';
import { FORMATS, outputSpecSchema } from '../server/outputs/formats/index.ts';
import type { OutputTask } from '../server/outputs/task.ts';
import { writeOutput } from '../server/outputs/write-output.ts';
import { framesWithin, readJson, WrongCall } from './call.ts';
import { probeFootage } from './footage.ts';

export interface OutputOptions {
  kind: string;
  shot?: string;
  document?: string;
  footage?: string;
  subject?: string;
  frames?: string;
  handles: string;
  size: string;
  name: string;
  firstNumber?: string;
  digits: string;
  note: boolean;
  out: string;
  data?: string;
  /** Options of formats. */
  [option: string]: unknown;
}

type Material = Pick<OutputTask, 'document' | 'footage' | 'others' | 'peel' | 'shots'>;

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

async function material(options: OutputOptions): Promise<Material> {
  const { shot, document } = options;
  if (shot && document) throw new WrongCall('Give --shot or --document, not both.');
  if (document) return fromFile(document, options.footage);
  if (!shot) throw new WrongCall('Say what to write: --shot ID or --document FILE.json.');
  // Only here is a database needed.
  const { withServices } = await import('./open.ts');
  const { documentsShown, materialWith } = await import('../server/outputs/shown-shots.ts');
  return withServices(options.data, false, async (services) => {
    const { document: loaded } = await services.changes.load(shot);
    return materialWith(shot, loaded, await documentsShown(loaded, (id) => services.changes.load(id)), services);
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

/** The format that was named; an option that it does not have is a wrong call, not one to pass over. */
function formatFor(kind: string, command: Command): OutputFormat {
  const format = FORMATS.find((f) => f.name === kind);
  if (!format) throw new WrongCall(`There is no output of the kind "${kind}".`);
  const others = new Set(FORMATS.flatMap((f) => Object.keys(f.options)).filter((id) => !(id in format.options)));
  for (const id of others) if (command.getOptionValueSource(id) === 'cli') throw new WrongCall(`${format.label} has no option "${id}".`);
  return format;
}

/** The value of an option of a format, from the call. */
const optionOf = (given: unknown, option: OutputFormat['options'][string]): string | number | boolean | undefined =>
  option.kind === 'switch' ? given === true : option.options.find(({ value }) => String(value) === given)?.value;

/** How it is to be handed over. @throws WrongCall where that cannot be */
function deliveryOf({ handles, size, name, firstNumber, digits, note }: OutputOptions): Delivery {
  const width = /^\d+$/.test(size) ? Number(size) : size;
  const asked = { handles: Number(handles), size: width, name, start: firstNumber === undefined ? null : Number(firstNumber), digits: Number(digits), note };
  const read = deliverySchema.safeParse(asked);
  if (read.success) return read.data;
  const { path: at, message } = read.error.issues[0];
  throw new WrongCall(`--${at[0] === 'start' ? 'first-number' : String(at[0])}: ${message}`);
}

function specOf(document: ShotDocument, options: OutputOptions, format: OutputFormat): OutputSpec {
  const frames = framesOf(document, options.frames);
  const own = Object.fromEntries(Object.entries(format.options).map(([id, option]) => [id, optionOf(options[id], option)]));
  const subject = format.of === 'subject' ? { subject: subjectOf(document, options.subject).id } : {};
  return outputSpecSchema.parse({ kind: format.id, ...subject, ...own, ...frames, delivery: deliveryOf(options) });
}

export async function outputCommand(options: OutputOptions, command: Command): Promise<void> {
  const format = formatFor(options.kind, command);
  const { document, ...from } = await material(options);
  const { footage } = from;
  const spec = specOf(document, options, format);
  if (format.showsPlate && !footage) throw new WrongCall('This output shows the plate: give its footage with --footage FILE.');
  const range = withHandles(spec, spec.delivery?.handles ?? 0, document.plate.frames);
  const total = range.last - range.first + 1;
  const shows = process.stderr.isTTY;
  const began = performance.now();
  const { files, checked } = await writeOutput(
    { document, spec, directory: path.resolve(options.out), ...from },
    {
      onProgress: (done) => {
        if (shows) process.stderr.write(`\r${done} of ${total}`);
      },
    },
  );
  if (shows) process.stderr.write('\n');
  const seconds = (performance.now() - began) / 1000 / total;
  console.log(
    `Wrote ${files.length} files to ${path.resolve(options.out)} (${seconds.toFixed(3)} s a frame); ${checked.readBack.length} frames were read back as they were rendered`,
  );
}
