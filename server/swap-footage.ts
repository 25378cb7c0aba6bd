/** Other footage under the work of a shot: two shots swap theirs, so that nothing is lost and doing it again takes it back; or its frames are made again. */
import { rm } from 'node:fs/promises';
import type { Sequelize } from 'sequelize';
import type { Changes } from './changes.ts';
import { Job, type Plate, Shot } from './db/models.ts';
import { storedDocument } from './documents.ts';
import { closeStoresOf } from './footage/frame-store.ts';
import { soundDirectory } from './footage/sound.ts';
import type { JobQueue } from './jobs/queue.ts';
import { notFound, Problem } from './problem.ts';
import { plateFacts, type Shots } from './shots.ts';

interface Works {
  sequelize: Sequelize;
  shots: Shots;
  changes: Changes;
  queue: JobQueue;
}

/** @throws Problem where something still works on the shot */
async function mustBeQuiet(queue: JobQueue, shotId: string, name: string): Promise<void> {
  const [open] = await queue.list({ shotId, open: true });
  if (open) throw new Problem('busy', `Something still works on "${name}" (${open.doing.toLowerCase()}). Wait until it is done, or cancel it first.`, 409);
}

/** Gives each of two shots the footage of the other; what was made in them stays. @throws Problem in words where that cannot be */
export async function swapFootage({ sequelize, shots, changes, queue }: Works, shotId: string, otherId: string): Promise<void> {
  if (shotId === otherId) throw new Problem('same-shot', 'A shot has its own footage already. Choose another shot.', 422);
  for (const id of [shotId, otherId]) await mustBeQuiet(queue, id, (await shots.shot(id)).shot.name);
  await sequelize.transaction(async (transaction) => {
    // Always in the same order, so that two that swap at once do not wait for each other.
    const rows = await Shot.findAll({
      where: { id: [shotId, otherId], deletedAt: null },
      include: ['plate'],
      order: [['id', 'ASC']],
      transaction,
      lock: { level: transaction.LOCK.UPDATE, of: Shot },
    });
    if (rows.length < 2) throw notFound('shot');
    const both = rows.map((shot) => ({ shot, plate: (shot as unknown as { plate: Plate }).plate }));
    const [one, other] = both[0].shot.id === shotId ? both : both.reverse();
    for (const { plate } of [one, other]) shots.requireReady(plate);
    if (one.shot.productionId !== other.shot.productionId) throw new Problem('other-production', 'These shots are of different productions.', 422);
    if (one.plate.width !== other.plate.width || one.plate.height !== other.plate.height)
      throw new Problem(
        'other-size',
        `The footage of "${one.shot.name}" is ${one.plate.width}×${one.plate.height}, that of "${other.shot.name}" ${other.plate.width}×${other.plate.height}. Only footage of the same size can be swapped: what was drawn would not fit.`,
        422,
      );
    for (const [{ shot }, { plate }] of [
      [one, other],
      [other, one],
    ] as const) {
      const document = storedDocument(shot.document as string);
      await shot.update({ plateId: plate.id, document: JSON.stringify({ ...document, plate: plateFacts(plate) }), updatedAt: new Date() }, { transaction });
    }
  });
  for (const id of [shotId, otherId]) changes.tellFootage(id);
}

/** Drops the frames that are worked on, and has them made again from what was brought in. */
export async function buildFramesAnew({ shots, changes, queue }: Works, shotId: string): Promise<void> {
  const { shot, plate } = await shots.shot(shotId);
  await mustBeQuiet(queue, shotId, shot.name);
  const job = await Job.findOne({ where: { kind: 'ingest', shotId }, order: [['createdAt', 'DESC']] });
  if (!job) throw notFound('footage');
  const dir = shots.plateDirectory(plate.id);
  await shots.setPlateState(plate.id, 'waiting');
  await closeStoresOf(dir);
  await rm(shots.frameStore(plate.id), { recursive: true, force: true });
  await rm(soundDirectory(dir), { recursive: true, force: true });
  await job.update({ state: 'paused', done: 0, message: null });
  await queue.act(job.id, 'resume');
  changes.tellFootage(shotId);
}
