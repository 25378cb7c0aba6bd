/** Ingest: from the original file to the frame store, in one decode for both sizes. */
import { mkdir, rename, rm, stat, writeFile } from 'node:fs/promises';
import path from 'node:path';
import { z } from 'zod';
import type { Size } from '../../core/image/picture.ts';
import { Problem } from '../problem.ts';
import { firstFault, run } from './ffmpeg.ts';
import { encodeIndex, framesFile, indexFile, PROXY_LINES, STORE_SIZES, type Store } from './frame-store.ts';
import { decodedTimes, missingFrom, missingText, packetsOf, refuseGaps } from './movie-look.ts';
import { probeSchema } from './probe.ts';
import { alphaFilters, inputArguments, pictureFilters } from './read-plate.ts';
import { layOut } from './sequence.ts';

const count = z.number().int().positive();

export const ingestResultSchema = z.strictObject({
  frames: count,
  width: count,
  height: count,
  proxyWidth: count,
  proxyHeight: count,
  /** As its footage is read from now on, with what there is to be said of it. */
  probe: probeSchema,
});
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
  /** Number of its first frame, as its files have it. */
  firstNumber: z.number().int(),
  maxFrames: count,
  maxHoldSeconds: count,
});
export type IngestTask = z.infer<typeof ingestTaskSchema>;

/** Writes the frame store of a plate. Made beside its place first and moved when whole, so that a crash leaves nothing half. */
export async function ingest(task: IngestTask, { onProgress, signal }: { onProgress(frames: number): void; signal?: AbortSignal }): Promise<IngestResult> {
  const { originals, storeDir, firstNumber, maxFrames, maxHoldSeconds } = task;
  const { says } = task.probe;
  const laidOut = task.probe.kind === 'sequence' ? await layOut(originals, task.probe, firstNumber, signal) : { probe: task.probe, damage: [] };
  const { probe } = laidOut;
  const packets = says ? await packetsOf(path.join(originals, probe.input), signal) : null;
  if (packets) refuseGaps(packets, maxHoldSeconds);
  const full = { width: probe.width, height: probe.height };
  const proxy = proxySize(full);
  const making = `${storeDir}.making`;
  await rm(making, { recursive: true, force: true });
  await mkdir(making, { recursive: true });
  const toJpeg = ['-an', '-sn', '-c:v', 'mjpeg', '-q:v', '2', '-qmin', '2', '-vsync', 'passthrough', '-frames:v', String(maxFrames + 1), '-f', 'mjpeg'];
  const times = path.join(making, 'times');
  const filters = [
    `[0:v:0]split=${probe.alpha ? 4 : 3}[a][b][t]${probe.alpha ? '[c]' : ''}`,
    '[t]scale=8:8:flags=neighbor,format=gray[times]',
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
      ...['-map', '[times]', '-an', '-vsync', 'passthrough', '-enc_time_base', '-1', '-f', 'framecrc', times],
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
  if (/No space left/.test(stderr)) throw new Problem('ingest-failed', 'The disk is full. Make room and try again.', 507);
  const decoded = await decodedTimes(times).catch(() => new Float64Array());
  // What stopped in the middle of a movie is counted with what is missing of it.
  if (code !== 0 && (!says || decoded.length === 0))
    throw new Problem('ingest-failed', `The footage could not be decoded to its end. ${firstFault(stderr)}`, 422);
  const missing = says && packets ? missingFrom(says, probe.rate, packets, decoded) : null;
  const isShort = missing !== null && (missing.should !== null || missing.damage.length > 0 || missing.torn || code !== 0);
  if (missing && isShort && !probe.takesShort) throw new Problem('footage-short', `${missingText(missing)} Send it again, or take what there is.`, 422);
  // Its frames keep their numbers: the first that can be decoded is held backwards to where the file begins.
  if (missing && missing.begins !== null && probe.padsFrom === undefined)
    return ingest({ ...task, probe: { ...task.probe, padsFrom: missing.begins } }, { onProgress, signal });
  await rm(times);
  const counts = await Promise.all([...STORE_SIZES, ...(probe.alpha ? (['alpha'] as const) : [])].map((store) => indexStore(making, store)));
  if (counts.some((n) => n !== counts[0]))
    throw new Problem('ingest-failed', 'The footage gave a different number of frames at its sizes; please report this file.', 500);
  if (probe.kind === 'sequence' && counts[0] !== probe.framesGuess)
    throw new Problem(
      'ingest-failed',
      `Only ${counts[0]} of its ${probe.framesGuess} pictures could be decoded. Write them anew, and bring them in again.`,
      422,
    );
  if (counts[0] > maxFrames) throw new Problem('too-long', `This footage has more than ${maxFrames} frames. Cut the part you need.`, 422);
  await rm(storeDir, { recursive: true, force: true });
  await rename(making, storeDir);
  const faults = says && stderr.trim() !== '' ? [`The decoder found faults in it (${firstFault(stderr)}) Some frames may be seen damaged.`] : [];
  const notes = [...probe.notes, ...(missing && isShort ? [missingText(missing)] : []), ...faults];
  const damage = [...laidOut.damage, ...(missing?.damage ?? [])];
  return { frames: counts[0], ...full, proxyWidth: proxy.width, proxyHeight: proxy.height, probe: { ...probe, notes, damage } };
}
