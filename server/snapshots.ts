/** Documents of a shot as they were, under names, to compare later states with. */
import { randomUUID } from 'node:crypto';
import { z } from 'zod';
import { nameSchema, type ShotDocument } from '../core/document/schema.ts';
import { Snapshot } from './db/models.ts';
import { sentDocument, storedDocument } from './documents.ts';
import { notFound, Problem } from './problem.ts';
import type { Shots } from './shots.ts';

export interface SnapshotName {
  id: string;
  name: string;
}

/** Snapshots that a shot keeps at most. */
const MOST = 50;

const requestSchema = z.strictObject({ name: nameSchema, document: z.unknown() });

export class Snapshots {
  private readonly shots: Shots;
  constructor(shots: Shots) {
    this.shots = shots;
  }

  async list(shotId: string): Promise<SnapshotName[]> {
    await this.shots.shot(shotId);
    const rows = await Snapshot.findAll({ where: { shotId }, attributes: ['id', 'name'], order: [['createdAt', 'ASC']] });
    return rows.map(({ id, name }) => ({ id, name }));
  }

  /** Keeps the document as the page has it, with what it has not sent yet. */
  async add(shotId: string, value: unknown): Promise<SnapshotName> {
    await this.shots.shot(shotId);
    const { name, document } = requestSchema.parse(value);
    const text = JSON.stringify(sentDocument(document));
    if ((await Snapshot.count({ where: { shotId } })) >= MOST)
      throw new Problem('too-many-snapshots', `This shot has ${MOST} snapshots already. Delete one first.`, 409);
    const { id } = await Snapshot.create({ id: randomUUID(), shotId, name, document: text });
    return { id, name };
  }

  async document(shotId: string, id: string): Promise<ShotDocument> {
    await this.shots.shot(shotId);
    const row = await Snapshot.findOne({ where: { id, shotId } });
    if (!row) throw notFound('snapshot');
    return storedDocument(row.document);
  }

  async remove(shotId: string, id: string): Promise<void> {
    await this.shots.shot(shotId);
    if ((await Snapshot.destroy({ where: { id, shotId } })) === 0) throw notFound('snapshot');
  }
}
