/** Peels of shots: carrying them as jobs, what was found, and the pictures of it. */
import { randomUUID } from 'node:crypto';
import path from 'node:path';
import type { Logger } from 'pino';
import { Op } from 'sequelize';
import { z } from 'zod';
import { findRecord } from '../../core/document/edits.ts';
import { type PeelTask, peelTask } from '../../core/document/fence.ts';
import { anchorsOf, keysInUse } from '../../core/peel/results/inputs.ts';
import { stretches } from '../../core/peel/strokes/plan.ts';
import { frameSchema } from '../../core/time/animated.ts';
import type { Changes } from '../changes.ts';
import { Shot } from '../db/models.ts';
import { readableDocument } from '../documents.ts';
import { InTurn } from '../in-turn.ts';
import { type CarryPayload, carryPayloadSchema, withPeelAlone } from '../jobs/carry.ts';
import type { JobQueue } from '../jobs/queue.ts';
import { notFound, Problem } from '../problem.ts';
import type { Shots } from '../shots.ts';
import type { PeelPlace } from './carry-peel.ts';
import { type FoundFrame, PeelResults } from './results.ts';

const carrySchema = z
  .strictObject({ part: z.string().max(64), first: frameSchema, last: frameSchema })
  .refine((r) => r.first <= r.last, { error: 'A range ends where it begins or later.' });

/** Of a payload, which may be long, the one thing that is asked here. */
const partOf = carryPayloadSchema.pick({ part: true }).strip();

/** Milliseconds that frames found from strokes that are no more stay. */
const KEEP_STALE = 7 * 86_400_000;

export class Peels {
  private readonly shots: Shots;
  private readonly changes: Changes;
  /** Requests to carry, by shot. */
  private readonly asking = new InTurn();
  private readonly log: Logger;
  constructor(shots: Shots, changes: Changes, log: Logger) {
    this.shots = shots;
    this.changes = changes;
    this.log = log;
  }

  /** @param footage that of imported mattes that can be fences */
  placeOf = (plateId: string, footage: readonly string[]): PeelPlace => ({
    storeDir: this.shots.frameStore(plateId),
    resultsDir: this.resultsDir(plateId),
    fenceDirs: Object.fromEntries(footage.map((id) => [id, this.shots.frameStore(id)])),
  });
  private resultsDir = (plateId: string): string => path.join(this.shots.plateDirectory(plateId), 'peel');
  private results = (plateId: string): PeelResults => new PeelResults(this.resultsDir(plateId));

  /**
   * Queues carrying, as two works where it goes both ways from an anchor; what was being carried of the same part before gives
   * way. Pressed twice, it is the same work.
   */
  async carry(queue: JobQueue, shotId: string, input: unknown, { background = false } = {}): Promise<string[]> {
    const request = carrySchema.parse(input);
    return this.asking.do(shotId, () => this.queueCarry(queue, shotId, request, background));
  }

  private async queueCarry(
    queue: JobQueue,
    shotId: string,
    { part: partId, first, last }: z.infer<typeof carrySchema>,
    background: boolean,
  ): Promise<string[]> {
    const { document } = await this.changes.load(shotId);
    const part = findRecord(document, partId);
    if (part?.type !== 'peel') throw new Problem('no-peel', 'That Peel is no longer in the shot.', 404);
    if (last >= document.plate.frames)
      throw new Problem('out-of-range', `This shot ends at frame ${document.plate.frames - 1 + document.plate.firstNumber}.`, 422);
    const anchors = anchorsOf(peelTask(document, part));
    if (anchors.length === 0) throw new Problem('nothing-kept', 'Nothing is kept: paint at least one keep stroke on the subject.', 422);
    const alone = withPeelAlone(document, part);
    const wanted = stretches(anchors, first, last).map((range): CarryPayload => ({ document: alone, part: partId, ...range }));
    const texts = wanted.map((payload) => JSON.stringify(payload));
    const open = await queue.openOnes(shotId, 'carry');
    const going = new Map<string, string>();
    for (const job of open) {
      if (partOf.safeParse(job.payload).data?.part !== partId) continue;
      const text = JSON.stringify(job.payload);
      if (job.state !== 'paused' && texts.includes(text)) {
        going.set(text, job.id);
        continue;
      }
      await queue.act(job.id, 'cancel').catch((error: unknown) => {
        if (!(error instanceof Problem && error.code === 'job-moved-on')) throw error;
      });
    }
    const [same] = going.values();
    const group = same ? (open.find((job) => job.id === same)?.group ?? same) : randomUUID();
    const about = { group, background, label: `${part.name}, ${document.name}` };
    const ids: string[] = [];
    // One after the other, so that the one with the painted frame in it comes first.
    for (const [i, payload] of wanted.entries())
      ids.push(going.get(texts[i]) ?? (await queue.add('carry', shotId, payload, payload.last - payload.first + 1, about)));
    return ids;
  }

  /** The frames of a Peel of a plate that have been found. */
  foundOf = (plateId: string, task: PeelTask, frames: number): Promise<FoundFrame[]> => this.results(plateId).found(task, 0, frames - 1);

  /** The frames of a part that have been found with its strokes as they are. */
  async found(shotId: string, partId: string): Promise<FoundFrame[]> {
    const { document } = await this.changes.load(shotId);
    const { plate } = await this.shots.shot(shotId);
    const part = findRecord(document, partId);
    if (part?.type !== 'peel') throw notFound('Peel');
    return this.results(plate.id).found(peelTask(document, part), 0, document.plate.frames - 1);
  }

  /**
   * Takes away what was found from strokes that no shot has any more, some days after it was found: until then a stroke that is
   * taken back has its frames back at once. It can all be found again.
   */
  async tidy(now = new Date()): Promise<void> {
    const before = new Date(now.getTime() - KEEP_STALE);
    for (const { id, plateId } of await Shot.findAll({ where: { document: { [Op.ne]: null } }, attributes: ['id', 'plateId'] })) {
      const results = this.results(plateId);
      const old = await results.keysBefore(before);
      // Documents can be large: only those are read for which there is something to decide.
      const text = old.length > 0 && (await Shot.findByPk(id, { attributes: ['document'] }))?.document;
      if (!text) continue;
      const document = readableDocument(text);
      // What cannot be read may use any of them.
      if (!document) continue;
      const used = new Set<string>();
      for (const part of document.cast.flatMap((s) => s.parts))
        if (part.type === 'peel') for (const key of keysInUse(peelTask(document, part), document.plate.frames)) used.add(key);
      const stale = old.filter((key) => !used.has(key));
      for (const key of stale) await results.forget(key);
      if (stale.length > 0) this.log.info({ shotId: id, sets: stale.length }, 'What Peels found from strokes that are no more was taken away');
    }
  }

  picture = (plateId: string, key: string, frame: number): Promise<Buffer> => this.results(plateId).read(key, frame);
}
