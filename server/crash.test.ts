import { readFileSync } from 'node:fs';
import { readFile, rm } from 'node:fs/promises';
import path from 'node:path';
import { setTimeout as sleep } from 'node:timers/promises';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { newSubject } from '../core/document/records.ts';
import { type RunningInstance, startInstance } from '../tests/instance.ts';
import { ffmpeg, temporaryDirectory, until } from '../tests/services.ts';

/** Kills in each of two ways: the server alone, and the database under it. */
const ROUNDS = 20;
/** A fixed row of moments, so that a failure can be had again. */
let seed = 12345;
const random = () => {
  seed = (Math.imul(seed, 1103515245) + 12345) & 0x7fffffff;
  return seed / 0x7fffffff;
};

let dir: string;
let instance: RunningInstance;
let shotId: string;
beforeAll(async () => {
  dir = await temporaryDirectory();
  instance = await startInstance(dir);
  const form = new FormData();
  form.set('intent', 'create');
  form.set('name', 'Storm');
  await fetch(`${instance.address}/?index`, { method: 'POST', body: form });
  const productionId = /\/productions\/([0-9a-f-]{36})/.exec(await (await fetch(instance.address)).text())?.[1];
  const file = path.join(dir, 'clip.mp4');
  ffmpeg('-f', 'lavfi', '-i', 'testsrc=s=64x48:r=24:d=0.3', '-pix_fmt', 'yuv420p', file);
  const call = async (where: string, init: RequestInit) => (await (await fetch(instance.address + where, init)).json()) as Record<string, string>;
  const { uploadId } = await call('/uploads', { method: 'POST' });
  await call(`/uploads/${uploadId}/0?name=clip.mp4`, { method: 'PUT', body: new Blob([new Uint8Array(await readFile(file))]) });
  ({ shotId } = await call(`/uploads/${uploadId}`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ productionId }),
  }));
  await until(async () => (await fetch(`${instance.address}/shots/${shotId}/document`)).ok);
});
afterAll(async () => {
  await instance.kill('SIGINT');
  await rm(dir, { recursive: true, force: true });
});

const put = async (id: string): Promise<boolean> => {
  const body = JSON.stringify({
    role: 'do',
    page: 'test',
    change: { id, label: id, edits: [{ kind: 'insert', parent: 'cast', index: 9999, record: newSubject(id, id) }] },
  });
  const response = await fetch(`${instance.address}/shots/${shotId}/changes`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body,
    signal: AbortSignal.timeout(8000),
  });
  return response.ok;
};
const cast = async (): Promise<string[]> => {
  // A server that takes a call and never answers is told apart from a slow run.
  const response = await fetch(`${instance.address}/shots/${shotId}/document`, { signal: AbortSignal.timeout(30_000) });
  if (!response.ok) throw new Error(String(response.status));
  return ((await response.json()) as { cast: { id: string }[] }).cast.map((s) => s.id);
};

describe('what was said to be saved', () => {
  it(`survives kill -9 of the server and of the database at ${ROUNDS} random moments`, { timeout: 600_000 }, async () => {
    const saved: string[] = [];
    let number = 0;
    for (let round = 0; round < ROUNDS; round++) {
      let alive = true;
      // Three writers at once, as fast as they can.
      const writers = [0, 1, 2].map(async () => {
        while (alive) {
          const id = `s${number++}`;
          const ok = await put(id).catch(() => false);
          if (ok) saved.push(id);
          else await sleep(5);
        }
      });
      await sleep(30 + random() * 250);
      const database = Number(readFileSync(path.join(dir, 'db', 'db.pid'), 'utf8'));
      const killDatabase = round % 2 === 1;
      if (killDatabase) process.kill(database, 'SIGKILL');
      instance.process.kill('SIGKILL');
      await instance.ended;
      alive = false;
      await Promise.all(writers);
      if (!killDatabase) await sleep(10);
      instance = await startInstance(dir);
      const now = await cast();
      expect(saved.filter((id) => !now.includes(id))).toEqual([]);
      expect(new Set(now).size).toBe(now.length);
    }
    expect(saved.length).toBeGreaterThan(ROUNDS);
  });

  it('is asked for again while the database alone is away, and goes on when it is back', { timeout: 60_000 }, async () => {
    const database = Number(readFileSync(path.join(dir, 'db', 'db.pid'), 'utf8'));
    process.kill(database, 'SIGKILL');
    const response = await fetch(`${instance.address}/shots/${shotId}/document`);
    expect(response.status).toBe(503);
    expect(((await response.json()) as { message: string }).message).toContain('database cannot be reached');
    // The server starts its database again by itself.
    await until(() => put('after').catch(() => false));
    expect(await cast()).toContain('after');
  });
});
