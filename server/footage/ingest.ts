/** Ingest: from the original file to the frame store, in one decode for both sizes. */
import { mkdir, rename, rm, stat, writeFile } from 'node:fs/promises';
import { z } from 'zod';
import type { Size } from '../../core/image/picture.ts';
import { Problem } from '../problem.ts';
import { run } from './ffmpeg.ts';
import { encodeIndex, framesFile, indexFile, PROXY_LINES, STORE_SIZES, type Store } from './frame-store.ts';
import { probeSchema } from './probe.ts';
import { alphaFilters, inputArguments, pictureFilters } from './read-plate.ts';

const count = z.number().int().positive();

export const ingestResultSchema = z.strictObject({ frames: count, width: count, height: count, proxyWidth: count, proxyHeight: count });
export type IngestResult = z.infer<typeof ingestResultSchema>;

/** Size of the proxy: the plate's own, or scaled to at most 540 lines with an even width. */
function proxySize({ width, height }: Size): Size {
  if (height <= PROXY_LINES) return { width, height };
  return { width: Math.max(2, Math.round((width * PROXY_LINES) / height / 2) * 2), height: PROXY_LINES };
}

async function indexStore(dir: string, size: Store): Promise<number> {
  const file = framesFile(dir, size);
  const { code, stdout } = await run('ffprobe', ['-v', 'error', '-f', 'mjpeg', '-show_entries', 'packet=pos', '-of', 'csv=p=0', file]);
  const starts = stdout
    .split('\n')
    .map((line) => Number.parseInt(line, 10))
    .filter((n) => Number.isInteger(n));
  if (code !== 0 || starts.length === 0) throw new Problem('ingest-failed', 'No frame of this footage could be decoded.', 422);
  await writeFile(indexFile(dir, size), encodeIndex(starts, (await stat(file)).size));
  return starts.length;
}

export const ingestTaskSchema = z.strictObject({
  probe: probeSchema,
  /** Directory of the original footage. */
  originals: z.string(),
  /** Where the frame store goes. */
  storeDir: z.string(),
  maxFrames: count,
});
export type IngestTask = z.infer<typeof ingestTaskSchema>;

/** Writes the frame store of a plate. Made beside its place first and moved when whole, so that a crash leaves nothing half. */
export async function ingest(
  { probe, originals, storeDir, maxFrames }: IngestTask,
  { onProgress, signal }: { onProgress(frames: number): void; signal?: AbortSignal },
): Promise<IngestResult> {
  const full = { width: probe.width, height: probe.height };
  const proxy = proxySize(full);
  const making = `${storeDir}.making`;
  await rm(making, { recursive: true, force: true });
  await mkdir(making, { recursive: true });
  const toJpeg = ['-an', '-sn', '-c:v', 'mjpeg', '-q:v', '2', '-qmin', '2', '-vsync', 'passthrough', '-frames:v', String(maxFrames + 1), '-f', 'mjpeg'];
  const filters = [
    `[0:v:0]split=${probe.alpha ? 3 : 2}[a][b]${probe.alpha ? '[c]' : ''}`,
    `[a]${pictureFilters(probe, full, 'jpeg')}[full]`,
    `[b]${pictureFilters(probe, proxy, 'jpeg')}[proxy]`,
    ...(probe.alpha ? [`[c]${alphaFilters(probe, full)}[alpha]`] : []),
  ].join(';');
  const { code, stderr } = await run(
    'ffmpeg',
    [
      '-v',
      'error',
      '-nostdin',
      '-progress',
      'pipe:1',
      '-stats_period',
      '0.2',
      ...inputArguments(probe, originals),
      '-filter_complex',
      filters,
      '-map',
      '[full]',
      ...toJpeg,
      framesFile(making, 'full'),
      '-map',
      '[proxy]',
      ...toJpeg,
      framesFile(making, 'proxy'),
      ...(probe.alpha ? ['-map', '[alpha]', ...toJpeg, framesFile(making, 'alpha')] : []),
    ],
    {
      signal,
      onLine: (line) => {
        const match = /^frame=(\d+)/.exec(line);
        if (match) onProgress(Number(match[1]));
      },
    },
  ).catch((error: Error) => {
    if (signal?.aborted) throw new Problem('cancelled', 'Cancelled.');
    throw error;
  });
  if (code !== 0) {
    const space = /No space left/.test(stderr);
    throw new Problem(
      'ingest-failed',
      space ? 'The disk is full. Make room and try again.' : `The footage could not be decoded to its end. ${stderr.split('\n')[0]}`,
      space ? 507 : 422,
    );
  }
  const counts = await Promise.all([...STORE_SIZES, ...(probe.alpha ? (['alpha'] as const) : [])].map((store) => indexStore(making, store)));
  if (counts.some((n) => n !== counts[0]))
    throw new Problem('ingest-failed', 'The footage gave a different number of frames at its sizes; please report this file.', 500);
  if (counts[0] > maxFrames) throw new Problem('too-long', `This footage has more than ${maxFrames} frames. Cut the part you need.`, 422);
  await rm(storeDir, { recursive: true, force: true });
  await rename(making, storeDir);
  return { frames: counts[0], ...full, proxyWidth: proxy.width, proxyHeight: proxy.height };
}
