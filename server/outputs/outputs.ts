/** Outputs of a shot: asking for one, listing them, and handing their files out. */
import { createReadStream } from 'node:fs';
import { readdir, rm, stat } from 'node:fs/promises';
import path from 'node:path';
import { Readable } from 'node:stream';
import { ZipArchive } from 'archiver';
import { z } from 'zod';
import { followSchema } from '../../core/document/schema.ts';
import { frameSchema } from '../../core/time/animated.ts';
import type { Changes } from '../changes.ts';
import type { Config } from '../config.ts';
import type { JobQueue, JobSummary } from '../jobs/queue.ts';
import { notFound, Problem } from '../problem.ts';
import type { Checked } from './check.ts';
import type { FormatDescription, OutputSpec } from './format.ts';
import { FORMAT_DESCRIPTIONS, outputSpecSchema } from './formats/index.ts';
import { documentsShown } from './shown-shots.ts';
import { writtenFrames } from './timed.ts';
import { writtenSchema } from './write-output.ts';

/** What is listed may have been asked for by another version, which knows other formats. */
const listedSpec: z.ZodType<OutputSpec> = z.looseObject({
  kind: z.string(),
  subject: z.string().optional(),
  first: frameSchema,
  last: frameSchema,
  hold: followSchema.optional(),
});

const listedSchema = z.object({
  spec: listedSpec,
  ids: z
    .array(z.string())
    .nullish()
    .transform((v) => v ?? []),
  names: z
    .array(z.string())
    .nullish()
    .transform((v) => v ?? []),
});

/** An earlier version kept the names of files alone. */
const writtenBefore = z.union([writtenSchema, z.array(z.string()).transform((files) => ({ files, checked: null }))]).catch({ files: [], checked: null });

export interface OutputSummary {
  job: JobSummary;
  spec: OutputSpec;
  subjectName: string | null;
  /** Names of the files, once written, and what was found when they were read back. */
  files: string[];
  checked: Checked | null;
  /** Folder on the server's machine. */
  folder: string;
}

export class Outputs {
  private readonly config: Config;
  private readonly changes: Changes;
  constructor(config: Config, changes: Changes) {
    this.config = config;
    this.changes = changes;
  }

  /** What can be written. */
  readonly formats: FormatDescription[] = FORMAT_DESCRIPTIONS;

  directory(jobId: string): string {
    if (!/^[0-9a-f-]{36}$/.test(jobId)) throw notFound('output');
    return path.join(this.config.dataDir, 'outputs', jobId);
  }

  /** Queues an output of the shot as it is now. The same output, still waiting or being written, is not queued twice. */
  async request(queue: JobQueue, shotId: string, input: unknown): Promise<string> {
    const spec = outputSpecSchema.parse(input);
    const { document } = await this.changes.load(shotId);
    if (spec.last >= document.plate.frames)
      throw new Problem('out-of-range', `This shot ends at frame ${document.plate.frames - 1 + document.plate.firstNumber}. Choose a range inside it.`, 422);
    if (spec.subject !== undefined && !document.cast.some((s) => s.id === spec.subject))
      throw new Problem('no-subject', 'That subject is no longer in the cast. Choose another.', 422);
    const shown = await documentsShown(document, (id) => this.changes.load(id));
    const payload = { spec, document, shown };
    const text = JSON.stringify(payload);
    const waiting = (await queue.openOnes(shotId, 'output')).find((job) => JSON.stringify(job.payload) === text);
    const { first, last } = writtenFrames(payload);
    return waiting?.id ?? queue.add('output', shotId, payload, last - first + 1, { label: document.name });
  }

  /** Those that were not cancelled, the newest first. Of their documents only the names of subjects are read. */
  async list(queue: JobQueue, shotId: string): Promise<OutputSummary[]> {
    const jobs = await queue.details(shotId, 'output', { spec: '$.spec', ids: '$.document.cast[*].id', names: '$.document.cast[*].name' });
    return jobs.flatMap(({ job, read, result }) => {
      if (job.state === 'cancelled') return [];
      const { spec, ids, names } = listedSchema.parse(read);
      const at = spec.subject === undefined ? -1 : ids.indexOf(spec.subject);
      return [{ job, spec, subjectName: names[at] ?? null, ...writtenBefore.parse(result), folder: this.directory(job.id) }];
    });
  }

  /** Outputs of a shot that were written and are there. */
  countDone = (queue: JobQueue, shotId: string): Promise<number> => queue.countDone(shotId, 'output');

  /** Takes a finished output and its files away. */
  async remove(queue: JobQueue, jobId: string): Promise<void> {
    const job = await queue.get(jobId);
    if (job.kind !== 'output') throw notFound('output');
    if (job.state === 'queued' || job.state === 'running' || job.state === 'paused')
      throw new Problem('still-running', 'This output is still being written. Cancel it first.', 409);
    await queue.forget(jobId);
    await rm(this.directory(jobId), { recursive: true, force: true });
  }

  /** One file of a finished output. */
  async file(jobId: string, name: string): Promise<{ stream: ReadableStream; bytes: number }> {
    const file = path.join(this.directory(jobId), path.basename(name));
    const info = await stat(file).catch(() => null);
    if (!info?.isFile() || name !== path.basename(name)) throw notFound('file');
    return { stream: Readable.toWeb(createReadStream(file)) as unknown as ReadableStream, bytes: info.size };
  }

  /** All files of a finished output as one zip, stored without packing again: PNG and movies do not shrink. */
  async zip(queue: JobQueue, jobId: string): Promise<ReadableStream> {
    const job = await queue.get(jobId);
    if (job.kind !== 'output' || job.state !== 'done') throw notFound('output');
    const dir = this.directory(jobId);
    const zip = new ZipArchive({ store: true });
    for (const name of (await readdir(dir)).sort()) zip.file(path.join(dir, name), { name });
    void zip.finalize();
    return Readable.toWeb(zip) as unknown as ReadableStream;
  }
}
