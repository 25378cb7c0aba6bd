/** The demo production "Low Tide Post": brought in through the same ingest as any footage. */
import { setTimeout as sleep } from 'node:timers/promises';
import type { Edit } from '../core/document/edits.ts';
import { addedEdits } from '../core/document/library.ts';
import { newPeel } from '../core/document/part-kinds/peel.ts';
import { newSpline } from '../core/document/part-kinds/spline.ts';
import { newPath, newRegionTrack, newStroke, newSubject } from '../core/document/records.ts';
import type { LaneItem, ShotDocument } from '../core/document/schema.ts';
import { newLaneEffect } from '../core/effects/lane-effect.ts';
import { constantsOf } from '../core/effects/settings.ts';
import { newElement } from '../core/elements/index.ts';
import { inverseOf, multiply, toCorners } from '../core/math/homography.ts';
import { ASPECTS, atOf } from '../core/math/motion.ts';
import { corner, type Shape } from '../core/path/path.ts';
import { strokesFromFile } from '../core/peel/strokes/strokes-file.ts';
import kiteMarks from '../demo/clips/dune-kite.marks.json' with { type: 'json' };
import rampMarks from '../demo/clips/ferry-ramp.marks.json' with { type: 'json' };
import courierStrokes from '../demo/courier-strokes.json' with { type: 'json' };
import outlines from '../demo/lantern-outline.json' with { type: 'json' };
import { Production } from './db/models.ts';
import { beginShot, DEMO_NAME } from './demo-shots.ts';
import { Problem } from './problem.ts';
import type { Services } from './services.ts';

async function bringIn(services: Services, productionId: string, clip: string, name: string): Promise<{ shotId: string; plateId: string }> {
  const { queue } = services;
  const made = await beginShot(services, productionId, clip, name);
  const { shotId } = made;
  for (;;) {
    const [job] = await queue.list({ shotId });
    if (job?.state === 'done') return made;
    if (job?.state === 'failed') throw new Problem('demo-failed', `The demo clip ${clip} could not be brought in. ${job.message ?? ''}`, 500);
    await sleep(50);
  }
}

/** A title and rings of light, covered by the lantern. */
function behindTheLantern(document: ShotDocument, subject: string): LaneItem[] {
  const title = newElement(document, 'lantern-title', 'behind', subject, 'title');
  const rings = newElement(document, 'lantern-rings', 'behind', subject, 'rings');
  return [
    {
      ...title,
      words: 'LOW TIDE\nPOST',
      settings: { ...title.settings, ...constantsOf({ size: 112, x: 470, y: 258, colour: [0.83, 0.81, 0.75], spacing: 4 }) },
    },
    {
      ...rings,
      blend: 'screen',
      mix: { constant: 0.7 },
      settings: { ...rings.settings, ...constantsOf({ rate: 1.5, speed: 110, life: 2, birthWidth: 5, deathWidth: 2, glow: 6, colour: [1, 0.78, 0.4] }) },
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
  const fixed = (id: string, shape: Shape) => ({ ...newPath(id, 0, [], true), shape: { constant: shape } });
  const subject = newSubject('lantern', 'Storm lantern');
  subject.parts.push(newSpline('lantern-body', 'Body', body), newSpline('lantern-handle', 'Handle', [handle]));
  // What stands in front of the lantern is taken away again, bars and cross rail apart: where they cross, one part would cut a hole.
  const bars = [...outlines.railings.slice(0, -1), ...outlines.finials].map((shape, i) => fixed(`bar-${i}`, shape));
  subject.parts.push({ ...newSpline('lantern-bars', 'Bars in front', bars), operation: 'subtract' });
  subject.parts.push({ ...newSpline('lantern-rail', 'Cross rail', [fixed('rail', outlines.railings[outlines.railings.length - 1])]), operation: 'subtract' });
  subject.edge = { ...subject.edge, featherIn: { constant: 1.5 }, featherOut: { constant: 2 } };
  const blur = newLaneEffect('behind-blur', 'behind', subject.id, 'gaussian-blur');
  blur.settings = { x: { constant: 7 }, y: { constant: 7 } };
  const grade = newLaneEffect('behind-grade', 'behind', subject.id, 'grade');
  grade.settings = { exposure: { constant: -0.7 }, saturation: { constant: 55 } };
  const lanes: LaneItem[] = [blur, grade, ...behindTheLantern(document, subject.id)];
  return [{ kind: 'insert', parent: 'cast', index: 0, record: subject }, ...addedEdits(document, lanes)];
}

/** The courier by strokes on one frame, to be carried; words on the quay behind, which is darker. */
function courierExample(document: ShotDocument): Edit[] {
  const strokes = strokesFromFile(courierStrokes).strokes.map((s, i) => newStroke(`courier-stroke-${i}`, s.frame, s.kind, [...s.points], s.radius));
  const subject = { ...newSubject('courier', 'Courier'), parts: [newPeel('courier-peel', 'Trike and rider', strokes)] };
  subject.edge = { ...subject.edge, featherOut: { constant: 1.5 } };
  const grade = { ...newLaneEffect('courier-grade', 'behind', subject.id, 'grade'), settings: constantsOf({ exposure: -0.6, saturation: 60 }) };
  const title = newElement(document, 'courier-title', 'behind', subject.id, 'title');
  const words = {
    ...title,
    words: 'BY TRIKE\nBEFORE HIGH TIDE',
    settings: { ...title.settings, ...constantsOf({ size: 92, x: 480, y: 236, colour: [0.93, 0.86, 0.7] }) },
  };
  return [{ kind: 'insert', parent: 'cast', index: 0, record: subject }, ...addedEdits(document, [grade, words])];
}

/** The sign of the ferry ramp followed through the shot, and another shot put on it. */
function rampExample(document: ShotDocument, shown: { plateId: string; frames: number }): Edit[] {
  const marks = rampMarks as unknown as Record<string, number[][]>;
  const cornersOn = (frame: number) => [0, 1, 2, 3].flatMap((i) => marks[`sign-${i}`][frame].slice(0, 2));
  const start = 30;
  const outline = [0, 1, 2, 3].map((i) => corner(marks[`sign-${i}`][start][0], marks[`sign-${i}`][start][1]));
  const track = newRegionTrack({ id: 'ramp-track', name: 'Track of Sign', frame: start, lines: document.plate.height }, [outline], 'perspective');
  const square = toCorners(cornersOn(start));
  const back = square && inverseOf(square);
  const keys = marks['sign-0'].flatMap((_, frame) => {
    const there = toCorners(cornersOn(frame));
    if (!there || !back) return [];
    const at = atOf(multiply(there, back), track.pivot, 'perspective');
    return [{ frame, value: { at, quality: frame === start ? 1 : 0.95, ...(frame === start ? { anchor: true as const } : {}) }, ease: 'linear' as const }];
  });
  const follow = { track: track.id, frame: start, takes: [...ASPECTS] };
  const sign = { ...newSpline('ramp-sign', 'Outline', [newPath('ramp-sign-path', start, outline, true)]), follow };
  const subject = { ...newSubject('ramp', 'Sign'), parts: [sign] };
  subject.edge = { ...subject.edge, featherIn: { constant: 1 } };
  const element = newElement(document, 'ramp-picture', 'inside', subject.id, 'footage');
  const picture: LaneItem = {
    ...element,
    name: 'Storm lantern',
    footage: { id: shown.plateId, width: document.plate.width, height: document.plate.height, frames: shown.frames, alpha: false },
    corners: { constant: cornersOn(start).map((v) => Math.round(v * 100) / 100) },
    follow,
    mix: { constant: 0.92 },
  };
  return [
    { kind: 'insert', parent: 'tracks', index: 0, record: { ...track, motion: { keys } } },
    { kind: 'insert', parent: 'cast', index: 0, record: subject },
    { kind: 'insert', parent: 'lanes', index: 0, record: picture },
  ];
}

/** The kite by its four corners, keyed; the only thing that keeps its colour, with words in the sky behind it. */
function kiteExample(document: ShotDocument): Edit[] {
  const marks = kiteMarks as unknown as Record<string, number[][]>;
  const shape = (frame: number): Shape => ['nose', 'right-tip', 'foot', 'left-tip'].map((name) => corner(marks[name][frame][0], marks[name][frame][1]));
  const frames = Array.from({ length: document.plate.frames }, (_, frame) => frame).filter((frame) => frame % 3 === 0 || frame === document.plate.frames - 1);
  const path = { ...newPath('kite-path', 0, [], true), shape: { keys: frames.map((frame) => ({ frame, value: shape(frame), ease: 'linear' as const })) } };
  const subject = { ...newSubject('kite', 'Kite'), parts: [newSpline('kite-outline', 'Outline', [path])] };
  subject.edge = { ...subject.edge, featherIn: { constant: 1 }, featherOut: { constant: 1 } };
  const grey = { ...newLaneEffect('kite-grey', 'behind', subject.id, 'monochrome'), settings: constantsOf({ tint: [1, 0.95, 0.86] }) };
  const title = newElement(document, 'kite-title', 'behind', subject.id, 'title');
  const words = {
    ...title,
    words: 'WIND FROM THE SEA',
    settings: { ...title.settings, ...constantsOf({ size: 84, x: 480, y: 200, colour: [0.16, 0.2, 0.24] }) },
  };
  const line = newElement(document, 'kite-line', 'front', null, 'line');
  const drawn = { keys: [0, 0.5].map((share, i) => ({ frame: Math.round(share * (document.plate.frames - 1)), value: 100 * i, ease: 'ease-both' as const })) };
  const glow = {
    ...line,
    of: subject.id,
    settings: { ...line.settings, to: drawn, ...constantsOf({ width: 4, beside: 6, glow: 8, colour: [1, 0.86, 0.45] }) },
  };
  return [{ kind: 'insert', parent: 'cast', index: 0, record: subject }, ...addedEdits(document, [grey, words, glow])];
}

/** The courier of the other shot, live, twice on the quay without anybody. */
function emptyQuayExample(document: ShotDocument, from: { shotId: string; plateId: string; frames: number }): Edit[] {
  const { width, height } = document.plate;
  const footage = { id: from.plateId, width, height, frames: from.frames, alpha: true, made: { shot: from.shotId, subject: 'courier' } };
  const courier = (id: string, name: string, settings: Record<string, number>): LaneItem => {
    const element = newElement(document, id, 'front', null, 'footage');
    return { ...element, name, footage, settings: { ...element.settings, ...constantsOf({ scale: 100, ...settings }) } };
  };
  const items = [
    courier('quay-far', 'Courier, later', { x: 200, y: 236, scale: 82, offset: -22 }),
    courier('quay-near', 'Courier', { x: 620, y: 276, offset: -38 }),
  ];
  return addedEdits(document, items);
}

/** Seeds the demo where the database holds nothing; gives whether it did. */
export async function seedIfEmpty(services: Services): Promise<boolean> {
  if ((await Production.count()) > 0) return false;
  await seedDemo(services);
  return true;
}

async function seedDemo(services: Services): Promise<void> {
  const productionId = await services.shots.createProduction(DEMO_NAME);
  const setUp = async (shotId: string, edits: (document: ShotDocument) => Edit[]) => {
    const { document } = await services.changes.load(shotId);
    await services.changes.setUp(shotId, { id: `demo-${shotId}`, label: 'Demo example', edits: edits(document) });
    return document;
  };
  const lantern = await bringIn(services, productionId, 'storm-lantern.mp4', 'Storm lantern');
  const quay = await bringIn(services, productionId, 'courier-on-the-quay.mp4', 'Courier on the quay');
  const ramp = await bringIn(services, productionId, 'ferry-ramp.mp4', 'Ferry ramp');
  const kite = await bringIn(services, productionId, 'dune-kite.mp4', 'Kite over the dunes');
  const empty = await bringIn(services, productionId, 'empty-quay.mp4', 'Empty quay (clean plate)');
  // What jobs need besides: another take from the same place, somebody who passes close to the camera, and white that spreads over black.
  await bringIn(services, productionId, 'courier-second-take.mp4', 'Courier, second take');
  await bringIn(services, productionId, 'passer-by.mp4', 'Passer-by');
  await bringIn(services, productionId, 'tide-water.mp4', 'Tide water');
  // Last of all, as what was touched last is offered first to go on with.
  const { plate } = (await services.changes.load(lantern.shotId)).document;
  await setUp(ramp.shotId, (document) => rampExample(document, { plateId: lantern.plateId, frames: plate.frames }));
  await setUp(kite.shotId, kiteExample);
  const { frames } = (await services.changes.load(quay.shotId)).document.plate;
  await setUp(empty.shotId, (document) => emptyQuayExample(document, { ...quay, frames }));
  await setUp(lantern.shotId, lanternExample);
  const courier = await setUp(quay.shotId, courierExample);
  // So that there is a finished matte with its doubt to look at; it goes on in the background.
  await services.peels.carry(services.queue, quay.shotId, { part: 'courier-peel', first: 0, last: courier.plate.frames - 1 }, { background: true });
}

/** Takes demo productions away for good and seeds anew. */
export async function resetDemo(services: Services): Promise<void> {
  for (const production of await Production.findAll({ where: { name: DEMO_NAME } })) await services.shots.destroyProduction(production.id);
  await seedDemo(services);
}
