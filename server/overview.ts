/** Shots that were worked on last, with how far the work on each is. */
import { Op } from 'sequelize';
import { isDoubtful } from '../core/document/approval.ts';
import { peelTask } from '../core/document/fence.ts';
import { firstWorkedFrame } from '../core/document/first-worked.ts';
import type { ShotDocument } from '../core/document/schema.ts';
import { type Plate, Production, Shot } from './db/models.ts';
import { readableDocument } from './documents.ts';
import type { Peels } from './peel/peels.ts';

export interface RecentShot {
  id: string;
  name: string;
  production: { id: string; name: string };
  plateId: string;
  frames: number;
  /** The number shown for frame 0. */
  firstNumber: number;
  subjects: number;
  /** What is in the lanes. */
  composed: number;
  /** Frames that are approved of any subject, and found frames that are much in doubt and not approved. */
  approved: number;
  doubtful: number;
  /** Frames of Peels that are found; of how many, where there is a Peel. */
  found: number | null;
  /** The frame on which there is first something to see; the middle one of what is untouched. */
  shows: number;
  updatedAt: string;
}

/** How far the work on a shot is. */
async function progressOf(document: ShotDocument, plateId: string, peels: Peels): Promise<Pick<RecentShot, 'approved' | 'doubtful' | 'found'>> {
  const approved = new Set<number>();
  const doubtful = new Set<number>();
  const found = new Set<number>();
  let any = false;
  for (const subject of document.cast) {
    for (const { first, last } of subject.approved) for (let f = first; f <= Math.min(last, document.plate.frames - 1); f++) approved.add(f);
    for (const part of subject.parts) {
      if (part.type !== 'peel') continue;
      any = true;
      for (const one of await peels.foundOf(plateId, peelTask(document, part), document.plate.frames)) {
        found.add(one.frame);
        if (isDoubtful(subject, one)) doubtful.add(one.frame);
      }
    }
  }
  return { approved: approved.size, doubtful: doubtful.size, found: any ? found.size : null };
}

/** The newest first. */
export async function recentShots(peels: Peels, count: number): Promise<RecentShot[]> {
  const rows = await Shot.findAll({
    where: { deletedAt: null, document: { [Op.ne]: null } },
    include: [{ model: Production, as: 'production', where: { deletedAt: null } }, 'plate'],
    order: [['updatedAt', 'DESC']],
    limit: count,
  });
  const recent = await Promise.all(
    rows.map(async (shot): Promise<RecentShot | null> => {
      const { production, plate } = shot as unknown as { production: Production; plate: Plate };
      const document = readableDocument(shot.document as string);
      if (!document) return null;
      return {
        id: shot.id,
        name: shot.name,
        production: { id: production.id, name: production.name },
        plateId: plate.id,
        frames: document.plate.frames,
        firstNumber: document.plate.firstNumber,
        subjects: document.cast.length,
        composed: document.lanes.length,
        ...(await progressOf(document, plate.id, peels)),
        // An untouched shot may begin in the dark.
        shows: document.cast.length + document.lanes.length > 0 ? firstWorkedFrame(document) : Math.floor(document.plate.frames / 2),
        updatedAt: shot.updatedAt.toISOString(),
      };
    }),
  );
  return recent.filter((shot) => shot !== null);
}
