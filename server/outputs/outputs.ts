/** Outputs of a shot: asking for one, listing them, and handing their files out. */
import { createReadStream } from 'node:fs';
import { readdir, rm, stat } from 'node:fs/promises';
import path from 'node:path';
import { Readable } from 'node:stream';
import { ZipArchive } from 'archiver';
import { z } from 'zod';
import { deliverySchema } from '../../core/document/delivery.ts';
import { followSchema, type ShotDocument } from '../../core/document/schema.ts';
import { frameSchema } from '../../core/time/animated.ts';
import type { Changes } from '../changes.ts';
import type { Config } from '../config.ts';
import type { JobQueue, JobSummary } from '../jobs/queue.ts';
import { notFound, Problem } from '../problem.ts';
import type { Checked } from './check.ts';
import { specWithHandles } from './delivered.ts';
import type { FormatDescription, OutputSpec } from './format.ts';
import { FORMAT_DESCRIPTIONS, mustBeWritable, outputSpecSchema } from './formats/index.ts';
import { documentsShown } from './shown-shots.ts';
import type { OutputPlace } from './task.ts';
import { timesOfOutput, writtenFrames } from './timed.ts';
import { writtenSchema } from './write-output.ts';

/** What is listed may have been asked for by another version, which knows other formats. */
const listedSpec: z.ZodType<OutputSpec> = z.looseObject({
  kind: z.string(),
  subject: z.string().optional(),
  first: frameSchema,
  last: frameSchema,
  hold: followSchema.optional(),
  delivery: deliverySchema.optional(),
});

const listedSchema = z.object({
  spec: listedSpec,
  also: z
    .array(listedSpec)
    .nullish()
    .transform((v) => v ?? []),
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
const writtenBefore = z
  .union([writtenSchema, z.array(z.string()).transform((files) => ({ files, checked: null, also: [] }))])
  .catch({ files: [], checked: null, also: [] });

/** One output, or several that are written in one pass. */
const requestSchema = z.union([
  z.strictObject({ outputs: z.array(outputSpecSchema).min(1).max(20, 'Twenty outputs at most are written at once.') }).transform(({ outputs }) => outputs),
  outputSpecSchema.transform((spec) => [spec]),
]);

export interface OutputSummary {
  spec: OutputSpec;
  subjectName: string | null;
  /** Names of the files, once written, and what was found when they were read back. */
  files: string[];
  checked: Checked | null;
  /** Folder on the server's machine. */
  folder: string;
  /** Its folder within what the job writes; null where that is one output alone. */
  part: string | null;
}
/** What one job writes: an output, or several in one pass. */
export interface OutputJob {
  job: JobSummary;
  outputs: OutputSummary[];
}

/** Folders of outputs that are written together: numbered, so that two of one kind are apart. */
const partOf = ({ kind }: OutputSpec, i: number): string => `${i + 1}-${kind}`;

/** Outputs of the same frames, which are written in one pass, and how many frames those are. */
function passesOf(specs: readonly OutputSpec[], document: ShotDocument): { frames: number; specs: OutputSpec[] }[] {
  const passes = new Map<string, { frames: number; specs: OutputSpec[] }>();
  for (const spec of specs) {
    const task = { document, spec: specWithHandles(spec, document.plate.frames) };
    const { first, last } = writtenFrames(task);
    // Those at a speed of their own count from 0, whichever frames they show.
    const of = `${first}-${last} ${timesOfOutput(task) ? `${task.spec.first}-${task.spec.last}` : ''}`;
    passes.set(of, { frames: last - first + 1, specs: [...(passes.get(of)?.specs ?? []), spec] });
  }
  return [...passes.values()];
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

  /** Where the outputs of a job go. */
  places(jobId: string, specs: readonly OutputSpec[]): OutputPlace[] {
    const directory = this.directory(jobId);
    return specs.map((spec, i) => ({ spec, directory: specs.length > 1 ? path.join(directory, partOf(spec, i)) : directory }));
  }

  /** Queues outputs of the shot as it is now; those of the same frames are one job. The same ones, still waiting or being written, are not queued twice. */
  async requestAll(queue: JobQueue, shotId: string, input: unknown): Promise<string[]> {
    const specs = requestSchema.parse(input);
    const { document } = await this.changes.load(shotId);
    for (const spec of specs) mustBeWritable(spec, document);
    const shown = await documentsShown(document, (id) => this.changes.load(id));
    const jobs: string[] = [];
    for (const {
      frames,
      specs: [spec, ...also],
    } of passesOf(specs, document)) {
      const payload = { spec, ...(also.length > 0 ? { also } : {}), document, shown };
      const text = JSON.stringify(payload);
      const waiting = (await queue.openOnes(shotId, 'output')).find((job) => JSON.stringify(job.payload) === text);
      jobs.push(waiting?.id ?? (await queue.add('output', shotId, payload, frames, { label: document.name })));
    }
    return jobs;
  }

  /** The same of one output alone. */
  async request(queue: JobQueue, shotId: string, spec: unknown): Promise<string> {
    return (await this.requestAll(queue, shotId, spec))[0];
  }

  /** Those that were not cancelled, the newest first. Of their documents only the names of subjects are read. */
  async list(queue: JobQueue, shotId: string): Promise<OutputJob[]> {
    const jobs = await queue.details(shotId, 'output', { spec: '$.spec', also: '$.also', ids: '$.document.cast[*].id', names: '$.document.cast[*].name' });
    return jobs.flatMap(({ job, read, result }) => {
      if (job.state === 'cancelled') return [];
      const { spec, also, ids, names } = listedSchema.parse(read);
      const { also: others, ...one } = writtenBefore.parse(result);
      const written = [one, ...others];
      const outputs = this.places(job.id, [spec, ...also]).map((place, i) => {
        const at = place.spec.subject === undefined ? -1 : ids.indexOf(place.spec.subject);
        return {
          spec: place.spec,
          subjectName: names[at] ?? null,
          ...(written[i] ?? { files: [], checked: null }),
          folder: place.directory,
          part: also.length > 0 ? partOf(place.spec, i) : null,
        };
      });
      return [{ job, outputs }];
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
  async file(jobId: string, name: string, part: string | null = null): Promise<{ stream: ReadableStream; bytes: number }> {
    const isName = (text: string) => text === path.basename(text) && !text.startsWith('.');
    if (!isName(name) || (part !== null && !isName(part))) throw notFound('file');
    const file = path.join(this.directory(jobId), part ?? '', name);
    const info = await stat(file).catch(() => null);
    if (!info?.isFile()) throw notFound('file');
    return { stream: Readable.toWeb(createReadStream(file)) as unknown as ReadableStream, bytes: info.size };
  }

  /** All files of a finished output as one zip, stored without packing again: PNG and movies do not shrink. */
  async zip(queue: JobQueue, jobId: string): Promise<ReadableStream> {
    const job = await queue.get(jobId);
    if (job.kind !== 'output' || job.state !== 'done') throw notFound('output');
    const dir = this.directory(jobId);
    const zip = new ZipArchive({ store: true });
    for (const entry of (await readdir(dir, { recursive: true, withFileTypes: true })).filter((e) => e.isFile())) {
      const file = path.join(entry.parentPath, entry.name);
      zip.file(file, { name: path.relative(dir, file) });
    }
    void zip.finalize();
    return Readable.toWeb(zip) as unknown as ReadableStream;
  }
}
