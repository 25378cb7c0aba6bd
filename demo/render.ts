/**
 * Renders the demo film "Low Tide Post" anew: `npm run demo:render -- [--only NAME] [--frame N --still FILE] [--samples N]`.
 * Each clip is written as H.264 beside its exact mattes (lossless FFV1, 8-bit gray) in demo/clips, with the ways of its marks
 * (plate pixels, in sight or not, frame after frame) for trackers. `--marks` writes the ways alone.
 */
import { spawn } from 'node:child_process';
import { once } from 'node:events';
import { mkdir, writeFile } from 'node:fs/promises';
import path from 'node:path';
import { parseArgs } from 'node:util';
import { chromium } from '@playwright/test';
import { build } from 'esbuild';
import sharp from 'sharp';
import { tideWater } from './tide.ts';

const WIDTH = 960;
const HEIGHT = 540;
const here = import.meta.dirname;
const clips = path.join(here, 'clips');

interface Clip {
  file: string;
  /** A scene of the stage; null: the tide water, which has no scene. */
  scene: string | null;
  frames: number;
  subject: boolean;
  /** Sub-frames where more are needed than elsewhere: what is far out of focus shows them apart. */
  samples?: number;
}

const CLIPS: Clip[] = [
  { file: 'courier-on-the-quay', scene: 'quay-courier', frames: 84, subject: true },
  { file: 'courier-second-take', scene: 'quay-courier-again', frames: 60, subject: true },
  { file: 'passer-by', scene: 'quay-passer-by', frames: 48, subject: true, samples: 32 },
  { file: 'storm-lantern', scene: 'storm-lantern', frames: 72, subject: true },
  { file: 'ferry-ramp', scene: 'ferry-ramp', frames: 60, subject: true },
  { file: 'dune-kite', scene: 'dune-kite', frames: 60, subject: true },
  { file: 'empty-quay', scene: 'quay-courier', frames: 24, subject: false },
  { file: 'tide-water', scene: null, frames: 60, subject: false },
];

const { values: options } = parseArgs({
  options: {
    only: { type: 'string' },
    frame: { type: 'string' },
    still: { type: 'string' },
    marks: { type: 'boolean', default: false },
    samples: { type: 'string' },
  },
});

function encoder(pixels: string, args: string[], file: string) {
  const child = spawn('ffmpeg', ['-v', 'error', '-y', '-f', 'rawvideo', '-pix_fmt', pixels, '-s', `${WIDTH}x${HEIGHT}`, '-r', '24', '-i', '-', ...args, file], {
    stdio: ['pipe', 'inherit', 'inherit'],
  });
  return {
    async write(bytes: Buffer) {
      if (!child.stdin.write(bytes)) await once(child.stdin, 'drain');
    },
    async end() {
      child.stdin.end();
      const [code] = await once(child, 'close');
      if (code !== 0) throw new Error(`ffmpeg failed on ${file} (exit ${code})`);
    },
  };
}

const bundle = await build({ entryPoints: [path.join(here, 'stage.ts')], bundle: true, format: 'iife', write: false, logLevel: 'warning' });
const browser = await chromium.launch({
  executablePath: process.env.CHROMIUM ?? '/usr/bin/chromium',
  args: [
    '--no-sandbox',
    '--use-gl=angle',
    '--use-angle=swiftshader',
    '--enable-unsafe-swiftshader',
    '--ignore-gpu-blocklist',
    '--disable-background-networking',
    '--disable-quic',
  ],
});
const page = await browser.newPage();
page.on('console', (m) => {
  if (m.type() === 'error') console.error(m.text());
});
page.on('pageerror', (e) => console.error(e));
await page.setContent('<!doctype html><body></body>');
await page.addScriptTag({ content: bundle.outputFiles[0].text });
await page.waitForFunction('window.ready');

let water: ReturnType<typeof tideWater> | null = null;

async function frameOf(clip: Clip, frame: number) {
  const samples = Number(options.samples ?? clip.samples ?? 16);
  if (!clip.scene) {
    water ??= tideWater(WIDTH, HEIGHT, clip.frames);
    const gray = water(frame, samples);
    return { rgb: Buffer.from(Uint8Array.from({ length: gray.length * 3 }, (_, i) => gray[Math.floor(i / 3)])), alpha: Buffer.from(gray) };
  }
  const out = (await page.evaluate(`renderFrame('${clip.scene}', ${frame}, ${samples}, ${clip.subject})`)) as { rgb: string; alpha: string };
  return { rgb: Buffer.from(out.rgb, 'base64'), alpha: Buffer.from(out.alpha, 'base64') };
}

await mkdir(clips, { recursive: true });
for (const clip of CLIPS) {
  if (options.only && clip.file !== options.only) continue;
  if (options.still) {
    const { rgb, alpha } = await frameOf(clip, Number(options.frame ?? 0));
    await sharp(rgb, { raw: { width: WIDTH, height: HEIGHT, channels: 3 } })
      .png()
      .toFile(options.still);
    await sharp(alpha, { raw: { width: WIDTH, height: HEIGHT, channels: 1 } })
      .png()
      .toFile(options.still.replace(/\.png$/, '.alpha.png'));
    continue;
  }
  if (clip.subject) {
    const ways: Record<string, [number, number, boolean][]> = {};
    for (let n = 0; n < clip.frames; n++) {
      const marks = (await page.evaluate(`marksAt('${clip.scene}', ${n})`)) as Record<string, [number, number, boolean]>;
      for (const [name, mark] of Object.entries(marks)) {
        ways[name] ??= [];
        ways[name].push(mark);
      }
    }
    await writeFile(
      path.join(clips, `${clip.file}.marks.json`),
      `{\n${Object.entries(ways)
        .map(([name, way]) => `"${name}": ${JSON.stringify(way)}`)
        .join(',\n')}\n}\n`,
    );
  }
  if (options.marks) continue;
  const colour = ['-color_primaries', 'bt709', '-color_trc', 'bt709', '-colorspace', 'bt709', '-color_range', 'tv'];
  const plate = encoder(
    'rgb24',
    [
      '-vf',
      'scale=out_color_matrix=bt709:out_range=tv',
      '-pix_fmt',
      'yuv420p',
      '-c:v',
      'libx264',
      '-preset',
      'slow',
      '-crf',
      '17',
      '-threads',
      '1',
      ...colour,
      '-movflags',
      '+faststart',
      '-fflags',
      '+bitexact',
    ],
    path.join(clips, `${clip.file}.mp4`),
  );
  const matte = clip.subject
    ? encoder('gray', ['-c:v', 'ffv1', '-level', '3', '-g', '1', '-threads', '1', '-fflags', '+bitexact'], path.join(clips, `${clip.file}.matte.mkv`))
    : null;
  for (let n = 0; n < clip.frames; n++) {
    const { rgb, alpha } = await frameOf(clip, n);
    await plate.write(rgb);
    await matte?.write(alpha);
    process.stdout.write(`\r${clip.file} ${n + 1}/${clip.frames}`);
  }
  await plate.end();
  await matte?.end();
  process.stdout.write('\n');
}
await browser.close();
if (!options.still && !options.marks)
  await writeFile(
    path.join(clips, 'clips.json'),
    `${JSON.stringify(
      CLIPS.map(({ file, frames, subject }) => ({ file, frames, rate: 24, width: WIDTH, height: HEIGHT, matte: subject })),
      null,
      2,
    )}\n`,
  );
