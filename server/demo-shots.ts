/** Shots of the clips of the demo film. */
import { copyFile } from 'node:fs/promises';
import path from 'node:path';
import { guideById } from '../core/guides/guides.ts';
import { Production } from './db/models.ts';
import type { Uploads } from './footage/uploads.ts';
import { InTurn } from './in-turn.ts';
import type { JobQueue } from './jobs/queue.ts';
import { Problem } from './problem.ts';
import { ROOT } from './root.ts';
import type { Shots } from './shots.ts';

const CLIPS = path.join(ROOT, 'demo', 'clips');
export const DEMO_NAME = 'Low Tide Post';

/** What shots are made with. */
interface Makers {
  uploads: Uploads;
  shots: Shots;
  queue: JobQueue;
}

/** Makes a shot of a clip; it comes in by itself. */
export async function beginShot(
  { uploads, shots, queue }: Makers,
  productionId: string,
  clip: string,
  name: string,
): Promise<{ shotId: string; plateId: string }> {
  const uploadId = await uploads.create();
  await copyFile(path.join(CLIPS, clip), path.join(uploads.directory(uploadId), `0000000~${clip}`));
  const made = await shots.createFromUpload({ productionId, uploadId, name, rate: '24' });
  queue.wake();
  return made;
}

const guideShots = new InTurn();

/** A shot of the demo film on which a guide can be tried: one that nothing was done on yet, or a new one, which comes in by itself. */
export async function shotForGuide(makers: Makers, guideId: string): Promise<{ shotId: string; ready: boolean }> {
  const guide = guideById(guideId);
  if (!guide) throw new Problem('no-guide', 'There is no such guide.', 404);
  return guideShots.do(guideId, async () => {
    const demo = await Production.findOne({ where: { name: DEMO_NAME, deletedAt: null } });
    const productionId = demo?.id ?? (await makers.shots.createProduction(DEMO_NAME));
    const name = `${guide.title} (guide)`;
    const untouched = (await makers.shots.shots(productionId)).find((s) => s.name === name && !s.subjects && s.state !== 'failed');
    if (untouched) return { shotId: untouched.id, ready: untouched.state === 'ready' };
    return { shotId: (await beginShot(makers, productionId, guide.clip, name)).shotId, ready: false };
  });
}
