/**
 * Benchmarks: `./mottrel bench`. Medians of one thread in milliseconds; where native OpenCV has the function (one thread,
 * Debian's python3-opencv), its time and the ratio ours/its. Times depend on the machine; ratios less so.
 */
import { spawnSync } from 'node:child_process';
import path from 'node:path';
import sharp from 'sharp';
import { renderPicture } from '../core/compose/render-picture.ts';
import { newSpline } from '../core/document/part-kinds/spline.ts';
import { newDocument, newPath, newSubject } from '../core/document/records.ts';
import type { ShotDocument } from '../core/document/schema.ts';
import { newLaneEffect } from '../core/effects/lane-effect.ts';
import { gaussianBlur } from '../core/image/gaussian.ts';
import { matteTo8, matteTo16, newRgba, type Size } from '../core/image/picture.ts';
import { signedDistance } from '../core/matte/distance.ts';
import { finishEdge, PLAIN_EDGE } from '../core/matte/edge.ts';
import { renderMatte } from '../core/matte/render-matte.ts';
import { NO_IMPORTS } from '../core/matte/sources.ts';
import { fillPolylines } from '../core/path/fill.ts';
import { flatten, type Shape } from '../core/path/path.ts';
import { ROOT } from '../server/root.ts';
import { dragging } from './drag.ts';
import { scrubbing } from './scrub.ts';
import { sheetScrolling } from './sheet.ts';

const SIZES: Size[] = [
  { width: 960, height: 540 },
  { width: 1920, height: 1080 },
];
const RUNS = 15;

/** Sixty smooth points on a wavy ring in plate pixels of 1920x1080. */
function ring(): Shape {
  const n = 60;
  return Array.from({ length: n }, (_, i) => {
    const a = (i / n) * Math.PI * 2;
    const r = 300 + 60 * Math.sin(a * 9);
    const k = (2 * Math.PI) / n / 3;
    const [dx, dy] = [-r * k * Math.sin(a), r * k * Math.cos(a)];
    return { x: 960 + r * Math.cos(a), y: 540 + r * Math.sin(a), inX: -dx, inY: -dy, outX: dx, outY: dy };
  });
}

function example(): ShotDocument {
  const document = newDocument('Bench', { ...SIZES[1], frames: 10, rate: { num: 24, den: 1 }, firstNumber: 0 });
  const subject = newSubject('s', 'Ring');
  subject.parts.push(newSpline('p', 'Ring', [newPath('q', 0, ring(), true)]));
  Object.assign(subject.edge, { featherIn: { constant: 6 }, featherOut: { constant: 10 } });
  document.cast.push(subject);
  document.lanes.push(newLaneEffect('b', 'behind', 's', 'gaussian-blur'));
  return document;
}

/** Ten parts of forty points, every one feathered, through the whole chain of the edge (steadying, which takes five frames, apart). */
function heavy(): ShotDocument {
  const document = newDocument('Heavy', { ...SIZES[1], frames: 10, rate: { num: 24, den: 1 }, firstNumber: 0 });
  const subject = newSubject('s', 'Heavy');
  for (let p = 0; p < 10; p++) {
    const [cx, cy] = [330 + (p % 5) * 315, 330 + Math.floor(p / 5) * 420];
    const n = 40;
    const shape: Shape = Array.from({ length: n }, (_, i) => {
      const a = (i / n) * Math.PI * 2;
      const r = 120 + 16 * Math.sin(a * 5 + p);
      const k = (r * 2 * Math.PI) / n / 3;
      const [dx, dy] = [-k * Math.sin(a), k * Math.cos(a)];
      return { x: cx + r * Math.cos(a), y: cy + r * Math.sin(a), inX: -dx, inY: -dy, outX: dx, outY: dy, featherIn: 2 + (i % 4), featherOut: 4 + (i % 7) };
    });
    subject.parts.push({ ...newSpline(`p${p}`, `P${p}`, [newPath(`q${p}`, 0, shape, true)]), operation: p === 9 ? 'subtract' : 'add' });
  }
  const constant = (v: number) => ({ constant: v });
  Object.assign(subject.edge, {
    grow: constant(1),
    featherIn: constant(2),
    featherOut: constant(3),
    firmness: constant(0.2),
    roundness: constant(6),
    specks: constant(30),
    holes: constant(30),
  });
  document.cast.push(subject);
  return document;
}

async function median(work: () => unknown): Promise<number> {
  for (let i = 0; i < 4; i++) await work();
  const times: number[] = [];
  for (let i = 0; i < RUNS; i++) {
    const start = performance.now();
    await work();
    times.push(performance.now() - start);
  }
  return times.sort((a, b) => a - b)[RUNS >> 1];
}

const outlines = Object.fromEntries(
  SIZES.map(({ width, height }) => {
    const p = flatten(ring(), width / 1920, width / 1920);
    return [`${width}x${height}`, Array.from({ length: p.length / 2 }, (_, i) => [p[2 * i], p[2 * i + 1]])];
  }),
);
const native = spawnSync('/usr/bin/python3', [path.join(ROOT, 'bench', 'reference.py')], {
  input: JSON.stringify(outlines),
  encoding: 'utf8',
  maxBuffer: 1 << 26,
});
const reference = native.status === 0 ? (JSON.parse(native.stdout) as Record<string, number>) : {};
if (native.status !== 0) console.log('No reference: install python3-opencv to compare.\n');

function row(name: string, time: number): void {
  const other = reference[name];
  console.log(
    `${name.padEnd(36)} ${time.toFixed(1).padStart(8)} ms${other ? `   OpenCV ${other.toFixed(1).padStart(7)} ms   ratio ${(time / other).toFixed(2)}` : ''}`,
  );
}

const document = example();
const laden = heavy();
for (const size of SIZES) {
  const { width, height } = size;
  const label = `${width}x${height}`;
  const scale = width / 1920;
  const outline = () => flatten(ring(), scale, scale);
  const matte = fillPolylines([outline()], width, height);
  const plate = newRgba(width, height);
  for (let i = 0; i < plate.data.length; i++) plate.data[i] = i % 4 === 3 ? 1 : ((i * 2654435761) % 997) / 997;
  const sources = { plate: async () => plate, ...NO_IMPORTS };
  const fill = await median(() => fillPolylines([outline()], width, height));
  row(`curve fill, equal quality ${label}`, fill);
  row(`curve fill, rough edges ${label}`, fill);
  row(`distance ${label}`, await median(() => signedDistance(matte, 0.5, 12)));
  row(`distance, feather of 100 px ${label}`, await median(() => signedDistance(matte, 0.5, 100, 0.3)));
  row(`feather ${label}`, await median(() => finishEdge({ ...matte, data: matte.data.slice() }, { ...PLAIN_EDGE, featherIn: 6, featherOut: 10 })));
  // Blurred from a copy each time: tails blurred again and again would fall into the slow smallest floats.
  const gray = matte.data;
  row(`blur sigma 12 ${label}`, await median(() => gaussianBlur(gray.slice(), width, height, 1, 12, 12)));
  row(`renderMatte, 10 parts, 400 points, whole edge ${label}`, await median(() => renderMatte(laden, 's', 0, NO_IMPORTS, size)));
  row(`renderMatte ${label}`, await median(() => renderMatte(document, 's', 0, NO_IMPORTS, size)));
  row(`renderPicture ${label}`, await median(() => renderPicture(document, 0, sources, size)));
  row(
    `PNG 8 bit ${label}`,
    await median(() =>
      sharp(matteTo8(matte), { raw: { width, height, channels: 1 } })
        .png({ compressionLevel: 1 })
        .toBuffer(),
    ),
  );
  row(
    `PNG 16 bit ${label}`,
    await median(() =>
      sharp(matteTo16(matte), { raw: { width, height, channels: 1 } })
        .toColourspace('grey16')
        .png({ compressionLevel: 1 })
        .toBuffer(),
    ),
  );
  console.log();
}
await scrubbing();
await dragging();
await sheetScrolling();
