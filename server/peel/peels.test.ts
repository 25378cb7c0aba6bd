import { readdir, readFile, stat } from 'node:fs/promises';
import path from 'node:path';
import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { Edit } from '../../core/document/edits.ts';
import { peelTask } from '../../core/document/fence.ts';
import { newImported } from '../../core/document/part-kinds/imported.ts';
import { newPeel } from '../../core/document/part-kinds/peel.ts';
import { newSpline } from '../../core/document/part-kinds/spline.ts';
import { newPath, newRegionTrack, newStroke, newSubject } from '../../core/document/records.ts';
import type { PeelPart, Stroke } from '../../core/document/schema.ts';
import { corner } from '../../core/path/path.ts';
import { peelKeys } from '../../core/peel/results/inputs.ts';
import { bringIn, ffmpeg, openTestServices, rawFrames, type TestServices, until } from '../../tests/services.ts';
import type { JobSummary } from '../jobs/queue.ts';

let services: TestServices;
let shotId: string;
let plateId: string;
beforeAll(async () => {
  services = await openTestServices();
  // A crate of 40 by 40 that moves 4 pixels a frame: on frame f its left edge is at 44 + 4·f.
  const crate = "color=orange:s=40x40:r=24:d=1[c];color=0x203a60:s=240x136:r=24:d=1,noise=alls=12:allf=t[b];[b][c]overlay=x='40+4*n':y=50";
  const clip = path.join(services.dir, 'crate.mp4');
  ffmpeg('-f', 'lavfi', '-i', crate, '-pix_fmt', 'yuv444p', '-crf', '12', clip);
  ({ shotId, plateId } = await bringIn(services, [{ name: 'crate.mp4', bytes: await readFile(clip) }]));
});
afterAll(() => services.end());

const left = (frame: number) => 44 + 4 * frame;
let strokes = 0;
const stroke = (frame: number, kind: Stroke['kind'], points: number[], radius = 5): Stroke => newStroke(`stroke-${strokes++}`, frame, kind, points, radius);
let changes = 0;
const change = (...edits: Edit[]) => services.changes.apply(shotId, { role: 'do', page: 'test', change: { id: `change-${changes++}`, label: 'Work', edits } });
const taskNow = async () => peelTask((await services.changes.load(shotId)).document, await partNow());
const partNow = async (): Promise<PeelPart> => (await services.changes.load(shotId)).document.cast[0].parts[0] as PeelPart;
const found = async () => (await services.peels.found(shotId, 'peel')).map((f) => f.frame);
const upTo = (first: number, last: number) => Array.from({ length: last - first + 1 }, (_, i) => first + i);
const carried = async (first: number, last: number) => {
  const ids = await services.peels.carry(services.queue, shotId, { part: 'peel', first, last });
  await until(async () => (await Promise.all(ids.map((id) => services.queue.get(id)))).every((j) => j.state === 'done'), 60_000);
  return ids;
};
/** Whether alpha is more than half at a place of a frame that was found. */
async function inside(frame: number, x: number, y: number): Promise<boolean> {
  const png = await services.peels.picture(plateId, peelKeys(await taskNow())(frame) as string, frame);
  const { data, info } = await sharp(png).toColourspace('b-w').raw().toBuffer({ resolveWithObject: true });
  expect([info.width, info.height, info.channels]).toEqual([240, 136, 1]);
  return data[y * 240 + x] > 127;
}

describe('a Peel of a shot', () => {
  it('is not carried before anything is kept, nor where there is none', async () => {
    await change({ kind: 'insert', parent: 'cast', index: 0, record: { ...newSubject('crate', 'Crate'), parts: [newPeel('peel', 'Peel')] } });
    const ask = (input: object) => services.peels.carry(services.queue, shotId, input);
    await expect(ask({ part: 'peel', first: 0, last: 23 })).rejects.toMatchObject({ code: 'nothing-kept' });
    await expect(ask({ part: 'crate', first: 0, last: 23 })).rejects.toMatchObject({ code: 'no-peel' });
    await change(
      { kind: 'insert', parent: 'peel', index: 0, record: stroke(10, 'keep', [left(10) + 12, 62, left(10) + 28, 78]) },
      { kind: 'insert', parent: 'peel', index: 1, record: stroke(10, 'drop', [10, 10, 230, 10, 230, 126, 10, 126], 3) },
    );
    await expect(ask({ part: 'peel', first: 0, last: 99 })).rejects.toMatchObject({ code: 'out-of-range' });
    await expect(ask({ part: 'peel', first: 9, last: 3 })).rejects.toThrow(/ends where it begins/);
    expect(await found()).toEqual([]);
  });

  it('is carried both ways by two works at once, and asked for twice it is the same work', async () => {
    const ask = () => services.peels.carry(services.queue, shotId, { part: 'peel', first: 0, last: 23 });
    const told: JobSummary[] = [];
    const leave = services.queue.subscribe((job) => told.push(job));
    const [first, second] = await Promise.all([ask(), ask()]);
    expect(first).toHaveLength(2);
    expect(second).toEqual(first);
    // One thing to people, with a time left from its first moment on; how far it is counts what is done of it.
    const open = await services.queue.list({ shotId, open: true });
    expect(new Set(open.map((j) => j.group)).size).toBe(1);
    expect(open.map((j) => j.total).sort()).toEqual([10, 14]);
    await until(async () => first.every((id) => told.some((j) => j.id === id && j.state === 'running')));
    expect(told.filter((j) => j.state === 'running' && j.secondsLeft === null)).toEqual([]);
    leave();
    await carried(0, 23);
    expect(await found()).toEqual(upTo(0, 23));
    for (const frame of [0, 6, 10, 17, 23]) {
      expect([await inside(frame, left(frame) + 4, 70), await inside(frame, left(frame) + 36, 70)], `frame ${frame}`).toEqual([true, true]);
      expect([await inside(frame, left(frame) - 4, 70), await inside(frame, left(frame) + 44, 70)], `frame ${frame}`).toEqual([false, false]);
    }
    const [painted] = (await services.peels.found(shotId, 'peel')).filter((f) => f.frame === 10);
    expect(painted).toMatchObject({ frame: 10, anchor: 10, doubt: 0, reasons: [], places: [] });
  });

  it('keeps what a stroke does not decide, finds the rest anew, and has the old back when the stroke is switched off', async () => {
    const keyBefore = peelKeys(await taskNow())(5) as string;
    const file = path.join(services.peels.placeOf(plateId, []).resultsDir, keyBefore, '5.png');
    const { mtimeMs } = await stat(file);
    // The right half of the crate is dropped on frame 18.
    const mend = stroke(18, 'drop', [left(18) + 32, 40, left(18) + 32, 100], 10);
    await change({ kind: 'insert', parent: 'peel', index: 2, record: mend });
    expect(await found()).toEqual(upTo(0, 17));
    await carried(0, 23);
    expect(await found()).toEqual(upTo(0, 23));
    expect((await stat(file)).mtimeMs).toBe(mtimeMs);
    expect([await inside(18, left(18) + 6, 70), await inside(18, left(18) + 34, 70)]).toEqual([true, false]);
    expect([await inside(17, left(17) + 6, 70), await inside(17, left(17) + 34, 70)]).toEqual([true, true]);
    await change({ kind: 'assign', id: mend.id, values: { enabled: false } });
    expect(await found()).toEqual(upTo(0, 23));
    expect(await inside(18, left(18) + 34, 70)).toBe(true);
  });

  it('mends a frame from what was carried there before, which is kept, and carries that on both ways', async () => {
    const before = peelKeys(await taskNow())(18) as string;
    // The lower rim goes on frame 18, from which those nearer to it than to frame 10 are carried now.
    const mends = { ...stroke(18, 'drop', [left(18) + 4, 86, left(18) + 36, 86], 6), mends: true };
    await change({ kind: 'insert', parent: 'peel', index: 3, record: mends });
    expect(await found()).toEqual(upTo(0, 10));
    await carried(0, 23);
    expect(await found()).toEqual(upTo(0, 23));
    for (const [frame, rim] of [
      [12, true],
      [18, false],
    ] as const)
      expect([await inside(frame, left(frame) + 20, 58), await inside(frame, left(frame) + 20, 86)], `frame ${frame}`).toEqual([true, rim]);
    const anchors = new Map((await services.peels.found(shotId, 'peel')).map((f) => [f.frame, f.anchor]));
    expect([8, 11, 17, 18, 23].map((f) => anchors.get(f))).toEqual([10, 10, 18, 18, 18]);
    await services.peels.tidy(new Date(Date.now() + 8 * 86_400_000));
    expect(await services.peels.picture(plateId, before, 18)).toBeInstanceOf(Buffer);
    // What was carried before is kept with it, and back at once.
    await change({ kind: 'remove', id: mends.id });
    expect(await found()).toEqual(upTo(0, 23));
  });

  it('is written by an output, which finds what was not found yet', async () => {
    await change({ kind: 'assign', id: 'peel', values: { look: 12 } });
    expect(await found()).toEqual([]);
    const id = await services.outputs.request(services.queue, shotId, { kind: 'matte-png', subject: 'crate', bits: 8, first: 8, last: 12 });
    await until(async () => (await services.queue.get(id)).state === 'done', 60_000);
    expect(await found()).toEqual(upTo(8, 12));
    const matte = rawFrames(path.join(services.outputs.directory(id), 'crate-matte.0012.png'), 'gray');
    expect([matte[70 * 240 + left(12) + 5] > 127, matte[70 * 240 + left(12) - 5] > 127]).toEqual([true, false]);
  });

  it('stops where it is when it is paused, and goes on from there', async () => {
    await change({ kind: 'assign', id: 'peel', values: { look: 14 } });
    const [id] = await services.peels.carry(services.queue, shotId, { part: 'peel', first: 10, last: 23 });
    await until(async () => (await services.queue.get(id)).done > 0);
    await services.queue.act(id, 'pause');
    const some = await found();
    expect((await services.queue.get(id)).state).toBe('paused');
    await services.queue.act(id, 'resume');
    await until(async () => (await services.queue.get(id)).state === 'done', 60_000);
    expect(await found()).toEqual(upTo(10, 23));
    expect(some.length).toBeLessThanOrEqual(14);
  });

  it('goes on from an approved frame, whose matte stays when it is tidied up, and says when it is gone', async () => {
    const key = peelKeys(await taskNow())(14) as string;
    await change({ kind: 'hold', id: 'peel', set: [{ frame: 14, key }], clear: [] });
    expect(await found()).toEqual(upTo(10, 23));
    // The right half goes on frame 12: frames after 14 are found from 14, on which it is there.
    await change({ kind: 'insert', parent: 'peel', index: 0, record: stroke(12, 'drop', [left(12) + 30, 40, left(12) + 30, 100], 9) });
    await carried(10, 23);
    expect([await inside(12, left(12) + 34, 70), await inside(14, left(14) + 34, 70), await inside(20, left(20) + 34, 70)]).toEqual([false, true, true]);
    await services.peels.tidy(new Date(Date.now() + 8 * 86_400_000));
    expect(await found()).toEqual(upTo(10, 23));
    await change({ kind: 'hold', id: 'peel', set: [{ frame: 14, key: '0'.repeat(32) }], clear: [] });
    const [id] = await services.peels.carry(services.queue, shotId, { part: 'peel', first: 15, last: 18 });
    const job = await until(async () => {
      const j = await services.queue.get(id);
      return j.state === 'failed' && j;
    });
    expect(job.message).toMatch(/no longer here: release frame 14/);
    await change({ kind: 'hold', id: 'peel', set: [], clear: [14] });
  });

  it('forgets what was found from strokes that are no more, but not at once, and nothing that is in use', async () => {
    const now = await found();
    const folders = () => readdir(services.peels.placeOf(plateId, []).resultsDir);
    const before = (await folders()).length;
    await services.peels.tidy();
    expect((await folders()).length).toBe(before);
    await services.peels.tidy(new Date(Date.now() + 8 * 86_400_000));
    expect((await folders()).length).toBeLessThan(before);
    expect(await found()).toEqual(now);
  });

  it('gives way to newer strokes while it is carried', async () => {
    await change({ kind: 'assign', id: 'peel', values: { look: 16 } });
    const [old] = await services.peels.carry(services.queue, shotId, { part: 'peel', first: 10, last: 23 });
    await change({ kind: 'insert', parent: 'peel', index: 0, record: stroke(14, 'drop', [20, 20]) });
    await carried(10, 23);
    await until(async () => ['cancelled', 'done'].includes((await services.queue.get(old)).state));
    expect(await found()).toEqual(upTo(10, 23));
  });

  it('is kept within a fence, drawn, brought in or tracked, and found anew when the fence moves', async () => {
    const halfTo = (x: number) => [corner(0, 0), corner(x, 0), corner(x, 136), corner(0, 136)];
    const box = (x: number): Edit => ({
      kind: 'insert',
      parent: 'crate',
      index: 1,
      record: {
        ...newSpline('fence', 'Fence', [newPath('fence-path', 0, halfTo(x), true)]),
        enabled: false,
      },
    });
    await change(box(left(11) + 20), { kind: 'assign', id: 'peel', values: { fence: 'fence' } });
    await carried(11, 13);
    expect([await inside(11, left(11) + 10, 70), await inside(11, left(11) + 25, 70)]).toEqual([true, false]);
    await change({ kind: 'remove', id: 'fence' });
    const free = await found();
    await change(box(left(11) + 30));
    expect(await found()).not.toEqual(free);
    await carried(11, 13);
    expect([await inside(11, left(11) + 25, 70), await inside(11, left(11) + 35, 70)]).toEqual([true, false]);

    const matte = path.join(services.dir, 'left-half.png');
    ffmpeg('-f', 'lavfi', '-i', `color=black:s=240x136,drawbox=w=${left(11) + 16}:h=136:color=white:t=fill`, '-frames:v', '1', matte);
    const brought = await bringIn(services, [{ name: 'left-half.png', bytes: await readFile(matte) }]);
    await change(
      { kind: 'insert', parent: 'crate', index: 2, record: newImported('half', 'Half', brought.plateId, 1) },
      { kind: 'assign', id: 'peel', values: { fence: 'half' } },
    );
    await carried(11, 13);
    expect([await inside(11, left(11) + 10, 70), await inside(11, left(11) + 21, 70)]).toEqual([true, false]);

    const region = newRegionTrack({ id: 'region', name: 'Region', frame: 12, lines: 136 }, [halfTo(left(12) + 26)], 'move');
    await change({ kind: 'insert', parent: 'tracks', index: 0, record: region }, { kind: 'assign', id: 'peel', values: { fence: 'region' } });
    await carried(11, 13);
    expect([await inside(12, left(12) + 10, 70), await inside(12, left(12) + 31, 70)]).toEqual([true, false]);
    await change({ kind: 'assign', id: 'peel', values: { fence: null } });
  });

  it('says what is wrong with strokes that keep nothing of the picture', async () => {
    await change({ kind: 'insert', parent: 'peel', index: 0, record: stroke(2, 'keep', [-900, -900]) });
    const [id] = await services.peels.carry(services.queue, shotId, { part: 'peel', first: 0, last: 3 });
    const job = await until(async () => {
      const j = await services.queue.get(id);
      return j.state === 'failed' && j;
    });
    expect(job.message).toMatch(/keep strokes of frame 2 lie outside the picture/);
  });
});
