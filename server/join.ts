/** Joining shots of a production: a new shot that shows them one after the other, on a plate without a picture, with their sound. */
import { randomUUID } from 'node:crypto';
import { rm } from 'node:fs/promises';
import path from 'node:path';
import { z } from 'zod';
import { JOIN_WAYS, type Join, joinedDocument, joinedTimes } from '../core/compose/joined.ts';
import { frameToSeconds } from '../core/time/rate.ts';
import { firstFault, run } from './footage/ffmpeg.ts';
import { inputArguments } from './footage/read-plate.ts';
import type { Uploads } from './footage/uploads.ts';
import type { JobQueue } from './jobs/queue.ts';
import { Problem } from './problem.ts';
import { JOINED, type Shots, type Showable } from './shots.ts';

const MOST = 50;

const joinSchema = z.object({
  name: z.string(),
  shots: z.array(z.string()).min(2, { error: 'Choose two shots or more.' }).max(MOST),
  way: z.enum(JOIN_WAYS),
  takes: z.coerce.number().int().min(0).max(10_000),
  /** The shot and the subject of what stays on top. */
  held: z.object({ shot: z.string(), subject: z.string() }).nullable(),
});

interface Made {
  shots: Shots;
  uploads: Uploads;
  queue: JobQueue;
}

/** Makes the shot; it comes in by itself. @throws Problem where it cannot be made, in words */
export async function joinShots({ shots, uploads, queue }: Made, productionId: string, asked: unknown): Promise<{ shotId: string }> {
  const { held, ...wish } = joinSchema.parse(asked);
  const there = await shots.showable(productionId);
  const chosen = wish.shots.map((id) => {
    const found = there.find((s) => s.id === id);
    if (!found) throw new Problem('no-shot', 'One of these shots is no longer there, or is still coming in.', 409);
    return found;
  });
  const at = chosen.findIndex((s) => s.id === held?.shot);
  const subject = chosen[at]?.subjects.find((s) => s.id === held?.subject);
  if (held && !subject) throw new Problem('no-subject', 'What is to stay on top is not a subject of one of these shots.', 422);
  const join: Join = { ...wish, shots: chosen, held: subject ? { shot: at, subject: subject.id, name: subject.name } : null };
  const { lengths } = joinedTimes(join);
  const short = lengths.findIndex((length, i) => length <= wish.takes * (i === 0 || i === lengths.length - 1 ? 1 : 2));
  if (short >= 0) throw new Problem('too-short', `"${chosen[short].name}" is too short for ways of ${wish.takes} frames: make them shorter.`, 422);
  const document = joinedDocument(join, () => randomUUID());
  const uploadId = await uploads.create();
  try {
    await writePlate(shots, join, chosen, path.join(uploads.directory(uploadId), `0000000~${JOINED}`));
    const made = await shots.createFromUpload({ productionId, uploadId, name: wish.name, rate: '24', document });
    queue.wake();
    return { shotId: made.shotId };
  } catch (error) {
    await uploads.discard(uploadId);
    throw error;
  }
}

/** Writes the plate: black, as long as all of it, with the sound of each shot where it is seen. */
async function writePlate(shots: Shots, join: Join, chosen: readonly Showable[], target: string): Promise<void> {
  const [{ width, height, rate }] = chosen;
  const { takes } = join;
  const { lengths, frames } = joinedTimes(join);
  const one = `${target}.one.mp4`;
  const fail = (stderr: string) => new Problem('encode-failed', `The shots could not be joined. ${firstFault(stderr)}`, 500);
  const black = `color=black:s=${width}x${height}:r=${rate.num}/${rate.den}`;
  const first = await run('ffmpeg', [
    ...['-v', 'error', '-nostdin', '-y', '-f', 'lavfi', '-i', black, '-frames:v', '1'],
    ...['-c:v', 'libx264', '-qp', '0', '-preset', 'ultrafast', '-pix_fmt', 'yuv444p', one],
  ]);
  if (first.code !== 0) throw fail(first.stderr);
  // A shot at a speed of its own has none that fits.
  const sounds = await Promise.all(
    chosen.map(async (s) => (s.hasSound && (s.finished === null || s.finished === s.frames) ? shots.originalOf(s.plateId) : null)),
  );
  const inputs = sounds.flatMap((sound) => (sound ? inputArguments(sound.probe, sound.originals) : []));
  let input = 0;
  const parts = sounds.map((sound, i) => {
    const seconds = frameToSeconds(lengths[i], rate).toFixed(6);
    const from = sound ? `[${++input}:a:0]aresample=48000,` : 'anullsrc=r=48000:cl=stereo,';
    return `${from}aformat=sample_fmts=s16:channel_layouts=stereo,apad,atrim=0:${seconds}[s${i}]`;
  });
  const over = frameToSeconds(takes, rate).toFixed(6);
  const joined = lengths
    .slice(1)
    .map((_, k) => `[${k === 0 ? 's0' : `j${k}`}][s${k + 1}]${takes > 0 ? `acrossfade=d=${over}:c1=tri:c2=tri` : 'concat=n=2:v=0:a=1'}[j${k + 1}]`);
  const sound = sounds.some((s) => s !== null)
    ? ['-filter_complex', [...parts, ...joined].join(';'), '-map', '0:v:0', '-map', `[j${lengths.length - 1}]`, '-c:a', 'pcm_s16le']
    : ['-map', '0:v:0'];
  // The one frame is repeated as it is: nothing is encoded again, however long it gets.
  const whole = await run('ffmpeg', [
    ...['-v', 'error', '-nostdin', '-y', '-stream_loop', String(frames - 1), '-i', one, ...inputs],
    ...[...sound, '-c:v', 'copy', target],
  ]);
  await rm(one, { force: true });
  if (whole.code !== 0) throw fail(whole.stderr);
}
