import { readFile } from 'node:fs/promises';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { Edit } from '../../core/document/edits.ts';
import { placesOf } from '../../core/document/follow.ts';
import { newPointTrack, newRegionTrack } from '../../core/document/records.ts';
import type { Track } from '../../core/document/schema.ts';
import { gapsOf } from '../../core/document/tracks.ts';
import { corner } from '../../core/path/path.ts';
import { marksOf } from '../../tests/marks.ts';
import { bringIn, openTestServices, type TestServices, until } from '../../tests/services.ts';
import { openServices } from '../services.ts';

let services: TestServices;
let shotId: string;
const ways = marksOf('ferry-ramp');
beforeAll(async () => {
  services = await openTestServices();
  ({ shotId } = await bringIn(services, [{ name: 'ferry-ramp.mp4', bytes: await readFile('demo/clips/ferry-ramp.mp4') }]));
}, 120_000);
afterAll(() => services.end());

let changes = 0;
const change = (...edits: Edit[]) => services.changes.apply(shotId, { role: 'do', page: 'test', change: { id: `change-${changes++}`, label: 'Work', edits } });
const add = (record: Track) => change({ kind: 'insert', parent: 'tracks', index: 0, record });
const run = (tracks: string[], first: number, last: number) => services.tracks.run(services.queue, shotId, { tracks, first, last });
const track = async (id: string) => (await services.changes.load(shotId)).document.tracks.find((t) => t.id === id) as Track;
const ended = async (ids: string[]) => {
  const jobs = () => Promise.all(ids.map((id) => services.queue.get(id)));
  await until(async () => (await jobs()).every((j) => ['done', 'failed', 'cancelled'].includes(j.state)), 120_000);
  return jobs();
};
const set = (id: string, mark: string, frame: number) => newPointTrack({ id, name: id, frame, lines: 540 }, ways[mark][frame][0], ways[mark][frame][1]);

describe('tracks run on the server', () => {
  it('are found from where they were set, both ways, and become one step of the history', async () => {
    await add(set('letter', 'letter', 30));
    await add({ ...set('stripe', 'stripe', 30), look: 'proxy' });
    const asked = await run(['letter', 'stripe'], 20, 40);
    // What looks at proxies is a work of its own; asked for again, both are what they were.
    expect(asked).toHaveLength(2);
    expect(await run(['letter', 'stripe'], 20, 40)).toEqual(asked);
    expect((await ended(asked)).map((j) => [j.kind, j.state, j.done, j.total])).toEqual([
      ['track', 'done', 20, 20],
      ['track', 'done', 20, 20],
    ]);
    const letter = await track('letter');
    expect(placesOf(letter).map((k) => k.frame)).toEqual(Array.from({ length: 21 }, (_, i) => 20 + i));
    for (const { frame, value } of placesOf(letter)) {
      if (value.quality < 0.5) continue;
      const [x, y] = ways.letter[frame];
      expect(Math.hypot(value.at[0] - x, value.at[1] - y)).toBeLessThan(1.5);
    }
    const { log } = await services.changes.load(shotId);
    expect(log.slice(-2).map((l) => l.label)).toEqual(['Track', 'Track']);
  });

  it('that are outlined beyond the picture fail in words, and a plain one says on every frame why it is not trusted', async () => {
    const square = (x: number, y: number) => [corner(x, y), corner(x + 40, y), corner(x + 40, y + 40), corner(x, y + 40)];
    await add(newRegionTrack({ id: 'beyond', name: 'Beyond', frame: 3, lines: 540 }, [square(2000, 2000)], 'affine'));
    const [failed] = await ended(await run(['beyond'], 3, 6));
    expect(failed).toMatchObject({ state: 'failed', message: expect.stringContaining('Too little of the picture is outlined') });
    await add(newRegionTrack({ id: 'sky', name: 'Sky', frame: 3, lines: 540 }, [square(720, 20)], 'move'));
    await ended(await run(['sky'], 3, 6));
    expect(gapsOf(await track('sky'))).toEqual([{ first: 4, last: 6, reason: 'plain' }]);
  });

  it('can be cancelled and keep what there is, and what is wrong is refused', async () => {
    await add(set('arrow', 'arrow-tip', 0));
    const [id] = await run(['arrow'], 0, 59);
    await until(async () => (await services.queue.get(id)).done > 4);
    await services.queue.act(id, 'cancel');
    // What was found by then is kept, from the place where it was set on.
    expect((await ended([id]))[0].state).toBe('cancelled');
    const frames = placesOf(await track('arrow')).map((k) => k.frame);
    expect(frames.length).toBeGreaterThan(4);
    expect(frames.length).toBeLessThan(60);
    expect(frames).toEqual(frames.map((_, i) => i));
    await expect(run(['nowhere'], 0, 9)).rejects.toMatchObject({ code: 'no-track' });
    await expect(run(['arrow'], 0, 99)).rejects.toMatchObject({ code: 'out-of-range' });
    await expect(run(['arrow'], 9, 3)).rejects.toThrow(/ends where it begins/);
    await expect(run([], 0, 3)).rejects.toThrow();
    await expect(run(['sky'], 3, 3)).rejects.toMatchObject({ code: 'nothing-to-track' });
  });

  it('that are paused keep what there is, and go on from there', async () => {
    await add(set('far', 'letter', 0));
    const [id] = await run(['far'], 0, 59);
    await until(async () => (await services.queue.get(id)).done > 9);
    await services.queue.act(id, 'pause');
    expect((await services.queue.get(id)).state).toBe('paused');
    const before = placesOf(await track('far'));
    expect(before.length).toBeGreaterThan(9);
    // Asked for once more, it is the same work.
    expect(await run(['far'], 0, 59)).toEqual([id]);
    await services.queue.act(id, 'resume');
    const [end] = await ended([id]);
    const after = placesOf(await track('far'));
    expect([end.state, end.total <= 60 - before.length + 2]).toEqual(['done', true]);
    expect(after.map((k) => k.frame)).toEqual(Array.from({ length: 60 }, (_, i) => i));
    expect(after.slice(0, before.length - 2)).toEqual(before.slice(0, -2));
    for (const { frame, value } of after)
      if (value.quality >= 0.5)
        expect(Math.hypot(value.at[0] - ways.letter[frame][0], value.at[1] - ways.letter[frame][1]), `frame ${frame}`).toBeLessThan(1.5);
    const { log } = await services.changes.load(shotId);
    expect(log.slice(-2).map((l) => l.label)).toEqual(['Track', 'Track']);
  });

  it('leave alone what was taken away meanwhile', async () => {
    await services.tracks.keep(
      shotId,
      'late',
      ['letter', 'gone'],
      [
        { track: 1, frame: 1, at: [1, 2], quality: 1, reason: null },
        { track: 0, frame: 41, at: [3, 4], quality: 0.9, reason: null },
      ],
    );
    expect(placesOf(await track('letter')).at(-1)).toMatchObject({ frame: 41, value: { at: [3, 4] } });
    await expect(services.tracks.keep(shotId, 'empty', ['gone'], [{ track: 0, frame: 1, at: [1, 2], quality: 1, reason: null }])).rejects.toMatchObject({
      code: 'nothing-found',
    });
  });

  it('that end with the server keep what there is, and go on from there when it starts again', async () => {
    await add(set('evening', 'letter', 0));
    const [id] = await run(['evening'], 0, 59);
    await until(async () => (await services.queue.get(id)).done > 9);
    await services.queue.stop();
    const before = placesOf(await track('evening'));
    expect(before.length).toBeGreaterThan(9);
    expect(before.length).toBeLessThan(60);
    const again = await openServices(services.databaseUrl, services.config);
    try {
      const end = await until(async () => {
        const job = await again.queue.get(id);
        return job.state === 'done' && job;
      }, 120_000);
      expect(end.total).toBeLessThanOrEqual(60 - before.length + 2);
      const after = placesOf(await track('evening'));
      expect(after.map((k) => k.frame)).toEqual(Array.from({ length: 60 }, (_, i) => i));
      expect(after.slice(0, before.length - 2)).toEqual(before.slice(0, -2));
    } finally {
      await again.close();
    }
  });
});
