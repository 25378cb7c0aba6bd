/** How soon a stroke shows: 30 strokes of the made-up artist on one frame, each cut anew. `npx tsx bench/peel/session.ts`. */

import { LRUCache } from 'lru-cache';
import { cutPainted, type KnownCuts, rehearse } from '../../core/peel/cut/cut-painted.ts';
import { finishedAlpha } from '../../core/peel/matting/soft-edge.ts';
import { CUT_SETTINGS } from '../../core/peel/settings.ts';
import type { PaintedStroke } from '../../core/peel/strokes/strokes.ts';
import { quantile } from '../quantile.ts';
import { firstStrokes, nextStroke } from './artist.ts';
import { demoFootage, HEIGHT, paintedFrame, WIDTH } from './footage.ts';

const STROKES = 30;
/** Milliseconds at 960x540 from stroke to cut, on a quiet core. */
const GOAL = 120;

for (const [name, frame] of [
  ['courier-on-the-quay', 30],
  ['storm-lantern', 0],
] as const) {
  const footage = demoFootage(name, frame, 2);
  const { truth } = footage;
  const prepared = await paintedFrame(footage, 0);
  // As the page does.
  for (const _ of rehearse(prepared));
  const first = firstStrokes(truth[0], WIDTH, HEIGHT);
  const strokes: PaintedStroke[] = [];
  let mask = new Uint8Array(WIDTH * HEIGHT);
  const known: KnownCuts = new LRUCache({ max: 4 });
  const cuts: number[] = [];
  const alphas: number[] = [];
  while (strokes.length < STROKES) {
    const next = first.shift() ?? nextStroke(mask, truth[0], WIDTH, HEIGHT);
    if (!next) break;
    strokes.push(next);
    const began = performance.now();
    mask = (cutPainted(prepared, strokes, { width: WIDTH, height: HEIGHT }, CUT_SETTINGS, { known })?.mask ?? mask) as typeof mask;
    const cut = performance.now();
    finishedAlpha(mask, prepared.fine, null);
    cuts.push(cut - began);
    alphas.push(performance.now() - cut);
  }
  console.log(
    `${name}: ${cuts.length} strokes, cut median ${quantile(cuts, 0.5).toFixed(0)} ms, p95 ${quantile(cuts, 0.95).toFixed(0)} of ${GOAL} ms; its alpha ${quantile(alphas, 0.5).toFixed(0)} ms more`,
  );
}
