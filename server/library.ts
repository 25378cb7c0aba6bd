/** The shapes that a production keeps for use again. */
import { randomUUID } from 'node:crypto';
import { type CurvesFile, curvesFileSchema } from '../core/document/curves-file.ts';
import { LibraryShape } from './db/models.ts';
import { notFound, Problem } from './problem.ts';
import type { Shots } from './shots.ts';

export interface LibraryEntry {
  id: string;
  name: string;
  curves: CurvesFile;
}

/** Shapes that a production keeps at most. */
const MOST = 500;

export class Library {
  private readonly shots: Shots;
  constructor(shots: Shots) {
    this.shots = shots;
  }

  async list(productionId: string): Promise<LibraryEntry[]> {
    await this.shots.production(productionId);
    const rows = await LibraryShape.findAll({ where: { productionId }, order: [['createdAt', 'ASC']] });
    return rows.map(({ id, name, curves }) => ({ id, name, curves: curvesFileSchema.parse(JSON.parse(curves)) }));
  }

  async add(productionId: string, value: unknown): Promise<LibraryEntry> {
    await this.shots.production(productionId);
    const curves = curvesFileSchema.parse(value);
    if ((await LibraryShape.count({ where: { productionId } })) >= MOST)
      throw new Problem('library-full', `The library of this production holds ${MOST} shapes already. Take some away first.`, 409);
    const row = await LibraryShape.create({ id: randomUUID(), productionId, name: curves.name, curves: JSON.stringify(curves) });
    return { id: row.id, name: row.name, curves };
  }

  async remove(productionId: string, id: string): Promise<void> {
    if ((await LibraryShape.destroy({ where: { id, productionId } })) === 0) throw notFound('shape');
  }
}
