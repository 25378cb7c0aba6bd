/**
 * Writes an output, range by range. Every finished range is a file (or files) of its own, so a run that was stopped or killed
 * goes on after the last whole one. Used alike by the job threads and the command line.
 */
import { mkdir, readdir, rm, writeFile } from 'node:fs/promises';
import path from 'node:path';
import { writtenDocument } from '../../core/document/versions.ts';
import { Problem } from '../problem.ts';
import type { OutputControl } from './format.ts';
import { formatOf } from './formats/index.ts';
import { writeRanges } from './ranges.ts';
import type { OutputTask } from './task.ts';
import { writtenFrames } from './timed.ts';

/** Writes the output of `task`; gives the names of its files. Throws a Problem with code "stopped" where the signal asked it to stop. */
export async function writeOutput(task: OutputTask, control: OutputControl): Promise<string[]> {
  const { spec, document } = task;
  const format = formatOf(spec);
  if (spec.last >= document.plate.frames) throw new Problem('out-of-range', `This shot ends at frame ${document.plate.frames - 1}.`, 422);
  await mkdir(task.directory, { recursive: true });
  await writeRanges(task, control);
  const files = await format.finish(task);
  for (const name of await readdir(task.directory)) if (name.endsWith('.part')) await rm(path.join(task.directory, name));
  const { width, height, rate, firstNumber } = document.plate;
  const written = writtenFrames(task);
  const sidecar = {
    madeBy: 'Mottrel',
    output: spec,
    files: files.length > 1 ? { first: files[0], last: files.at(-1), count: files.length } : files[0],
    picture: { width, height, rate: `${rate.num}/${rate.den}`, frames: written.last - written.first + 1, firstNumber: spec.first + firstNumber },
    alpha: spec.alpha,
    colour: format.colour,
    // What is to be known of the footage that is in it.
    ...(task.footage ? { footage: { notes: task.footage.probe.notes, damaged: task.footage.probe.damage } } : {}),
    document: writtenDocument(document),
  };
  await writeFile(path.join(task.directory, 'output.json'), `${JSON.stringify(sidecar, null, 2)}\n`);
  return [...files, 'output.json'];
}
