/** Frames and ground truth of the demo film, for the battery. */
import { spawnSync } from 'node:child_process';
import path from 'node:path';
import type { PreparedFrame } from '../../core/peel/motion/prepared-frame.ts';
import type { FrameBytes } from '../../core/peel/picture/lab.ts';
import { FrameViews } from '../../core/peel/shot/frame-views.ts';
import { ROOT } from '../../server/root.ts';

const CLIPS = path.join(ROOT, 'demo', 'clips');
export const WIDTH = 960;
export const HEIGHT = 540;

function decode(file: string, format: 'rgba' | 'gray', bytes: number, first: number, count: number): Buffer[] {
  const select = `trim=start_frame=${first}:end_frame=${first + count},setpts=PTS-STARTPTS`;
  const { stdout, status, stderr } = spawnSync(
    'ffmpeg',
    ['-v', 'error', '-i', path.join(CLIPS, file), '-vf', select, '-f', 'rawvideo', '-pix_fmt', format, '-'],
    {
      maxBuffer: 2 ** 31,
    },
  );
  if (status !== 0) throw new Error(`${file}: ${stderr}`);
  return Array.from({ length: stdout.length / bytes }, (_, i) => stdout.subarray(i * bytes, (i + 1) * bytes));
}

export interface Footage {
  frames: FrameBytes[];
  /** Exact alpha, a byte a pixel. */
  truth: Buffer[];
}

/** A frame as it is painted on, with those beside it. */
export const paintedFrame = ({ frames }: Pick<Footage, 'frames'>, frame: number): Promise<PreparedFrame> =>
  new FrameViews(async (f) => frames[f]).painted(frame, frames.length);

export const demoFrames = (name: string, first: number, count: number): FrameBytes[] =>
  decode(`${name}.mp4`, 'rgba', WIDTH * HEIGHT * 4, first, count).map((data) => ({ width: WIDTH, height: HEIGHT, data }));

export function demoFootage(name: string, first: number, count: number): Footage {
  return {
    frames: demoFrames(name, first, count),
    truth: decode(`${name}.matte.mkv`, 'gray', WIDTH * HEIGHT, first, count),
  };
}
