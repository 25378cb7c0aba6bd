import { writeFileSync } from 'node:fs';
import { prepareFrame } from '../../core/peel/cut-frame.ts';
import { cutPainted } from '../../core/peel/cut-painted.ts';
import { type FrameStroke, peelShot } from '../../core/peel/peel-shot.ts';
import { CUT_SETTINGS } from '../../core/peel/settings.ts';
import { firstStrokes, nextStroke } from './artist.ts';
import { demoFootage, HEIGHT, WIDTH } from './footage.ts';
import { madeFootage } from './made.ts';
const COUNT = 24;
const plate = { width: WIDTH, height: HEIGHT };
function* all() {
  yield { name: 'courier', ...demoFootage('courier-on-the-quay', 30, COUNT) };
  yield { name: 'lantern', ...demoFootage('storm-lantern', 0, COUNT) };
  yield { name: 'ramp', ...demoFootage('ferry-ramp', 0, COUNT) };
  yield { name: 'kite', ...demoFootage('dune-kite', 0, COUNT) };
  yield* madeFootage(COUNT);
}
for (const f of all()) {
  if (['rigid', 'light change', 'moving camera', 'occlusion', 'out of sight'].includes(f.name)) continue;
  const prepared = prepareFrame(f.frames[0]);
  const strokes = firstStrokes(f.truth[0], WIDTH, HEIGHT);
  for (let k = 0; k < 4; k++) { const n = nextStroke(cutPainted(prepared, strokes, plate, CUT_SETTINGS)?.mask ?? new Uint8Array(WIDTH * HEIGHT), f.truth[0], WIDTH, HEIGHT); if (n) strokes.push(n); }
  const source = { plate: { ...plate, frames: COUNT }, frame: async (t: number) => f.frames[t] };
  const mid = COUNT - 1;
  for await (const r of peelShot(source, strokes.map((s) => ({ ...s, frame: 0 }) as FrameStroke), mid, mid)) writeFileSync(`/tmp/w/mend-${f.name}.mask`, r.mask);
  writeFileSync(`/tmp/w/mend-${f.name}.rgba`, f.frames[mid].data);
  writeFileSync(`/tmp/w/mend-${f.name}.truth`, f.truth[mid]);
  console.log(f.name);
}
