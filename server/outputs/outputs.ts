/** Outputs of a shot: asking for one, listing them, and handing their files out. */
import { createReadStream } from 'node:fs';
import { readdir, rm, stat } from 'node:fs/promises';
import path from 'node:path';
import { Readable } from 'node:stream';
import { ZipArchive } from 'archiver';
import { Op } from 'sequelize';
import type { ShotDocument } from '../../core/document/schema.ts';
import type { Changes } from '../changes.ts';
import type { Config } from '../config.ts';
import { Job } from '../db/models.ts';
import type { JobQueue, JobSummary } from '../jobs/queue.ts';
import { notFound, Problem } from '../problem.ts';
import { type OutputSpec, outputSpecSchema } from './spec.ts';

/** What an output job is to do: the document is kept as it was when the output was asked for. */
export interface OutputPayload {
  spec: OutputSpec;
  document: ShotDocument;
}

export interface OutputSummary {
  job: JobSummary;
  spec: OutputSpec;
  subjectName: string | null;
  /** Names of the files, once written. */
  files: string[];
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
    if ('subject' in spec && !document.cast.some((s) => s.id === spec.subject))
      throw new Problem('no-subject', 'That subject is no longer in the cast. Choose another.', 422);
    const payload: OutputPayload = { spec, document };
    const text = JSON.stringify(payload);
    const waiting = await Job.findOne({ where: { shotId, kind: 'output', state: { [Op.in]: ['queued', 'running', 'paused'] }, payload: text } });
    return waiting?.id ?? queue.add('output', shotId, payload, spec.last - spec.first + 1, { label: document.name });
  }

  async list(queue: JobQueue, shotId: string): Promise<OutputSummary[]> {
    const summaries = new Map((await queue.list({ shotId })).map((s) => [s.id, s]));
    const rows = await Job.findAll({ where: { shotId, kind: 'output', state: { [Op.ne]: 'cancelled' } }, order: [['createdAt', 'DESC']], limit: 100 });
    return rows.flatMap((row) => {
      const job = summaries.get(row.id);
      if (!job) return [];
      const { spec, document } = JSON.parse(row.payload) as OutputPayload;
      const subjectName = 'subject' in spec ? (document.cast.find((s) => s.id === spec.subject)?.name ?? null) : null;
      return [{ job, spec, subjectName, files: row.result ? (JSON.parse(row.result) as string[]) : [], folder: this.directory(row.id) }];
    });
  }

  /** Outputs of a shot that were written and are there. */
  countDone = (shotId: string): Promise<number> => Job.count({ where: { shotId, kind: 'output', state: 'done' } });

  /** Takes a finished output and its files away. */
  async remove(jobId: string): Promise<void> {
    const job = await Job.findByPk(jobId);
    if (job?.kind !== 'output') throw notFound('output');
    if (job.state === 'queued' || job.state === 'running' || job.state === 'paused')
      throw new Problem('still-running', 'This output is still being written. Cancel it first.', 409);
    await job.destroy();
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
  async zip(jobId: string): Promise<ReadableStream> {
    const job = await Job.findByPk(jobId);
    if (job?.kind !== 'output' || job.state !== 'done') throw notFound('output');
    const dir = this.directory(jobId);
    const zip = new ZipArchive({ store: true });
    for (const name of (await readdir(dir)).sort()) zip.file(path.join(dir, name), { name });
    void zip.finalize();
    return Readable.toWeb(zip) as unknown as ReadableStream;
  }
}
