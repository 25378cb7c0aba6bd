/** Writing results without a browser, from a shot of the database or from a document file. */
import path from 'node:path';
import { parseDocument } from '../core/document/edits.ts';
import { footageOf, matteFootageOf } from '../core/document/parts.ts';
import type { ShotDocument, Subject } from '../core/document/schema.ts';
import { type OutputSpec, outputSpecSchema } from '../server/outputs/spec.ts';
import type { Original } from '../server/outputs/task.ts';
import { writeOutput } from '../server/outputs/write-output.ts';
import type { PeelPlace } from '../server/peel/carry-peel.ts';
import { bitsOf, type CliOptions, framesWithin, readJson, WrongCall } from './call.ts';
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

function specOf(document: ShotDocument, options: CliOptions, kind: string): OutputSpec {
  const frames = framesOf(document, options.frames);
  if (kind === 'matte') {
    const bits = bitsOf(options);
    return { kind: 'matte-png', subject: subjectOf(document, options.subject).id, bits, ...frames };
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
  const { document, ...from } = await material(options);
  const { footage } = from;
  const spec = specOf(document, options, kind);
  if (kind !== 'matte' && !footage) throw new WrongCall('This output shows the plate: give its footage with --footage FILE.');
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
