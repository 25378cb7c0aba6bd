/** Writing an output as a job. The document is kept as it was when the output was asked for. */
import { rm } from 'node:fs/promises';
import { parseDocument } from '../../core/document/edits.ts';
import { footageOf, matteFootageOf } from '../../core/document/parts.ts';
import type { OutputPayload, Outputs } from '../outputs/outputs.ts';
import type { OutputTask } from '../outputs/task.ts';
import type { Peels } from '../peel/peels.ts';
import type { Shots } from '../shots.ts';
import type { JobKind } from './queue.ts';

export const outputJob = (shots: Shots, outputs: Outputs, peels: Peels): JobKind => ({
  async prepare(job): Promise<OutputTask> {
    const { spec, document: kept } = JSON.parse(job.payload) as OutputPayload;
    // It may have been asked for before a newer version was started.
    const document = parseDocument(kept);
    const { plate } = await shots.shot(job.shotId);
    const others = await shots.originalsOf(footageOf(document));
    const footage = { probe: shots.probeOf(plate), originals: shots.originals(plate.id) };
    return { document, spec, others, directory: outputs.directory(job.id), footage, peel: peels.placeOf(plate.id, matteFootageOf(document)) };
  },
  async finish(job, result) {
    job.result = JSON.stringify(result);
    await job.save();
  },
  async abandon(job) {
    await rm(outputs.directory(job.id), { recursive: true, force: true });
  },
});
