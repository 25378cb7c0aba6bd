/** What is kept for use again, in all productions: shapes and presets. */
import { randomUUID } from 'node:crypto';
import { type LibraryItem, libraryItemSchema } from '../core/document/library.ts';
import { LibraryRow } from './db/models.ts';
import { notFound, Problem } from './problem.ts';
import type { Shots } from './shots.ts';

export type LibraryEntry = LibraryItem & { id: string };

/** Things that are kept at most. */
const MOST = 5000;

export class Library {
  private readonly shots: Shots;
  constructor(shots: Shots) {
    this.shots = shots;
  }

  async list(productionId: string): Promise<LibraryEntry[]> {
    await this.shots.production(productionId);
    const rows = await LibraryRow.findAll({ order: [['createdAt', 'ASC']] });
    // What another version kept stays, and is offered where it can be read.
    return rows.flatMap(({ id, kind, name, content }) => {
      const item = libraryItemSchema.safeParse({ kind, name, content: JSON.parse(content) });
      return item.success ? [{ id, ...item.data }] : [];
    });
  }

  async add(productionId: string, value: unknown): Promise<LibraryEntry> {
    await this.shots.production(productionId);
    const item = libraryItemSchema.parse(value);
    if ((await LibraryRow.count()) >= MOST)
      throw new Problem('library-full', `The library holds ${MOST} shapes and presets already. Take some away first.`, 409);
    const { id } = await LibraryRow.create({ id: randomUUID(), productionId, kind: item.kind, name: item.name, content: JSON.stringify(item.content) });
    return { id, ...item };
  }

  async remove(productionId: string, id: string): Promise<void> {
    await this.shots.production(productionId);
    if ((await LibraryRow.destroy({ where: { id } })) === 0) throw notFound('item of the library');
  }
}
