/** What footage comes in: frame n of each kind is held to what another decode gives for it. */
import { execFileSync } from 'node:child_process';
import { readFile } from 'node:fs/promises';
import path from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { bringIn, ffmpeg, openTestServices, type TestServices, temporaryDirectory } from '../../tests/services.ts';
import { Plate } from '../db/models.ts';
import { readFrames } from './read-plate.ts';

let services: TestServices;
let dir: string;
beforeAll(async () => {
  services = await openTestServices();
  dir = await temporaryDirectory();
});
afterAll(() => services.end());

const at = (name: string) => path.join(dir, name);
const FRAMES = 10;
/** Something that moves, so that no two frames are alike. */
const source = ([num, den]: readonly [number, number]): string[] => ['-f', 'lavfi', '-i', `testsrc2=s=192x108:r=${num}/${den},trim=end_frame=${FRAMES}`];

interface Kind {
  name: string;
  args: string[];
  frames?: number;
  size?: [number, number];
  rate?: [number, number];
  alpha?: boolean;
  /** How far a channel may be off on the mean; 255 is all. */
  by?: number;
}

const x264 = ['-c:v', 'libx264', '-preset', 'ultrafast'];
const KINDS: Kind[] = [
  { name: 'h264.mp4', args: [...x264, '-pix_fmt', 'yuv420p'] },
  { name: 'h264-b.mov', args: ['-c:v', 'libx264', '-bf', '3', '-pix_fmt', 'yuv420p'] },
  { name: 'h264.ts', args: [...x264, '-pix_fmt', 'yuv420p'] },
  { name: 'h264-422-10.mkv', args: [...x264, '-pix_fmt', 'yuv422p10le'] },
  { name: 'hevc.mp4', args: ['-c:v', 'libx265', '-preset', 'ultrafast', '-x265-params', 'log-level=none', '-pix_fmt', 'yuv420p'] },
  { name: 'hevc-10.mkv', args: ['-c:v', 'libx265', '-preset', 'ultrafast', '-x265-params', 'log-level=none', '-pix_fmt', 'yuv420p10le'] },
  { name: 'vp8.webm', args: ['-c:v', 'libvpx', '-b:v', '2M', '-pix_fmt', 'yuv420p'] },
  { name: 'vp9.webm', args: ['-c:v', 'libvpx-vp9', '-cpu-used', '8', '-b:v', '1M', '-pix_fmt', 'yuv420p'] },
  { name: 'av1.mkv', args: ['-c:v', 'libaom-av1', '-cpu-used', '8', '-crf', '20', '-pix_fmt', 'yuv420p'] },
  { name: 'prores-422.mov', args: ['-c:v', 'prores_ks', '-profile:v', '3', '-pix_fmt', 'yuv422p10le'] },
  { name: 'prores-4444.mov', args: ['-c:v', 'prores_ks', '-profile:v', '4444', '-pix_fmt', 'yuva444p10le'], alpha: true },
  { name: 'dnxhd.mxf', args: ['-vf', 'scale=1920:1080', '-c:v', 'dnxhd', '-b:v', '36M', '-pix_fmt', 'yuv422p'], size: [1920, 1080] },
  { name: 'dnxhr.mov', args: ['-vf', 'scale=256:120,setsar=1', '-c:v', 'dnxhd', '-profile:v', 'dnxhr_hq', '-pix_fmt', 'yuv422p'], size: [256, 120] },
  { name: 'mjpeg.avi', args: ['-c:v', 'mjpeg', '-q:v', '2', '-pix_fmt', 'yuvj422p'] },
  { name: 'ffv1.mkv', args: ['-c:v', 'ffv1', '-level', '3', '-pix_fmt', 'yuv444p10le'] },
  { name: 'mpeg2.ts', args: ['-c:v', 'mpeg2video', '-q:v', '2', '-pix_fmt', 'yuv420p'] },
  { name: 'mpeg4.avi', args: ['-c:v', 'mpeg4', '-q:v', '2'] },
  { name: 'png.mov', args: ['-c:v', 'png', '-pix_fmt', 'rgba'], alpha: true },
  { name: 'anim.gif', args: [], rate: [25, 1], alpha: true },
  { name: 'anim.apng', args: ['-f', 'apng', '-plays', '0', '-pix_fmt', 'rgba'], alpha: true },
  { name: 'rate-23.mp4', args: [...x264, '-pix_fmt', 'yuv420p'], rate: [24000, 1001] },
  { name: 'rate-29.mov', args: [...x264, '-pix_fmt', 'yuv420p'], rate: [30000, 1001] },
  { name: 'rate-59.mkv', args: [...x264, '-pix_fmt', 'yuv420p'], rate: [60000, 1001] },
  { name: 'odd.mp4', args: [...x264, '-vf', 'format=yuv444p,crop=191:107', '-pix_fmt', 'yuv444p'], size: [191, 107] },
  { name: 'wide-pixels.mp4', args: [...x264, '-vf', 'setsar=2/1', '-pix_fmt', 'yuv420p'], size: [384, 108] },
  { name: 'one.mp4', args: [...x264, '-frames:v', '1', '-pix_fmt', 'yuv420p'], frames: 1 },
  { name: 'later.mp4', args: [...x264, '-output_ts_offset', '5', '-pix_fmt', 'yuv420p'] },
];

/** Frames as RGB by another way than ours: no filter for time, ffmpeg's own choice of colours. */
function decoded(file: string, [width, height]: [number, number], matrix: string): Buffer {
  return execFileSync(
    'ffmpeg',
    [
      '-v',
      'error',
      '-i',
      file,
      '-an',
      '-vf',
      `scale=${width}:${height}:in_color_matrix=${matrix}`,
      '-vsync',
      'passthrough',
      '-f',
      'rawvideo',
      '-pix_fmt',
      'rgb24',
      '-',
    ],
    { maxBuffer: 1 << 30 },
  );
}

describe('footage of every kind', () => {
  it.each(KINDS.map((k) => [k.name, k] as const))('%s: every frame is there, and is the one that it should be', async (name, kind) => {
    ffmpeg(...source(kind.rate ?? [24, 1]), ...kind.args, at(name));
    const { plateId, notes } = await bringIn(services, [{ name, bytes: await readFile(at(name)) }]);
    const plate = (await Plate.findByPk(plateId)) as Plate;
    const [width, height] = kind.size ?? [192, 108];
    expect(plate).toMatchObject({ width, height, frames: kind.frames ?? FRAMES, rateNum: kind.rate?.[0] ?? 24, rateDen: kind.rate?.[1] ?? 1 });
    expect(notes.join(' ')).not.toMatch(/damaged|cut off/);
    const probe = services.shots.probeOf(plate);
    expect(probe.alpha ?? false).toBe(kind.alpha ?? false);
    const other = decoded(at(name), [width, height], probe.matrix === 'bt709' ? 'bt709' : 'smpte170m');
    const bytes = width * height * 3;
    let frame = 0;
    for await (const own of readFrames(probe, services.shots.originals(plateId), { width, height }, 0)) {
      const off = (n: number): number => {
        let sum = 0;
        for (let i = 0; i < bytes; i += 7) sum += Math.abs(own[i] - other[n * bytes + i]);
        return sum / (bytes / 7);
      };
      // Nearer to the frame of its number than to the ones beside it.
      const here = off(frame);
      if (here >= (kind.by ?? 5)) expect(`frame ${frame} is off by ${here}`).toBe('as it is');
      for (const beside of [frame - 1, frame + 1]) if (beside >= 0 && (beside + 1) * bytes <= other.length) expect(off(beside)).toBeGreaterThan(here);
      frame++;
    }
    expect(frame).toBe(kind.frames ?? FRAMES);
  });
});
