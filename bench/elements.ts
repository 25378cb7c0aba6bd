/**
 * How long each element takes in a picture of 1920x1080 and of half that, on one thread: `npx tsx bench/elements.ts`. Medians in
 * milliseconds, and how many times a plain warp of the same picture that is (libvips, bicubic, one thread): what a title, a ring or a
 * turned picture costs, told in a unit that moves with the machine.
 */
import sharp from 'sharp';
import { renderPicture } from '../core/compose/render-picture.ts';
import { newSpline } from '../core/document/part-kinds/spline.ts';
import { newDocument, newPath, newSubject } from '../core/document/records.ts';
import type { Setting } from '../core/document/schema.ts';
import { newElement } from '../core/elements/index.ts';
import { newRgba, type Rgba, type Size } from '../core/image/picture.ts';
import { NO_IMPORTS, type Sources } from '../core/matte/sources.ts';
import { smooth } from '../core/path/path.ts';
import { letters } from '../server/outputs/titles.ts';
import { quantile } from './quantile.ts';

const SIZES: Size[] = [
  { width: 960, height: 540 },
  { width: 1920, height: 1080 },
];
const RUNS = 7;

const document = newDocument('Bench', { ...SIZES[1], frames: 100, rate: { num: 24, den: 1 }, firstNumber: 0 });
const around = [smooth(960, 300, 180, 0), smooth(1200, 540, 0, 140), smooth(960, 780, -180, 0), smooth(720, 540, 0, -140)];
document.cast.push({ ...newSubject('s', 'Subject'), parts: [newSpline('p', 'Spline', [newPath('q', 0, around, true)])] });

const grey = ({ width, height }: Size): Rgba => {
  const out = newRgba(width, height);
  out.data.fill(0.5);
  for (let i = 3; i < out.data.length; i += 4) out.data[i] = 1;
  return out;
};
const sources: Sources = { ...NO_IMPORTS, letters, plate: async (_frame, size) => grey(size), footage: async (_footage, _frame, size) => grey(size) };

async function median(work: () => Promise<unknown>): Promise<number> {
  const times: number[] = [];
  for (let i = 0; i <= RUNS; i++) {
    const began = performance.now();
    await work();
    // The first makes what is kept.
    if (i > 0) times.push(performance.now() - began);
  }
  return quantile(times, 0.5);
}

const moving: Setting = { keys: [0, 99].map((frame) => ({ frame, value: frame * 19.2, ease: 'linear' as const })) };
const CASES: [string, string, Record<string, Setting>][] = [
  ['title', 'title', {}],
  ['title, moving, blurred', 'title', { x: moving, shutter: { constant: 180 } }],
  ['card', 'card', {}],
  ['rings', 'rings', {}],
  ['rings as born', 'rings', { outline: { constant: 'born' } }],
  ['line', 'line', {}],
  ['line with glow', 'line', { glow: { constant: 40 } }],
  ['footage, turned', 'footage', { turn: { constant: 30 } }],
  ['footage, moving, blurred', 'footage', { x: moving, shutter: { constant: 180 } }],
  ['cut-out, moved', 'cutout', { x: { constant: 1000.5 } }],
];

sharp.concurrency(1);
for (const size of SIZES) {
  const raw = { width: size.width, height: size.height, channels: 4 as const };
  const bytes = Buffer.alloc(size.width * size.height * 4, 127);
  const angle = Math.PI / 6;
  const turn: [[number, number], [number, number]] = [
    [Math.cos(angle), -Math.sin(angle)],
    [Math.sin(angle), Math.cos(angle)],
  ];
  const reference = await median(() => sharp(bytes, { raw }).affine(turn, { interpolator: 'bicubic' }).raw().toBuffer());
  const bare = await median(() => renderPicture(document, 50, sources, size));
  console.log(`\n${size.width}x${size.height}: libvips turns a picture in ${reference.toFixed(0)} ms; the plate alone takes ${bare.toFixed(0)} ms`);
  for (const [name, kind, settings] of CASES) {
    const made = newElement(document, 'e', 'behind', 's', kind);
    const item = { ...made, settings: { ...made.settings, ...settings }, footage: { id: 'f', ...SIZES[1], frames: 1, alpha: false } };
    const ms = (await median(() => renderPicture({ ...document, lanes: [item] }, 50, sources, size))) - bare;
    console.log(`  ${name.padEnd(26)} ${ms.toFixed(0).padStart(5)} ms  ${(ms / reference).toFixed(1).padStart(5)} times`);
  }
}
