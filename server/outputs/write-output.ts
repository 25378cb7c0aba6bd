/**
 * Writes an output, range by range. Every finished range is a file (or files) of its own, so a run that was stopped or killed
 * goes on after the last whole one. Used alike by the job threads and the command line.
 */
import { mkdir, readdir, rm, writeFile } from 'node:fs/promises';
import path from 'node:path';
import { z } from 'zod';
import { writtenDocument } from '../../core/document/versions.ts';
import { checkedSchema, checkOutput, hashList } from './check.ts';
import { numberOf, specWithHandles, writtenSize } from './delivered.ts';
import type { OutputControl, OutputSpec } from './format.ts';
import { formatOf, mustBeWritable } from './formats/index.ts';
import { writeRanges } from './ranges.ts';
import { everyOutput, type OutputTask } from './task.ts';
import { writtenFrames } from './timed.ts';

const oneSchema = z.strictObject({ files: z.array(z.string()), checked: checkedSchema });
type One = z.infer<typeof oneSchema>;
export const writtenSchema = z.strictObject({ ...oneSchema.shape, also: z.array(oneSchema).default([]) });
/** What was written of each output: the names of the files, and what was found when they were read back. */
export type Written = z.infer<typeof writtenSchema>;

/** Names of files that go with every output. */
const SIDECAR = 'output.json';
const HASHES = 'hashes.sha256';

/** Makes the files of one output of what was written, holds them to what they should be, and says beside them what they are. */
async function finishOutput(task: OutputTask, asked: OutputSpec): Promise<One> {
  const { spec, document } = task;
  const format = formatOf(spec);
  const files = await format.finish(task);
  for (const name of await readdir(task.directory)) if (name.endsWith('.part')) await rm(path.join(task.directory, name));
  const checked = await checkOutput(task, files);
  await writeFile(path.join(task.directory, HASHES), await hashList(task.directory, files));
  const { rate } = document.plate;
  const written = writtenFrames(task);
  const sidecar = {
    madeBy: 'Mottrel',
    output: asked,
    // As the plate numbers them, handles among them.
    frames: { first: spec.first + document.plate.firstNumber, last: spec.last + document.plate.firstNumber },
    files: files.length > 1 ? { first: files[0], last: files.at(-1), count: files.length } : files[0],
    picture: {
      ...writtenSize(task),
      rate: `${rate.num}/${rate.den}`,
      frames: written.last - written.first + 1,
      firstNumber: numberOf(task, written.first),
    },
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

/** Writes the outputs of `task`, and holds them to what they should be. @throws Problem with code "stopped" where the signal asked it to stop */
export async function writeOutput(task: OutputTask, control: OutputControl): Promise<Written> {
  const { frames } = task.document.plate;
  const asked = everyOutput(task);
  for (const { spec, directory } of asked) {
    mustBeWritable(spec, task.document);
    await mkdir(directory, { recursive: true });
  }
  const outputs = asked.map((one) => ({ ...one, spec: specWithHandles(one.spec, frames) }));
  await writeRanges({ ...outputs[0], also: outputs.slice(1).map(({ spec, directory }) => ({ spec, directory })) }, control);
  const written: One[] = [];
  for (const [i, { spec }] of asked.entries()) written.push(await finishOutput(outputs[i], spec));
  const [first, ...also] = written;
  return { ...first, also };
}
