/** Writing results without a browser, from a shot of the database or from a document file. */
import { readFile } from 'node:fs/promises';
import path from 'node:path';
import { parseDocument } from '../core/document/edits.ts';
import { footageOf } from '../core/document/parts.ts';
import type { ShotDocument, Subject } from '../core/document/schema.ts';
import { readConfig } from '../server/config.ts';
import { probeFile } from '../server/footage/probe.ts';
import { type OutputSpec, outputSpecSchema } from '../server/outputs/spec.ts';
import { type Original, writeOutput } from '../server/outputs/write-output.ts';
import { type CliOptions, WrongCall } from './call.ts';

interface Material {
  document: ShotDocument;
  footage?: Original;
  mattes?: Record<string, Original>;
}

async function fromFile(file: string, footage: string | undefined): Promise<Material> {
  const text = await readFile(file, 'utf8').catch(() => {
    throw new WrongCall(`There is no document ${file}.`);
  });
  let value: unknown;
  try {
    value = JSON.parse(text);
  } catch {
    throw new WrongCall(`${file} is not a JSON file.`);
  }
  const document = parseDocument(value);
  if (!footage) return { document };
  const full = path.resolve(footage);
  const probe = await probeFile(full, path.basename(full), readConfig().limits);
  const { width, height } = document.plate;
  if (probe.width !== width || probe.height !== height)
    throw new WrongCall(`The footage is ${probe.width}×${probe.height}, but the document is for a plate of ${width}×${height}.`);
  return { document, footage: { probe: { ...probe, input: path.basename(full) }, originals: path.dirname(full) } };
}

async function material(options: CliOptions): Promise<Material> {
  const { shot, document } = options;
  if (shot && document) throw new WrongCall('Give --shot or --document, not both.');
  if (document) return fromFile(document, options.footage);
  if (!shot) throw new WrongCall('Say what to write: --shot ID or --document FILE.json.');
  // Only here is a database needed.
  const { withServices } = await import('./open.ts');
  return withServices(options.data, false, async ({ changes, shots }) => {
    const [loaded, { plate }] = [await changes.load(shot), await shots.shot(shot)];
    const mattes = await shots.originalsOf(footageOf(loaded.document));
    return { document: loaded.document, mattes, footage: { probe: shots.probeOf(plate), originals: shots.originals(plate.id) } };
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
  const end = plate.firstNumber + plate.frames - 1;
  if (!text) return { first: 0, last: plate.frames - 1 };
  const match = /^(\d+)(?:-(\d+))?$/.exec(text);
  const a = Number(match?.[1]);
  const b = Number(match?.[2] ?? match?.[1]);
  if (!match || a > b || a < plate.firstNumber || b > end) throw new WrongCall(`--frames takes A-B within ${plate.firstNumber}-${end}, not "${text}".`);
  return { first: a - plate.firstNumber, last: b - plate.firstNumber };
}

function specOf(document: ShotDocument, options: CliOptions, kind: string): OutputSpec {
  const frames = framesOf(document, options.frames);
  if (kind === 'matte') {
    if (options.bits !== '8' && options.bits !== '16') throw new WrongCall(`--bits takes 8 or 16, not "${options.bits}".`);
    return { kind: 'matte-png', subject: subjectOf(document, options.subject).id, bits: options.bits === '8' ? 8 : 16, ...frames };
  }
  if (kind === 'cutout') {
    if (options.alpha !== 'premultiplied' && options.alpha !== 'straight')
      throw new WrongCall(`--alpha takes premultiplied or straight, not "${options.alpha}".`);
    return { kind: 'cutout-prores', subject: subjectOf(document, options.subject).id, alpha: options.alpha, ...frames };
  }
  if (kind === 'composed') return outputSpecSchema.parse({ kind: 'composed-mp4', sound: !options['no-sound'], ...frames });
  throw new WrongCall(`--kind takes matte, cutout or composed, not "${kind}".`);
}

async function write(options: CliOptions, kind: string): Promise<void> {
  if (!options.out) throw new WrongCall('Say where to write: --out DIR.');
  const { document, footage } = await material(options);
  const spec = specOf(document, options, kind);
  if (kind !== 'matte' && !footage) throw new WrongCall('This output shows the plate: give its footage with --footage FILE.');
  const total = spec.last - spec.first + 1;
  const shows = process.stderr.isTTY;
  const began = performance.now();
  const files = await writeOutput(
    { document, spec, directory: path.resolve(options.out), footage },
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
