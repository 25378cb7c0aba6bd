import { readFileSync, readdirSync } from 'node:fs';
import { prepareFrame } from '../../core/peel/cut-frame.ts';
import { mendPainted } from '../../core/peel/cut-painted.ts';
import { Newest } from '../../core/math/newest.ts';
import { CUT_SETTINGS } from '../../core/peel/settings.ts';
import { nextStroke } from './artist.ts';
import { HEIGHT, WIDTH } from './footage.ts';
import { boundaryF, regionIoU } from './measures.ts';
const plate = { width: WIDTH, height: HEIGHT };
const sums: number[][] = [];
for (const file of readdirSync('/tmp/w').filter((f) => f.endsWith('.mask'))) {
  const name = file.slice(5, -5);
  const read = (x: string) => new Uint8Array(readFileSync(`/tmp/w/mend-${name}.${x}`));
  const truth = read('truth'); const base = read('mask');
  const prepared = prepareFrame({ ...plate, data: read('rgba') });
  const line: number[] = []; let worst = 0; let ms = 0; let n = 0;
  const put = (m: Uint8Array) => line.push(regionIoU(m, truth), boundaryF(m, truth, WIDTH, HEIGHT, 3));
  put(base);
  const strokes: NonNullable<ReturnType<typeof nextStroke>>[] = [];
  let mask: Uint8Array = base; let last = regionIoU(base, truth);
  const known = new Newest<Uint8Array | null>(4);
  for (let k = 1; k <= 10; k++) {
    const next = nextStroke(mask, truth, WIDTH, HEIGHT);
    if (next) { strokes.push(next); const t = performance.now(); mask = mendPainted(prepared, { mask: base, zone: null }, strokes, plate, CUT_SETTINGS, null, known).mask; ms += performance.now() - t; n++; const now = regionIoU(mask, truth); worst = Math.min(worst, now - last); last = now; }
    if ([1, 2, 4, 10].includes(k)) put(mask);
  }
  sums.push([...line, worst]);
  console.log(name.padEnd(12), line.map((v) => v.toFixed(3)).join(' '), 'worst step', worst.toFixed(3), (ms / n).toFixed(0), 'ms');
}
console.log('mean'.padEnd(12), sums[0].map((_, k) => (sums.reduce((a, l) => a + l[k], 0) / sums.length).toFixed(3)).join(' '));
