/** For integration tests: services on a MariaDB of their own in a temporary directory, and footage made with ffmpeg. */
import { execFileSync } from 'node:child_process';
import { randomUUID } from 'node:crypto';
import { mkdtemp, rm } from 'node:fs/promises';
import os from 'node:os';
import path from 'node:path';
import { setTimeout as sleep } from 'node:timers/promises';
import { type Config, readConfig } from '../server/config.ts';
import { connect } from '../server/db/connect.ts';
import { openServices, type Services } from '../server/services.ts';

export interface TestServices extends Services {
  dir: string;
  databaseUrl: string;
  end(): Promise<void>;
}

export const temporaryDirectory = (): Promise<string> => mkdtemp(path.join(os.tmpdir(), 'mottrel-test-'));

/** A new database in the server that all tests share, see tests/shared-database.ts. */
async function freshDatabase(): Promise<{ url: string; drop(): Promise<void> }> {
  const shared = new URL(process.env.MOTTREL_TEST_DATABASE as string);
  const name = `mottrel_${randomUUID().replaceAll('-', '')}`;
  const act = async (statement: string) => {
    const sequelize = connect(shared.href);
    await sequelize.query(statement);
    await sequelize.close();
  };
  await act(`create database ${name} character set utf8mb4`);
  const url = new URL(shared.href);
  url.pathname = `/${name}`;
  return { url: url.href, drop: () => act(`drop database ${name}`) };
}

export async function openTestServices(change: (config: Config) => void = () => {}): Promise<TestServices> {
  const dir = await temporaryDirectory();
  const config = readConfig(dir, {});
  change(config);
  const database = await freshDatabase();
  const services = await openServices(database.url, config);
  return {
    ...services,
    dir,
    databaseUrl: database.url,
    async end() {
      await services.close();
      await database.drop();
      await rm(dir, { recursive: true, force: true });
    },
  };
}

export const ffmpeg = (...args: string[]): void => {
  execFileSync('ffmpeg', ['-v', 'error', '-y', ...args]);
};

/** What ffprobe says of the first video stream and the container. */
export function ffprobe(file: string): { stream: Record<string, string | number>; audio: boolean; frames: number } {
  const read = (...args: string[]) =>
    JSON.parse(execFileSync('ffprobe', ['-v', 'error', ...args, '-of', 'json', file], { encoding: 'utf8' })) as { streams: Record<string, string | number>[] };
  const { streams } = read('-show_streams', '-count_frames');
  const stream = streams.find((s) => s.codec_type === 'video') ?? {};
  return { stream, audio: streams.some((s) => s.codec_type === 'audio'), frames: Number(stream.nb_read_frames) };
}

/** All frames of a file as raw pixels. */
export function rawFrames(file: string, pixels: string, filter?: string): Buffer {
  return execFileSync(
    'ffmpeg',
    ['-v', 'error', '-i', file, ...(filter ? ['-vf', filter] : []), '-vsync', 'passthrough', '-f', 'rawvideo', '-pix_fmt', pixels, '-'],
    {
      maxBuffer: 1 << 30,
    },
  );
}

/** Puts files on disk through the same door as an upload and waits until the shot is in. */
export async function bringIn(
  services: TestServices,
  files: { name: string; bytes: Uint8Array }[],
  rate = '24',
): Promise<{ shotId: string; plateId: string; notes: string[]; alpha: boolean }> {
  const { shots, uploads, queue } = services;
  const productionId = (await shots.productions())[0]?.id ?? (await shots.createProduction('Test'));
  const uploadId = await uploads.create();
  for (const [i, { name, bytes }] of files.entries())
    await uploads.receive(uploadId, i, name, new Blob([bytes as Uint8Array<ArrayBuffer>]).stream(), bytes.length);
  const made = await shots.createFromUpload({ productionId, uploadId, rate });
  queue.wake();
  for (;;) {
    const [job] = await queue.list({ shotId: made.shotId });
    if (job.state === 'done') return made;
    if (job.state === 'failed') throw new Error(job.message ?? 'failed');
    await sleep(30);
  }
}

/** Waits until a job is done or has failed; gives it as it is then. */
export const ended = ({ queue }: Pick<TestServices, 'queue'>, jobId: string) =>
  until(async () => {
    const now = await queue.get(jobId);
    return ['done', 'failed'].includes(now.state) && now;
  }, 90_000);

/** Waits until `check` gives something, at most `ms` long. */
export async function until<T>(check: () => Promise<T | null | undefined | false>, ms = 30_000): Promise<T> {
  const end = Date.now() + ms;
  for (;;) {
    const value = await check();
    if (value) return value;
    if (Date.now() > end) throw new Error('It did not come about in time.');
    await sleep(30);
  }
}
