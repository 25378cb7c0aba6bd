/** ./mottrel cli: the same core without a browser, and with a document file without a database. */
import { type Command, Option } from 'commander';
import { NAME_WORDS } from '../core/document/delivery.ts';
import { EditError } from '../core/document/edits.ts';
import { MOTION_MODELS } from '../core/math/homography.ts';
import { QUALITIES } from '../core/peel/settings.ts';
import type { OptionDescription } from '../server/outputs/format.ts';
import { FORMATS } from '../server/outputs/formats/index.ts';
import { Problem } from '../server/problem.ts';
import { WrongCall } from './call.ts';
import type { IngestOptions } from './ingest.ts';
import type { OutputOptions } from './output.ts';
import type { PeelOptions } from './peel.ts';
import type { TrackOptions } from './track.ts';

const AFTER = `
Frames are numbers as the plate has them.
Exit code 0: done. 2: the call or a file is wrong. 1: it failed.`;

const STROKES = `
A file of strokes counts frames from 0 and holds pixels of the plate:
  {"version":1,"width":W,"height":H,"frames":N,"strokes":
   [{"frame":0,"mode":"keep"|"drop"|"soft","radius":4,"points":[[x,y], …]}, …]}`;

const POINTS = `
A file of points counts frames from 0; "points" or "region" may be missing:
  {"version":1,"points":[{"id":"p1","frame":0,"x":X,"y":Y}, …],
   "region":{"frame":0,"polygon":[[x,y], …]}}
What is written:
  {"p1":[[frame,x,y,quality], …],"region":[[frame,[[x,y], …],quality], …]}`;

const quality = () => new Option('--quality <quality>', 'how closely pictures are looked at').choices(QUALITIES).default('fine');
const data = () => new Option('--data <dir>', 'data directory, .mottrel in this folder if not given');
const frames = () => new Option('--frames <A-B>', 'first and last frame; all if not given');

/** Runs a command; what the database or a document says of the call is a wrong call too. */
const told =
  <A extends unknown[]>(act: (...args: A) => Promise<void>) =>
  (...args: A): Promise<void> =>
    act(...args).catch((error: Error) => {
      throw error instanceof EditError || (error instanceof Problem && error.status < 500) ? new WrongCall(error.message) : error;
    });

/** Options of a format of outputs, as they are written in a call. */
function formatOption(id: string, option: OptionDescription): Option {
  if (option.kind === 'switch') return new Option(`--no-${id}`, `without ${option.label.toLowerCase()}: ${option.says}`);
  return new Option(`--${id} <${id}>`, option.label.toLowerCase()).choices(option.options.map((o) => String(o.value))).default(String(option.start));
}

/** A command that writes from a shot or from a document file, with the options of the formats it may write. */
function outputCommand(cli: Command, name: string, description: string, formats: readonly (typeof FORMATS)[number][]): Command {
  const command = cli
    .command(name)
    .description(description)
    .option('--shot <id>', 'a shot of the database')
    .option('--document <file>', 'a document file instead; no database is used')
    .option('--footage <file>', 'the footage of that document, where the output shows it')
    .option('--subject <name>', 'the subject, where the output is of one')
    .addOption(frames())
    .option('--handles <n>', 'frames more at both ends, as far as the shot has them', '0')
    .option('--size <size>', 'full, half, quarter, or a width in pixels', 'full')
    .option(
      '--name <name>',
      `name of the files, with ${Object.keys(NAME_WORDS)
        .map((word) => `{${word}}`)
        .join(' ')}`,
      '',
    )
    .option('--first-number <n>', 'number of the first picture; that of the plate if not given')
    .option('--digits <n>', 'digits of the numbers of pictures', '4')
    .option('--note', 'writes shot, time and frame into the finished picture', false)
    .requiredOption('--out <dir>', 'where to write')
    .addOption(data());
  const options = new Map(formats.flatMap((f) => Object.entries(f.options)));
  for (const [id, option] of options) command.addOption(formatOption(id, option));
  return command;
}

/** Puts the commands that need no browser under `cli`. What each needs is loaded when it runs. */
export function addCliCommands(cli: Command): void {
  cli.addHelpText('after', AFTER);
  cli
    .command('ingest')
    .description('Brings a video, a still or a zip of a picture sequence in as a shot; prints its id.')
    .argument('<file>')
    .option('--production <name>', 'made where there is none of that name', 'From the command line')
    .option('--name <name>', 'name of the shot; that of the file if not given')
    .option('--rate <rate>', 'frames a second of what has no rate of its own', '24')
    .addOption(data())
    .action(told(async (file: string, options: IngestOptions) => (await import('./ingest.ts')).ingestCommand(file, options)));
  outputCommand(
    cli,
    'matte',
    'Writes mattes as PNG.',
    FORMATS.filter((f) => f.name === 'matte'),
  ).action(told(async (options: OutputOptions, command: Command) => (await import('./output.ts')).outputCommand({ ...options, kind: 'matte' }, command)));
  outputCommand(cli, 'output', 'Writes any kind of output.', FORMATS)
    .addOption(new Option('--kind <kind>', FORMATS.map((f) => `${f.name}: ${f.label}`).join('; ')).choices(FORMATS.map((f) => f.name)).makeOptionMandatory())
    .action(told(async (options: OutputOptions, command: Command) => (await import('./output.ts')).outputCommand(options, command)));
  cli
    .command('peel')
    .description('Finds a subject from strokes on some frames, carries it to the others and writes its mattes, with the doubt of each frame in report.json.')
    .requiredOption('--footage <file>', 'the footage')
    .requiredOption('--strokes <file...>', 'files of strokes')
    .requiredOption('--out <dir>', 'where to write')
    .addOption(frames())
    .addOption(quality())
    .addOption(new Option('--bits <bits>', 'bits of the mattes').choices(['8', '16']).default('16'))
    .addHelpText('after', STROKES)
    .action(told(async (options: PeelOptions) => (await import('./peel.ts')).peelCommand(options)));
  cli
    .command('track')
    .description('Tracks points and a region forwards and backwards from the frame each is on.')
    .requiredOption('--footage <file>', 'the footage')
    .requiredOption('--points <file>', 'file of points and a region')
    .requiredOption('--out <file>', 'the file to write')
    .addOption(new Option('--model <model>', 'what the motion of the region may do').choices(MOTION_MODELS).default('perspective'))
    .addOption(quality())
    .addHelpText('after', POINTS)
    .action(told(async (options: TrackOptions) => (await import('./track.ts')).trackCommand(options)));
  cli
    .command('document')
    .description('Writes the document of a shot.')
    .requiredOption('--shot <id>', 'the shot')
    .requiredOption('--out <file>', 'the file to write')
    .addOption(data())
    .action(told(async (options: { shot: string; out: string; data?: string }) => (await import('./document.ts')).documentCommand(options)));
}
