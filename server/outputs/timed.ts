/** Outputs of the finished picture at its own speed. */
import { open, rm, writeFile } from 'node:fs/promises';
import path from 'node:path';
import { type TimeMap, timeMap } from '../../core/compose/timing.ts';
import type { FrameRange } from '../../core/time/ranges.ts';
import { framesPerSecond, frameToSeconds } from '../../core/time/rate.ts';
import { firstFault, run } from '../footage/ffmpeg.ts';
import { inputArguments } from '../footage/read-plate.ts';
import { Problem } from '../problem.ts';
import type { Original, OutputTask } from './task.ts';

/** All frames of a shot. */
export const framesOf = ({ document }: Pick<OutputTask, 'document'>): FrameRange => ({ first: 0, last: document.plate.frames - 1 });

/** Which time of the shot each frame shows that is written; null where the output goes frame for frame. */
export const timesOfOutput = ({ document, spec }: Pick<OutputTask, 'document' | 'spec'>): TimeMap | null =>
  spec.timed === true && document.timing ? timeMap(document.timing, { first: spec.first, last: spec.last }) : null;

/** The frames that are written: those of the shot, or from 0 on where the output has a speed of its own. */
export function writtenFrames(task: Pick<OutputTask, 'document' | 'spec'>): FrameRange {
  const times = timesOfOutput(task);
  return times ? { first: 0, last: times.frames - 1 } : { first: task.spec.first, last: task.spec.last };
}

const RATE = 48_000;
const CHANNELS = 2;
/** Bytes of one instant: 16 bits a channel. */
const INSTANT = 2 * CHANNELS;

/**
 * Sound that goes along with a picture at a changed speed, as a tape does: quicker is higher. Gives the arguments of ffmpeg that read it.
 * Of the sound no more than what one frame shows is in memory.
 */
export async function timedSound(task: OutputTask, times: TimeMap, { probe, originals }: Original): Promise<{ input: string[]; done(): Promise<void> }> {
  const { spec, directory, document } = task;
  const { rate } = document.plate;
  const [whole, timed] = ['sound.pcm', 'timed.pcm'].map((name) => path.join(directory, name));
  const from = frameToSeconds(spec.first, rate);
  const { code, stderr } = await run('ffmpeg', [
    ...['-v', 'error', '-nostdin', '-y', '-ss', from.toFixed(6), '-t', frameToSeconds(spec.last - spec.first + 1, rate).toFixed(6)],
    ...inputArguments(probe, originals),
    ...['-vn', '-ac', String(CHANNELS), '-ar', String(RATE), '-f', 's16le', whole],
  ]);
  if (code !== 0) throw new Problem('encode-failed', `The sound could not be read. ${firstFault(stderr)}`, 500);
  const source = await open(whole, 'r');
  await writeFile(timed, '');
  const target = await open(timed, 'a');
  const instants = Math.floor((await source.stat()).size / INSTANT);
  const perFrame = RATE / framesPerSecond(rate);
  const at = (frame: number): number => (times.timeAt(frame) - spec.first) * perFrame;
  try {
    let written = 0;
    for (let frame = 0; frame < times.frames; frame++) {
      const end = Math.round((frame + 1) * perFrame);
      const count = end - written;
      written = end;
      const begin = at(frame);
      // The last frame goes on as the one before it did.
      const next = frame + 1 < times.frames ? at(frame + 1) : begin + (frame > 0 ? begin - at(frame - 1) : perFrame);
      const out = new Int16Array(count * CHANNELS);
      const first = Math.max(0, Math.floor(Math.min(begin, next)));
      const last = Math.min(instants - 1, Math.ceil(Math.max(begin, next)) + 1);
      // Where the picture stands still there is silence.
      if (next !== begin && last > first) {
        const bytes = Buffer.alloc((last - first + 1) * INSTANT);
        await source.read(bytes, 0, bytes.length, first * INSTANT);
        for (let i = 0; i < count; i++) {
          const place = begin + ((next - begin) * i) / count - first;
          const left = Math.floor(place);
          if (left < 0 || left + 1 > last - first) continue;
          const share = place - left;
          for (let c = 0; c < CHANNELS; c++) {
            const [one, other] = [bytes.readInt16LE(left * INSTANT + 2 * c), bytes.readInt16LE((left + 1) * INSTANT + 2 * c)];
            out[i * CHANNELS + c] = Math.round(one + (other - one) * share);
          }
        }
      }
      await target.write(Buffer.from(out.buffer));
    }
  } finally {
    await source.close();
    await target.close();
  }
  return {
    input: ['-f', 's16le', '-ar', String(RATE), '-ac', String(CHANNELS), '-i', timed],
    async done() {
      await rm(whole, { force: true });
      await rm(timed, { force: true });
    },
  };
}
