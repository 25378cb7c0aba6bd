/**
 * Hundreds of made uploads: each ends in a refusal in words or in a shot with what is wrong told; nothing crashes, hangs, is read
 * outside, is left over, or is silently less. `MOTTREL_UPLOADS=500 MOTTREL_UPLOADS_FROM=1000` makes others; docs/trust.md counts them.
 */
import { access, readdir } from 'node:fs/promises';
import path from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { KINDS, type MadeUpload, madeUpload, makeStock, type Stock } from '../../tests/made-uploads.ts';
import { ended, openTestServices, type TestServices, temporaryDirectory } from '../../tests/services.ts';
import { Problem } from '../problem.ts';

const COUNT = Number(process.env.MOTTREL_UPLOADS ?? 2 * KINDS);
const FROM = Number(process.env.MOTTREL_UPLOADS_FROM ?? 0);

let services: TestServices;
let stock: Stock;
let productionId: string;
beforeAll(async () => {
  services = await openTestServices();
  stock = await makeStock(await temporaryDirectory());
  productionId = await services.shots.createProduction('Uploads');
}, 120_000);
afterAll(() => services.end());

type End = 'refused' | 'asked' | 'told' | 'taken';

interface Ended {
  end: End;
  message: string;
  frames: number | null;
}

async function send({ files }: MadeUpload): Promise<Ended> {
  const { shots, uploads, queue } = services;
  const uploadId = await uploads.create();
  try {
    for (const [i, { name, bytes }] of files.entries()) await uploads.receive(uploadId, i, name, new Blob([new Uint8Array(bytes)]).stream(), bytes.length);
    const { shotId } = await shots.createFromUpload({ productionId, uploadId, rate: '24' });
    queue.wake();
    const [job] = await queue.list({ shotId });
    const { state, message } = await ended(services, job.id);
    const summary = (await shots.shots(productionId)).find((s) => s.id === shotId);
    const end: End = state === 'failed' ? (summary?.asks ? 'asked' : 'refused') : summary?.damaged || summary?.notes.length ? 'told' : 'taken';
    return { end, message: [message, ...(summary?.notes ?? [])].filter(Boolean).join(' '), frames: summary?.frames ?? null };
  } catch (error) {
    await uploads.discard(uploadId);
    // Anything but a Problem is a crash.
    if (!(error instanceof Problem)) throw error;
    expect(error.status).toBeLessThan(500);
    return { end: 'refused', message: error.message, frames: null };
  }
}

const counted = new Map<string, Record<End, number>>();

describe('made uploads', () => {
  it.each(Array.from({ length: COUNT }, (_, i) => FROM + i))('end in words or in what they are (%i)', { timeout: 100_000 }, async (seed) => {
    const made = await madeUpload(seed, stock);
    const { end, message, frames } = await send(made);
    const told = `${made.kind}: ${end}${message ? `, "${message}"` : ''}`;
    const row = counted.get(made.kind) ?? { refused: 0, asked: 0, told: 0, taken: 0 };
    row[end]++;
    counted.set(made.kind, row);
    // Words, and none of the machine's.
    if (end === 'refused' || end === 'asked') expect(message, told).toMatch(/^.{20,}[.]$/s);
    expect(message, told).not.toMatch(/\/tmp|ENOENT|undefined|at Object|root:|internal/);
    if (made.refused) expect(end, told).toBe('refused');
    if (made.frames !== undefined) expect([end === 'taken' || end === 'told', frames], told).toEqual([true, made.frames]);
    if (made.had !== undefined && end === 'taken') expect(frames, told).toBe(made.had);
  });

  it('leave nothing behind', async () => {
    const { dir } = services;
    expect(await readdir(path.join(dir, 'uploads')).catch(() => [])).toEqual([]);
    const plates = await readdir(path.join(dir, 'plates'));
    for (const plate of plates) await expect(access(path.join(dir, 'plates', plate, 'frames.making'))).rejects.toThrow();
    if (process.env.MOTTREL_UPLOADS) console.table(Object.fromEntries(counted));
  });
});
