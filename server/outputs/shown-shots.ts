/** Where a shot's footage and what was found on it are, and which other shots it shows something of. */
import { footageOf, madeElsewhere, matteFootageOf } from '../../core/document/parts.ts';
import type { ShotDocument } from '../../core/document/schema.ts';
import type { Peels } from '../peel/peels.ts';
import { Problem } from '../problem.ts';
import type { Shots } from '../shots.ts';
import type { ShotMaterial } from './task.ts';

/** The document of a shot, and where all that it is made from lies. */
async function materialOf(shotId: string, document: ShotDocument, { shots, peels }: { shots: Shots; peels: Peels }): Promise<ShotMaterial> {
  const { plate } = await shots.shot(shotId);
  return {
    document,
    footage: { probe: shots.probeOf(plate), originals: shots.originals(plate.id) },
    others: await shots.originalsOf(footageOf(document)),
    peel: peels.placeOf(plate.id, matteFootageOf(document)),
  };
}

/** The same with all that other shots are made from which it shows something of. @param shown their documents, by id */
export async function materialWith(shotId: string, document: ShotDocument, shown: Record<string, ShotDocument>, services: { shots: Shots; peels: Peels }) {
  const others = await Promise.all(Object.entries(shown).map(async ([id, other]) => [id, await materialOf(id, other, services)] as const));
  return { ...(await materialOf(shotId, document, services)), shots: Object.fromEntries(others) };
}

/**
 * The documents, as they are now, of all other shots that a shot shows something of, by id.
 * @throws Problem where one of them is no longer there
 */
export async function documentsShown(
  document: ShotDocument,
  load: (shotId: string) => Promise<{ document: ShotDocument }>,
): Promise<Record<string, ShotDocument>> {
  const found: Record<string, ShotDocument> = {};
  const open = madeElsewhere(document);
  const followed = new Set<string>();
  for (let made = open.pop(); made; made = open.pop()) {
    const { shot, subject } = made;
    found[shot] ??= (
      await load(shot).catch((error: unknown) => {
        if (error instanceof Problem && error.status === 404)
          throw new Problem('no-shot', 'A shot that this one shows is no longer there. Bring it back, or choose other footage for what shows it.', 409);
        throw error;
      })
    ).document;
    // A cut-out is made of its plate and its cast alone; a finished picture also of what that shot shows in turn.
    if (subject !== null || followed.has(shot)) continue;
    followed.add(shot);
    open.push(...madeElsewhere(found[shot]));
  }
  return found;
}
