/** Calling ffmpeg and ffprobe: argument lists only, never a shell; local files only; known containers only. */
import { type ChildProcessByStdio, spawn } from 'node:child_process';
import type { Readable, Writable } from 'node:stream';
import { Problem } from '../problem.ts';

/** Files may be opened, nothing over a network; of the containers ffmpeg knows, those that footage comes in. */
export const INPUT_GUARD = [
  '-protocol_whitelist',
  'file,pipe',
  '-format_whitelist',
  'mov,mp4,m4a,3gp,3g2,mj2,matroska,webm,avi,mpegts,mpeg,mxf,ogg,flv,asf,gif,apng,h264,hevc,mjpeg,image2,png_pipe,jpeg_pipe,tiff_pipe,exr_pipe,dpx_pipe,bmp_pipe,webp_pipe,yuv4mpegpipe,nut,dv',
];

export interface Finished {
  code: number | null;
  stderr: string;
}

/** The first thing that ffmpeg said was wrong, as a sentence, without where in its memory. */
export const firstFault = (stderr: string): string => {
  const line = (stderr.split('\n')[0] ?? '').replace(/^(\[[^\]]*\] *)+/, '').trim();
  return line === '' || line.endsWith('.') ? line : `${line}.`;
};

/** Runs to the end, keeping the last of what it says on stderr. `signal` kills it. */
export function run(
  program: 'ffmpeg' | 'ffprobe',
  args: string[],
  options: { signal?: AbortSignal; onLine?: (line: string) => void; onText?: (text: string) => void; timeoutMs?: number } = {},
): Promise<Finished & { stdout: string }> {
  return new Promise((resolve, reject) => {
    const child = spawn(program, args, { stdio: ['ignore', 'pipe', 'pipe'], signal: options.signal, timeout: options.timeoutMs, killSignal: 'SIGKILL' });
    let stdout = '';
    let stderr = '';
    child.stdout.setEncoding('utf8').on('data', (chunk: string) => {
      if (options.onText) options.onText(chunk);
      else if (options.onLine) for (const line of chunk.split('\n')) options.onLine(line);
      else if (stdout.length < 64 * 1024 * 1024) stdout += chunk;
    });
    child.stderr.setEncoding('utf8').on('data', (chunk: string) => {
      stderr = (stderr + chunk).slice(-4000);
    });
    child.once('error', (error) => {
      if ((error as NodeJS.ErrnoException).code === 'ENOENT')
        reject(new Problem('no-ffmpeg', `${program} is not installed. Run ./mottrel start again, or install the package ffmpeg.`, 500));
      else reject(error);
    });
    child.once('close', (code) => resolve({ code, stderr, stdout }));
  });
}

/** A running ffmpeg that gives raw bytes on stdout. */
export function readRaw(args: string[]): { child: ChildProcessByStdio<null, Readable, Readable>; errors: () => string } {
  const child = spawn('ffmpeg', ['-v', 'error', '-nostdin', ...args], { stdio: ['ignore', 'pipe', 'pipe'] });
  let stderr = '';
  child.stderr.setEncoding('utf8').on('data', (chunk: string) => {
    stderr = (stderr + chunk).slice(-4000);
  });
  return { child, errors: () => stderr };
}

/** A running ffmpeg that takes raw frames on stdin. */
export function writeRaw(args: string[]): { child: ChildProcessByStdio<Writable, null, Readable>; finished: Promise<Finished> } {
  const child = spawn('ffmpeg', ['-v', 'error', ...args], { stdio: ['pipe', 'ignore', 'pipe'] });
  let stderr = '';
  child.stderr.setEncoding('utf8').on('data', (chunk: string) => {
    stderr = (stderr + chunk).slice(-4000);
  });
  // A broken pipe shows as a non-zero exit, which says more.
  child.stdin.on('error', () => {});
  const finished = new Promise<Finished>((resolve, reject) => {
    child.once('error', reject);
    child.once('close', (code) => resolve({ code, stderr }));
  });
  return { child, finished };
}
