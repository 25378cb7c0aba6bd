import { readFile } from 'node:fs/promises';
import path from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { Edit } from '../core/document/edits.ts';
import { historyEnds } from '../core/document/history.ts';
import { newSpline } from '../core/document/part-kinds/spline.ts';
import { newSubject } from '../core/document/records.ts';
import { bringIn, ffmpeg, openTestServices, type TestServices } from '../tests/services.ts';
import type { SentChange } from './changes.ts';
import { Shot } from './db/models.ts';

let services: TestServices;
let clip: Uint8Array;
beforeAll(async () => {
  services = await openTestServices();
  const file = path.join(services.dir, 'clip.mp4');
  ffmpeg('-f', 'lavfi', '-i', 'testsrc=s=64x48:r=24:d=0.3', '-pix_fmt', 'yuv420p', file);
  clip = await readFile(file);
});
afterAll(() => services.end());

const freshShot = async () => (await bringIn(services, [{ name: 'clip.mp4', bytes: clip }])).shotId;
const sent = (id: string, edits: Edit[]): SentChange => ({ role: 'do', page: 'page', change: { id, label: `Step ${id}`, edits } });
const add = (id: string): Edit => ({ kind: 'insert', parent: 'cast', index: 99, record: newSubject(id, id) });
const castOf = async (shot: string) => (await services.changes.load(shot)).document.cast.map((s) => s.id);

describe('changes', () => {
  it('count up, are logged, and are told to those who listen', async () => {
    const shot = await freshShot();
    const heard: number[] = [];
    const off = services.changes.subscribe(shot, (c) => heard.push(c.revision));
    await services.changes.apply(shot, sent('a', [add('one')]));
    await services.changes.apply(shot, sent('b', [add('two')]));
    off();
    expect(heard).toEqual([1, 2]);
    expect(await castOf(shot)).toEqual(['one', 'two']);
    expect((await services.changes.since(shot, 1)).map((c) => c.label)).toEqual(['Step b']);
  });

  it('sent twice are made once', async () => {
    const shot = await freshShot();
    const first = await services.changes.apply(shot, sent('a', [add('one')]));
    const again = await services.changes.apply(shot, sent('a', [add('one')]));
    expect(again).toEqual(first);
    expect(await castOf(shot)).toEqual(['one']);
  });

  it('from many pages at once all arrive, one after the other', async () => {
    const shot = await freshShot();
    const names = Array.from({ length: 24 }, (_, i) => `s${i}`);
    const steps = await Promise.all(names.map((n) => services.changes.apply(shot, sent(n, [add(n)]))));
    expect(steps.map((s) => s.revision).sort((a, b) => a - b)).toEqual(names.map((_, i) => i + 1));
    expect((await castOf(shot)).sort()).toEqual([...names].sort());
  });

  it('are all made or none, and a refused one leaves no trace', async () => {
    const shot = await freshShot();
    await expect(services.changes.apply(shot, sent('a', [add('one'), { kind: 'remove', id: 'nowhere' }]))).rejects.toMatchObject({
      code: 'edit-refused',
      status: 409,
    });
    expect(await castOf(shot)).toEqual([]);
    expect((await services.changes.load(shot)).revision).toBe(0);
  });

  it('are undone and redone, also after the log was read anew', async () => {
    const shot = await freshShot();
    await services.changes.apply(shot, sent('a', [add('one')]));
    await services.changes.apply(shot, sent('b', [add('two')]));
    const turn = (role: 'undo' | 'redo', id: string, target: string) => services.changes.apply(shot, { role, page: 'other', id, target });
    await turn('undo', 'u1', 'b');
    expect(await castOf(shot)).toEqual(['one']);
    await turn('undo', 'u2', 'a');
    await turn('redo', 'r1', 'a');
    await turn('redo', 'r2', 'b');
    expect(await castOf(shot)).toEqual(['one', 'two']);
    await turn('undo', 'u3', 'b');
    await expect(turn('undo', 'u4', 'b')).rejects.toMatchObject({ code: 'history-moved' });
  });

  it('that set a shot up are where undo ends', async () => {
    const shot = await freshShot();
    await services.changes.setUp(shot, { id: 'set-up', label: 'Example', edits: [add('one')] });
    await services.changes.apply(shot, sent('a', [add('two')]));
    await services.changes.apply(shot, { role: 'undo', page: 'p', id: 'u1', target: 'a' });
    await expect(services.changes.apply(shot, { role: 'undo', page: 'p', id: 'u2', target: 'set-up' })).rejects.toMatchObject({ code: 'history-moved' });
    expect(await castOf(shot)).toEqual(['one']);
    const { log } = await services.changes.load(shot);
    expect(historyEnds(log).undo).toBeNull();
  });

  it('of two pages are taken back each by its own page; where another step stands on one, it is told which and whose', async () => {
    const shot = await freshShot();
    const by = (page: string, id: string, edits: Edit[]) => services.changes.apply(shot, { role: 'do', page, change: { id, label: `Step ${id}`, edits } });
    const undo = (page: string, id: string, target: string) => services.changes.apply(shot, { role: 'undo', page, id, target });
    const rename = (id: string, name: string): Edit => ({ kind: 'assign', id, values: { name } });
    await by('one', 'a', [add('boat'), add('quay')]);
    await by('one', 'b', [rename('boat', 'Ferry')]);
    await by('two', 'c', [rename('quay', 'Pier')]);
    // Not the newest of all, but the newest of its page; the other page's stays.
    await undo('one', 'u1', 'b');
    const names = async () => (await services.changes.load(shot)).document.cast.map((s) => s.name);
    expect(await names()).toEqual(['boat', 'Pier']);
    await expect(undo('one', 'u2', 'a')).rejects.toMatchObject({
      code: 'stood-upon',
      message: '"Step a" cannot be taken back: "Step c", which another page did since, changed the same. Take that back first, on its page.',
    });
    const inside = newSpline('part', 'Mast');
    await by('one', 'd', [{ kind: 'insert', parent: 'cast', index: 0, record: { ...newSubject('kite', 'Kite'), parts: [inside] } }]);
    await by('two', 'e', [{ kind: 'assign', id: 'part', values: { inverted: true } }]);
    await expect(undo('one', 'u5', 'd')).rejects.toMatchObject({ code: 'stood-upon' });
    await undo('two', 'u6', 'e');
    await undo('one', 'u7', 'd');
    await undo('two', 'u3', 'c');
    await undo('one', 'u4', 'a');
    expect(await names()).toEqual([]);
    await services.changes.apply(shot, { role: 'redo', page: 'one', id: 'r1', target: 'a' });
    expect(await names()).toEqual(['boat', 'quay']);
  });

  it('are told which pages have the shot open', async () => {
    const heard: string[][] = [];
    const leaveOne = services.changes.attend('shot', 'one', (pages) => heard.push(pages));
    const leaveTwo = services.changes.attend('shot', 'two', () => {});
    services.changes.attend('elsewhere', 'three', () => {})();
    leaveTwo();
    leaveOne();
    expect(heard).toEqual([['one'], ['one', 'two'], ['one']]);
  });

  it('larger than can be saved are refused with what to do', async () => {
    const shot = await freshShot();
    const limit = services.config.limits.documentBytes;
    services.config.limits.documentBytes = 500;
    await expect(
      services.changes.apply(shot, sent('a', [add('a'), add('b'), add('c'), add('d'), add('e'), add('f'), add('g'), add('h'), add('i'), add('j')])),
    ).rejects.toMatchObject({ code: 'document-too-large' });
    services.config.limits.documentBytes = limit;
  });

  it('of a whole imported document are one step', async () => {
    const shot = await freshShot();
    await services.changes.apply(shot, sent('a', [add('one')]));
    const { document } = await services.changes.load(shot);
    const note = { id: 'note', type: 'note' as const, frame: 3, text: 'Rim too bright' };
    const marker = { id: 'marker', type: 'marker' as const, name: 'Swing', range: { first: 2, last: 5 } };
    await services.changes.replace(shot, { ...document, cast: [newSubject('new', 'New')], notes: [note], markers: [marker] }, 'import', 'import-1');
    expect(await castOf(shot)).toEqual(['new']);
    expect((await services.changes.load(shot)).document).toMatchObject({ notes: [note], markers: [marker] });
    await services.changes.apply(shot, { role: 'undo', page: 'p', id: 'u', target: 'import-1' });
    expect(await castOf(shot)).toEqual(['one']);
    expect((await services.changes.load(shot)).document).toMatchObject({ notes: [], markers: [] });
    await expect(services.changes.replace(shot, { ...document, plate: { ...document.plate, width: 99 } }, 'import', 'x')).rejects.toMatchObject({
      code: 'other-size',
    });
  });
});

describe('the database keeps its own rules', () => {
  const query = (sql: string, replacements: unknown[] = []) => services.sequelize.query(sql, { replacements });
  it('no shot without a production and a plate, no second revision of one number, no empty name', async () => {
    const shot = await freshShot();
    await services.changes.apply(shot, sent('a', [add('one')]));
    await expect(query('update shots set production_id = ? where id = ?', ['nowhere', shot])).rejects.toThrow(/foreign key/i);
    await expect(query('delete from plates where id = (select plate_id from shots where id = ?)', [shot])).rejects.toThrow(/foreign key/i);
    await expect(
      query("insert into changes select shot_id, revision, 'b', role, target, label, edits, inverse, page, created_at from changes where shot_id = ?", [shot]),
    ).rejects.toThrow(/./);
    await expect(query("update shots set name = '' where id = ?", [shot])).rejects.toThrow(/./);
    await expect(query("update shots set document = 'not json' where id = ?", [shot])).rejects.toThrow(/./);
  });
});

describe('shots and productions', () => {
  it('are renamed, deleted, listed as deleted and brought back', async () => {
    const { shots } = services;
    const production = await shots.createProduction('Harbour');
    await shots.renameProduction(production, 'Harbour at night');
    expect((await shots.production(production)).name).toBe('Harbour at night');
    await expect(shots.createProduction('   ')).rejects.toThrow();
    const shot = await freshShot();
    await shots.rename(shot, 'Quay');
    await shots.setDeleted(shot, true);
    await expect(shots.shot(shot)).rejects.toThrow('not here any more');
    await expect(services.changes.apply(shot, sent('a', [add('one')]))).rejects.toMatchObject({ status: 404 });
    expect((await shots.deleted()).shots.map((s) => s.name)).toContain('Quay');
    await shots.setDeleted(shot, false);
    expect((await shots.shot(shot)).shot.name).toBe('Quay');
  });

  it('are removed for good only after the days they are kept', async () => {
    const { shots, config } = services;
    const shot = await freshShot();
    const { plate } = await shots.shot(shot);
    await shots.setDeleted(shot, true);
    await shots.purge(new Date(Date.now() + (config.keepDeletedDays - 1) * 86_400_000));
    expect(await Shot.findByPk(shot)).not.toBeNull();
    await shots.purge(new Date(Date.now() + (config.keepDeletedDays + 1) * 86_400_000));
    expect(await Shot.findByPk(shot)).toBeNull();
    await expect(readFile(path.join(shots.frameStore(plate.id), 'full.mjpeg'))).rejects.toThrow();
  });
});
