/** The same picture wherever it is made: in a page, in a worker of it, on the server and in a thread of it. */
import { Worker as Thread } from 'node:worker_threads';
import { expect, test } from '@playwright/test';
import { build } from 'esbuild';
import { nameOfBytes } from '../tests/one-of-each.ts';

const bundled = async (contents: string, format: 'iife' | 'cjs'): Promise<string> => {
  const { outputFiles } = await build({
    stdin: { contents: `import { nameOfBytes } from './tests/one-of-each.ts'; ${contents}`, resolveDir: process.cwd(), loader: 'ts' },
    bundle: true,
    write: false,
    format,
    platform: format === 'cjs' ? 'node' : 'browser',
    target: 'es2022',
  });
  return outputFiles[0].text;
};

test('a picture is the same to the byte in page, worker, server and thread', async ({ page }) => {
  const here = await nameOfBytes();
  expect(here).toMatch(/^[0-9a-f]{64} [0-9a-f]{64}$/);

  const thread = new Thread(await bundled("nameOfBytes().then((name) => require('node:worker_threads').parentPort.postMessage(name));", 'cjs'), { eval: true });
  expect(await new Promise((resolve, reject) => thread.once('message', resolve).once('error', reject))).toBe(here);
  await thread.terminate();

  await page.addScriptTag({ content: await bundled('globalThis.nameOfBytes = nameOfBytes;', 'iife') });
  expect(await page.evaluate(() => (globalThis as unknown as { nameOfBytes(): Promise<string> }).nameOfBytes())).toBe(here);

  const ofWorker = await bundled('nameOfBytes().then((name) => postMessage(name));', 'iife');
  const inWorker = await page.evaluate((code) => {
    const worker = new Worker(URL.createObjectURL(new Blob([code], { type: 'text/javascript' })));
    return new Promise((resolve, reject) => {
      worker.onmessage = (event) => resolve(event.data);
      worker.onerror = (event) => reject(new Error(event.message));
    });
  }, ofWorker);
  expect(inWorker).toBe(here);
});
