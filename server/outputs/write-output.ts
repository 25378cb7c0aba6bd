/**
 * Writes an output, range by range. Every finished range is a file (or files) of its own, so a run that was stopped or killed
 * goes on after the last whole one. Used alike by the job threads and the command line.
 */
import { mkdir, readdir, rm, writeFile } from 'node:fs/promises';
import path from 'node:path';
import { z } from 'zod';
import { writtenDocument } from '../../core/document/versions.ts';
import { Problem } from '../problem.ts';
import { checkedSchema, checkOutput, hashList } from './check.ts';
import type { OutputControl } from './format.ts';
import { formatOf } from './formats/index.ts';
import { writeRanges } from './ranges.ts';
import type { OutputTask } from './task.ts';
import { writtenFrames } from './timed.ts';

export const writtenSchema = z.strictObject({ files: z.array(z.string()), checked: checkedSchema });
/** What was written: the names of the files, and what was found when they were read back. */
export type Written = z.infer<typeof writtenSchema>;

/** Names of files that go with every output. */
const SIDECAR = 'output.json';
const HASHES = 'hashes.sha256';

/** Writes the output of `task`, and holds it to what it should be. @throws Problem with code "stopped" where the signal asked it to stop */
export async function writeOutput(task: OutputTask, control: OutputControl): Promise<Written> {
  const { spec, document } = task;
  const format = formatOf(spec);
  if (spec.last >= document.plate.frames) throw new Problem('out-of-range', `This shot ends at frame ${document.plate.frames - 1}.`, 422);
  await mkdir(task.directory, { recursive: true });
  await writeRanges(task, control);
  const files = await format.finish(task);
  for (const name of await readdir(task.directory)) if (name.endsWith('.part')) await rm(path.join(task.directory, name));
  const checked = await checkOutput(task, files);
  await writeFile(path.join(task.directory, HASHES), await hashList(task.directory, files));
  const { width, height, rate, firstNumber } = document.plate;
  const written = writtenFrames(task);
  const sidecar = {
    madeBy: 'Mottrel',
    output: spec,
    files: files.length > 1 ? { first: files[0], last: files.at(-1), count: files.length } : files[0],
    picture: { width, height, rate: `${rate.num}/${rate.den}`, frames: written.last - written.first + 1, firstNumber: spec.first + firstNumber },
    alpha: spec.alpha,
    colour: format.colour,
    checked: { ...checked, hashes: HASHES },
    // What is to be known of the footage that is in it.
    ...(task.footage ? { footage: { notes: task.footage.probe.notes, damaged: task.footage.probe.damage } } : {}),
    document: writtenDocument(document),
  };
  await writeFile(path.join(task.directory, SIDECAR), `${JSON.stringify(sidecar, null, 2)}\n`);
  return { files: [...files, SIDECAR, HASHES], checked };
}
