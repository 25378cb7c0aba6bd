/** A running Mottrel of its own with a page of Chromium, for benches of the interface. */
import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { chromium, type Page } from '@playwright/test';
import { CHROMIUM } from '../playwright.config.ts';
import { startInstance } from '../tests/instance.ts';
import { ffmpeg } from '../tests/services.ts';

/** Runs `work` in an instance that goes away afterwards. */
export async function inWorkplace(options: { demo?: boolean }, work: (page: Page, address: string, dir: string) => Promise<void>): Promise<void> {
  const dir = mkdtempSync(path.join(os.tmpdir(), 'mottrel-bench-'));
  const instance = await startInstance(dir, options);
  const browser = await chromium.launch(CHROMIUM);
  try {
    await work(await browser.newPage({ viewport: { width: 1280, height: 800 } }), instance.address, dir);
  } finally {
    await browser.close();
    await instance.kill('SIGINT');
    rmSync(dir, { recursive: true, force: true });
  }
}

export async function sendJson(address: string, method: string, body?: unknown) {
  const raw = body instanceof Buffer;
  const answer = await fetch(address, {
    method,
    body: raw ? new Uint8Array(body) : JSON.stringify(body),
    headers: raw ? {} : { 'content-type': 'application/json' },
  });
  return answer.json();
}

/** Makes a production with one shot of a test pattern (an ffmpeg source) and gives the shot when it is in. */
export async function patternShot(address: string, dir: string, pattern: string): Promise<string> {
  const form = new FormData();
  form.set('intent', 'create');
  form.set('name', 'Bench');
  await fetch(`${address}/?index`, { method: 'POST', body: form });
  const productionId = /\/productions\/([0-9a-f-]{36})/.exec(await (await fetch(address)).text())?.[1];
  const clip = path.join(dir, 'clip.mp4');
  ffmpeg('-f', 'lavfi', '-i', pattern, '-pix_fmt', 'yuv420p', clip);
  const { uploadId } = await sendJson(`${address}/uploads`, 'POST', {});
  await sendJson(`${address}/uploads/${uploadId}/0?name=clip.mp4`, 'PUT', readFileSync(clip));
  const { shotId } = await sendJson(`${address}/uploads/${uploadId}`, 'POST', { productionId, rate: '24' });
  for (let i = 0; i < 240; i++) {
    if ((await fetch(`${address}/shots/${shotId}/isolate`)).ok) return shotId;
    await new Promise((resolve) => setTimeout(resolve, 500));
  }
  throw new Error('The pattern was not brought in.');
}
