/**
 * What a movie holds, told by its packets before anything is decoded, and by the times of what was decoded after: so that a
 * file that is cut off or damaged does not pass for a shorter one, and a gap in its times does not become hours of one frame.
 */
import { readFile } from 'node:fs/promises';
import { framesPerSecond, type Rate } from '../../core/time/rate.ts';
import { Problem } from '../problem.ts';
import { INPUT_GUARD, run } from './ffmpeg.ts';
import type { Damage, Probe } from './probe.ts';

/** Seconds at which frames are to be seen, rising. */
export type Times = Float64Array;

const sorted = (times: number[]): Times => Float64Array.from(times).sort();

export interface Packets {
  times: Times;
  /** Packets that are not to be seen, by an edit list. */
  skipped: number;
  /** Second at which the last of them ends. */
  end: number;
}

/** Reads the packets of the first picture stream, without decoding. */
export async function packetsOf(file: string, signal?: AbortSignal): Promise<Packets> {
  const times: number[] = [];
  let [skipped, end] = [0, 0];
  let rest = '';
  const take = (line: string) => {
    const [time, duration, flags = ''] = line.split(',');
    const at = Number(time);
    if (line === '' || time === 'N/A' || !Number.isFinite(at)) return;
    if (flags.includes('D')) skipped++;
    else {
      times.push(at);
      end = Math.max(end, at + (Number(duration) || 0));
    }
  };
  const { code } = await run(
    'ffprobe',
    ['-v', 'error', ...INPUT_GUARD, '-select_streams', 'v:0', '-show_entries', 'packet=pts_time,duration_time,flags', '-of', 'csv=p=0', file],
    {
      signal,
      onText: (text) => {
        const lines = (rest + text).split('\n');
        rest = lines.pop() ?? '';
        for (const line of lines) take(line);
      },
    },
  );
  take(rest);
  // What is cut off is read as far as it goes; what is said of that comes when it was decoded.
  if (code !== 0 && times.length === 0) throw new Problem('ingest-failed', 'No frame of this footage could be read.', 422);
  return { times: sorted(times), skipped, end };
}

const clock = (seconds: number): string => {
  const s = Math.round(seconds);
  return [Math.floor(s / 3600), Math.floor(s / 60) % 60, s % 60].map((n) => String(n).padStart(2, '0')).join(':');
};

/** @throws Problem where a frame would be held for longer than is taken */
export function refuseGaps({ times }: Packets, most: number): void {
  for (let i = 1; i < times.length; i++) {
    const gap = times[i] - times[i - 1];
    if (gap > most)
      throw new Problem(
        'gap-in-times',
        `After its picture ${i} the times in this file leap by ${clock(gap)} (hours, minutes, seconds); one frame would be shown for all of that. At most ${most} seconds are taken. Cut the file there, write it anew, or raise MOTTREL_MAX_HOLD_SECONDS.`,
        422,
      );
  }
}

/** Reads the times of decoded frames from what ffmpeg's framecrc writes. */
export async function decodedTimes(file: string): Promise<Times> {
  let unit = 0;
  const times: number[] = [];
  for (const line of (await readFile(file, 'utf8')).split('\n')) {
    const [, num, den] = /^#tb 0: (\d+)\/(\d+)/.exec(line) ?? [];
    if (den) unit = Number(num) / Number(den);
    if (line === '' || line.startsWith('#')) continue;
    times.push(Number(line.split(',')[2]) * unit);
  }
  return sorted(times);
}

export interface Missing {
  /** What was read, and how many there should be; null: as many. */
  read: number;
  should: number | null;
  /** Frames of the plate that show the one before, as their own could not be decoded. */
  damage: Damage[];
  /** Second at which it would begin, where its first frames could not be decoded; else null. */
  begins: number | null;
  /** It ends in the middle of its data, and how much there should be is said nowhere. */
  torn: boolean;
}

/** By how many frames a stated length may be off: it is rounded, and the last frame may be left out of it. */
const SLACK = 1.5;

/** Holds what was decoded to what the file says and what its packets say. */
export function missingFrom(says: NonNullable<Probe['says']>, rate: Rate, packets: Packets, decoded: Times): Missing {
  const perSecond = framesPerSecond(rate);
  const read = decoded.length;
  const undecoded = packets.times.length - read;
  if (read === 0) return { read, should: packets.times.length, damage: [], begins: null, torn: says.torn };
  // The decoder's times begin where the file does.
  const last = decoded[read - 1];
  const own = packets.times.map((t) => t - says.start);
  const first = Math.min(decoded[0], own[0]);
  const close = 0.25 / perSecond;
  const after = undecoded > 0 ? own.filter((t) => t > last + close).length : 0;
  const damage: Damage[] = [];
  let next = 0;
  for (; undecoded > 0 && own[next] < decoded[0] - close; next++) damage.push({ frame: Math.round((own[next] - first) * perSecond), why: 'cannot be decoded' });
  const begins = next > 0 ? own[0] : null;
  for (let i = 1; undecoded > 0 && i < read; i++) {
    if (decoded[i] - decoded[i - 1] < SLACK / perSecond) continue;
    while (next < own.length && own[next] <= decoded[i - 1] + close) next++;
    for (; next < own.length && own[next] < decoded[i] - close; next++) {
      const frame = Math.round((own[next] - first) * perSecond);
      if (damage[damage.length - 1]?.frame !== frame) damage.push({ frame, why: 'cannot be decoded' });
    }
  }
  const all = packets.times.length + packets.skipped;
  const byCount = says.frames !== null && all < says.frames ? says.frames - packets.skipped : 0;
  const lasts = packets.end - packets.times[0];
  const bySeconds = says.seconds !== null && (says.seconds - Math.max(lasts, packets.end)) * perSecond > SLACK ? Math.round(says.seconds * perSecond) : 0;
  const should = Math.max(byCount, bySeconds, read + after + damage.length);
  return { read, should: should > read ? should : null, damage, begins, torn: says.torn };
}

/** What is missing, in words. */
export function missingText({ read, should, damage, torn }: Missing): string {
  const undecoded = damage.length > 0 ? ` On ${damage.length === 1 ? 'one frame' : `${damage.length} frames`} another is seen instead.` : '';
  if (torn && should === null) return `The file ends in the middle of its data, after ${read} frames: it is cut off.${undecoded}`;
  return `${read} of ${should ?? read} frames could be read: the file is cut off or damaged.${undecoded}`;
}
