/**
 * The compose engine: `npx tsx bench/compose.ts`. Medians in milliseconds on one thread, against native OpenCV that does the same in
 * float, and against a plain ffmpeg graph of the same picture.
 */
import { spawnSync } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import { renderPictureBytes } from '../core/compose/render-picture.ts';
import { newSpline } from '../core/document/part-kinds/spline.ts';
import { newDocument, newPath, newSubject } from '../core/document/records.ts';
import type { Lane, LaneItem, Setting, ShotDocument } from '../core/document/schema.ts';
import { newLaneEffect } from '../core/effects/lane-effect.ts';
import { newElement } from '../core/elements/index.ts';
import { newRgba, type Rgba, type Size } from '../core/image/picture.ts';
import { NO_IMPORTS, type Sources } from '../core/matte/sources.ts';
import { smooth } from '../core/path/path.ts';
import { letters } from '../server/outputs/titles.ts';
import { ROOT } from '../server/root.ts';
import { quantile } from './quantile.ts';

const SIZES: Size[] = [
  { width: 960, height: 540 },
  { width: 1920, height: 1080 },
];
const RUNS = 9;
/** Runs before the kernels are compiled well. */
const WARM = 12;

async function median(work: () => unknown): Promise<number> {
  const times: number[] = [];
  for (let i = 0; i <= RUNS + WARM; i++) {
    const began = performance.now();
    await work();
    // The first ones make what is kept, and are not yet compiled well.
    if (i > WARM) times.push(performance.now() - began);
  }
  return quantile(times, 0.5);
}

const noise = ({ width, height }: Size): Rgba => {
  const out = newRgba(width, height);
  for (let i = 0; i < out.data.length; i++) out.data[i] = i % 4 === 3 ? 1 : ((i * 2654435761) % 997) / 997;
  return out;
};
const LAYER = { width: 640, height: 360 };

/** A round subject in the middle, a third of the height in radius. */
function bare({ width, height }: Size): ShotDocument {
  const document = newDocument('Bench', { width, height, frames: 100, rate: { num: 24, den: 1 }, firstNumber: 0 });
  const [cx, cy, r] = [width / 2, height / 2, height / 3];
  const k = 0.5523 * r;
  const round = [smooth(cx, cy - r, k, 0), smooth(cx + r, cy, 0, k), smooth(cx, cy + r, -k, 0), smooth(cx - r, cy, 0, -k)];
  document.cast.push({ ...newSubject('s', 'Subject'), parts: [newSpline('p', 'Spline', [newPath('q', 0, round, true)])] });
  return document;
}
const still = (values: Record<string, number | string>): Record<string, Setting> =>
  Object.fromEntries(Object.entries(values).map(([k, v]) => [k, { constant: v }]));
const effect = (id: string, lane: Lane, settings: Record<string, number>, name = id): LaneItem => {
  const made = newLaneEffect(name, lane, lane === 'front' || lane === 'backdrop' ? null : 's', id);
  return { ...made, settings: { ...made.settings, ...still(settings) } };
};

function cases(size: Size): Record<string, LaneItem[]> {
  const document = bare(size);
  const scale = size.width / 1920;
  const blur = effect('gaussian-blur', 'behind', { x: 8 * scale, y: 8 * scale });
  const title = newElement(document, 'title', 'behind', 's', 'title');
  const sliding = (id: string, side: 1 | -1): LaneItem => {
    const made = newElement(document, id, 'front', null, 'footage');
    const x = { keys: [0, 99].map((frame) => ({ frame, value: size.width / 2 + side * (LAYER.width / 2 + 40 * (frame - 50)), ease: 'linear' as const })) };
    return { ...made, footage: { id, ...LAYER, frames: 1, alpha: false }, settings: { ...made.settings, x, shutter: { constant: 216 } } };
  };
  const card = newElement(document, 'card', 'front', null, 'card');
  const tenth = { width: size.width * Math.sqrt(0.1), height: size.height * Math.sqrt(0.1) };
  const blurred = (id: string, box: Size): LaneItem => ({
    ...card,
    id,
    settings: { ...card.settings, ...still(box as never) },
    effects: [{ ...effect('gaussian-blur', 'front', { x: 4, y: 4 }), type: 'element-effect' } as never],
  });
  return {
    'one blur behind': [blur],
    'three effects and a title': [
      blur,
      { ...title, words: 'Low Tide' },
      effect('grade', 'behind', { exposure: 0.2, saturation: 60 }),
      effect('grade', 'inside', { exposure: -0.2, saturation: 120 }, 'inside'),
    ],
    'motion blur of two layers': [sliding('a', 1), sliding('b', -1)],
    'a card over all, softened': [blurred('whole', size)],
    'a card over a tenth, softened': [blurred('tenth', tenth)],
  };
}

/** Milliseconds a frame of a plain ffmpeg graph that blurs a picture behind a matte. */
function ffmpegGraph({ width, height }: Size): number {
  const dir = mkdtempSync(path.join(os.tmpdir(), 'mottrel-bench-'));
  const frames = 24;
  const graph = `[0:v]format=gbrpf32le,split[a][b];[b]gblur=sigma=${(8 * width) / 1920}:steps=3[c];[1:v]format=gbrpf32le[m];[c][a][m]maskedmerge`;
  const source = (what: string, first: string) => ['-f', 'lavfi', '-i', `${what}=${first}s=${width}x${height}:r=24:d=1`];
  const time = (filter: string) => {
    const began = performance.now();
    const { status, stderr } = spawnSync(
      'ffmpeg',
      [
        '-v',
        'error',
        '-threads',
        '1',
        '-filter_complex_threads',
        '1',
        ...source('testsrc2', ''),
        ...source('color', 'c=white:'),
        '-filter_complex',
        filter,
        '-frames:v',
        String(frames),
        '-f',
        'null',
        '-',
      ],
      { encoding: 'utf8', cwd: dir },
    );
    if (status !== 0) throw new Error(stderr);
    return performance.now() - began;
  };
  const plain = '[0:v]format=gbrpf32le[a];[1:v]format=gbrpf32le[m];[a][m]blend=all_mode=normal:all_opacity=0';
  const ms = (Math.min(time(graph), time(graph)) - Math.min(time(plain), time(plain))) / frames;
  rmSync(dir, { recursive: true });
  return ms;
}

const native = spawnSync('/usr/bin/python3', [path.join(ROOT, 'bench', 'compose-reference.py')], { encoding: 'utf8' });
const reference = native.status === 0 ? (JSON.parse(native.stdout) as Record<string, number>) : {};
if (native.status !== 0) console.log('No reference: install python3-opencv to compare.\n');

for (const size of SIZES) {
  const label = `${size.width}x${size.height}`;
  const plate = noise(size);
  const bytes = Uint8Array.from({ length: size.width * size.height * 3 }, (_, i) => (i * 2654435761) % 251);
  const layer = noise(LAYER);
  const sources: Sources = {
    ...NO_IMPORTS,
    letters,
    plate: async () => plate,
    plateBytes: async () => ({ ...size, bytes, channels: 3 }),
    footage: async () => layer,
  };
  const times: Record<string, number> = {};
  for (const [name, lanes] of Object.entries(cases(size))) {
    times[name] = await median(() => renderPictureBytes({ ...bare(size), lanes }, 50, sources, size, 3));
    const other = reference[`${name} ${label}`];
    console.log(
      `${`${name} ${label}`.padEnd(44)} ${times[name].toFixed(1).padStart(8)} ms${other ? `   OpenCV ${other.toFixed(1).padStart(7)} ms   ratio ${(times[name] / other).toFixed(2)}` : ''}`,
    );
  }
  const graph = ffmpegGraph(size);
  console.log(`${'one blur behind, against ffmpeg'.padEnd(44)} ${graph.toFixed(1).padStart(8)} ms   ratio ${(times['one blur behind'] / graph).toFixed(2)}`);
  console.log(
    `${'a tenth of the picture against all of it'.padEnd(44)} ratio ${(times['a card over a tenth, softened'] / times['a card over all, softened']).toFixed(2)}\n`,
  );
}
