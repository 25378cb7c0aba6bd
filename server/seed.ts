/** The demo production "Low Tide Post": brought in through the same ingest as any footage. */
import { copyFile, mkdir } from 'node:fs/promises';
import path from 'node:path';
import { setTimeout as sleep } from 'node:timers/promises';
import type { Edit } from '../core/document/edits.ts';
import { newPath, newPeel, newSpline, newStroke, newSubject } from '../core/document/records.ts';
import type { LaneItem, ShotDocument } from '../core/document/schema.ts';
import { newLaneEffect } from '../core/effects/lane-effect.ts';
import { newElement } from '../core/elements/index.ts';
import type { Shape } from '../core/path/path.ts';
import { strokesFromFile } from '../core/peel/strokes-file.ts';
import courier from '../demo/courier-strokes.json' with { type: 'json' };
import outlines from '../demo/lantern-outline.json' with { type: 'json' };
import { ROOT } from './config.ts';
import { Production } from './db/models.ts';
import { Problem } from './problem.ts';
import type { Services } from './services.ts';

const CLIPS = path.join(ROOT, 'demo', 'clips');
export const DEMO_NAME = 'Low Tide Post';

async function bringIn({ uploads, shots, queue }: Services, productionId: string, clip: string, name: string): Promise<string> {
  const uploadId = await uploads.create();
  await mkdir(uploads.directory(uploadId), { recursive: true });
  await copyFile(path.join(CLIPS, clip), path.join(uploads.directory(uploadId), `0000000~${clip}`));
  const { shotId } = await shots.createFromUpload({ productionId, uploadId, name, rate: '24' });
  queue.wake();
  for (;;) {
    const [job] = await queue.list({ shotId });
    if (job?.state === 'done') return shotId;
    if (job?.state === 'failed') throw new Problem('demo-failed', `The demo clip ${clip} could not be brought in. ${job.message ?? ''}`, 500);
    await sleep(50);
  }
}

/** A title and rings of light, covered by the lantern. */
function behindTheLantern(document: ShotDocument, subject: string): LaneItem[] {
  const title = newElement(document, 'lantern-title', 'behind', subject, 'title');
  const rings = newElement(document, 'lantern-rings', 'behind', subject, 'rings');
  const still = (values: Record<string, number | number[] | string>) =>
    Object.fromEntries(Object.entries(values).map(([key, constant]) => [key, { constant }]));
  return [
    { ...title, words: 'LOW TIDE\nPOST', settings: { ...title.settings, ...still({ size: 112, x: 470, y: 258, colour: [0.83, 0.81, 0.75], spacing: 4 }) } },
    {
      ...rings,
      blend: 'screen',
      mix: { constant: 0.7 },
      settings: { ...rings.settings, ...still({ rate: 1.5, speed: 110, life: 2, birthWidth: 5, deathWidth: 2, glow: 6, colour: [1, 0.78, 0.4] }) },
    },
  ];
}

/** The finished example: the lantern by a keyed curve, its edge softened, the quayside behind it darker and out of focus. */
function lanternExample(document: ShotDocument): Edit[] {
  const body = outlines.paths.map((keys, i) => ({
    ...newPath(`lantern-path-${i}`, 0, [], true),
    shape: { keys: keys.map(({ frame, shape }) => ({ frame, value: shape, ease: 'linear' as const })) },
  }));
  const handle = {
    ...newPath('lantern-handle-path', 0, [], true),
    shape: { keys: outlines.handle.map(({ frame, shape }) => ({ frame, value: shape, ease: 'linear' as const })) },
  };
  const still = (id: string, shape: Shape) => ({ ...newPath(id, 0, [], true), shape: { constant: shape } });
  const subject = newSubject('lantern', 'Storm lantern');
  subject.parts.push(newSpline('lantern-body', 'Body', body), newSpline('lantern-handle', 'Handle', [handle]));
  // What stands in front of the lantern is taken away again, bars and cross rail apart: where they cross, one part would cut a hole.
  const bars = [...outlines.railings.slice(0, -1), ...outlines.finials].map((shape, i) => still(`bar-${i}`, shape));
  subject.parts.push({ ...newSpline('lantern-bars', 'Bars in front', bars), operation: 'subtract' });
  subject.parts.push({ ...newSpline('lantern-rail', 'Cross rail', [still('rail', outlines.railings[outlines.railings.length - 1])]), operation: 'subtract' });
  subject.edge = { ...subject.edge, featherIn: { constant: 1.5 }, featherOut: { constant: 2 } };
  const blur = newLaneEffect('behind-blur', 'behind', subject.id, 'gaussian-blur');
  blur.settings = { x: { constant: 7 }, y: { constant: 7 } };
  const grade = newLaneEffect('behind-grade', 'behind', subject.id, 'grade');
  grade.settings = { exposure: { constant: -0.7 }, saturation: { constant: 55 } };
  const lanes: LaneItem[] = [blur, grade, ...behindTheLantern(document, subject.id)];
  return [
    { kind: 'insert', parent: 'cast', index: 0, record: subject },
    ...lanes.map((record, index): Edit => ({ kind: 'insert', parent: 'lanes', index, record })),
  ];
}

/** The courier by strokes on one frame, to be carried. */
function courierExample(): Edit[] {
  const strokes = strokesFromFile(courier).strokes.map((s, i) => newStroke(`courier-stroke-${i}`, s.frame, s.kind, [...s.points], s.radius));
  const subject = { ...newSubject('courier', 'Courier'), parts: [newPeel('courier-peel', 'Trike and rider', strokes)] };
  return [{ kind: 'insert', parent: 'cast', index: 0, record: subject }];
}

/** Seeds the demo where the database holds nothing; gives whether it did. */
export async function seedIfEmpty(services: Services): Promise<boolean> {
  if ((await Production.count()) > 0) return false;
  await seedDemo(services);
  return true;
}

export async function seedDemo(services: Services): Promise<void> {
  const productionId = await services.shots.createProduction(DEMO_NAME);
  const lantern = await bringIn(services, productionId, 'storm-lantern.mp4', 'Storm lantern');
  const { document } = await services.changes.load(lantern);
  await services.changes.setUp(lantern, { id: `demo-${lantern}`, label: 'Demo example', edits: lanternExample(document) });
  const quay = await bringIn(services, productionId, 'courier-on-the-quay.mp4', 'Courier on the quay');
  await services.changes.setUp(quay, { id: `demo-${quay}`, label: 'Demo example', edits: courierExample() });
  await bringIn(services, productionId, 'ferry-ramp.mp4', 'Ferry ramp');
  await bringIn(services, productionId, 'dune-kite.mp4', 'Kite over the dunes');
  await bringIn(services, productionId, 'empty-quay.mp4', 'Empty quay (clean plate)');
}

/** Takes demo productions away for good and seeds anew. */
export async function resetDemo(services: Services): Promise<void> {
  for (const production of await Production.findAll({ where: { name: DEMO_NAME } })) await services.shots.destroyProduction(production.id);
  await seedDemo(services);
}
