import { copyFile, stat } from 'node:fs/promises';
import path from 'node:path';
import { setTimeout as sleep } from 'node:timers/promises';
import { Problem } from '../server/problem.ts';
import { WrongCall } from './call.ts';
import { withServices } from './open.ts';

export interface IngestOptions {
  production: string;
  name?: string;
  rate: string;
  data?: string;
}

export async function ingestCommand(name: string, options: IngestOptions): Promise<void> {
  const file = path.resolve(name);
  const info = await stat(file).catch(() => null);
  if (!info?.isFile()) throw new WrongCall(`There is no file ${file}.`);
  const shotId = await withServices(options.data, true, async ({ shots, uploads, queue, config }) => {
    if (info.size > config.limits.fileBytes)
      throw new Problem('too-large', `${file} is larger than is allowed for one file. Raise MOTTREL_MAX_FILE_MB to take it.`, 413);
    const wanted = options.production;
    const productionId = (await shots.productions()).find((p) => p.name === wanted)?.id ?? (await shots.createProduction(wanted));
    const uploadId = await uploads.create();
    await copyFile(file, path.join(uploads.directory(uploadId), `0000000~${path.basename(file)}`));
    const made = await shots.createFromUpload({ productionId, uploadId, name: options.name, rate: options.rate });
    for (const note of made.notes) console.error(note);
    queue.wake();
    for (;;) {
      const [job] = await queue.list({ shotId: made.shotId });
      if (job.state === 'done') return made.shotId;
      if (job.state === 'failed' || job.state === 'cancelled') throw new Problem('ingest-failed', job.message ?? 'It was cancelled.', 422);
      await sleep(100);
    }
  });
  console.log(shotId);
}
