/**
 * How much settling on edges helps outlines that bend: subjects of the demo film are outlined on one frame by their true matte, tracked
 * as a region, and compared with the true mattes of the other frames, with and without: `npx tsx bench/track/settle.ts`.
 */
import { newGray } from '../../core/image/picture.ts';
import { inverseOf } from '../../core/math/homography.ts';
import { motionOf } from '../../core/math/motion.ts';
import { fillPolylines } from '../../core/path/fill.ts';
import { fitLine } from '../../core/path/fit.ts';
import { flatten, type Shape } from '../../core/path/path.ts';
import { warpedShape } from '../../core/path/warped.ts';
import { areaOf, outlinesOf } from '../../core/trace/outlines.ts';
import { greyLevels } from '../../core/track/pyramid.ts';
import { TRUSTED } from '../../core/track/quality.ts';
import { runTracks } from '../../core/track/run.ts';
import { searchOn } from '../../core/track/settings.ts';
import { edgeLooks, settled } from '../../core/track/settle.ts';
import { demoFootage, HEIGHT, WIDTH } from '../peel/footage.ts';

const SIZE = { width: WIDTH, height: HEIGHT };
const BANDS = [3, 4, 6];

function agreement(shape: Shape, truth: ArrayLike<number>): number {
  const { data } = fillPolylines([flatten(shape, 1, 1)], WIDTH, HEIGHT);
  let [both, either] = [0, 0];
  for (let i = 0; i < data.length; i++) {
    const t = truth[i] / 255;
    both += Math.min(data[i], t);
    either += Math.max(data[i], t);
  }
  return both / either;
}

for (const [name, start, last] of [
  ['dune-kite', 0, 40],
  ['storm-lantern', 0, 24],
  ['courier-on-the-quay', 40, 60],
] as const) {
  const { frames: plate, truth: masks } = demoFootage(name, 0, last + 1);
  const pictures = plate.map(({ data }) => greyLevels(data as Uint8Array, SIZE));
  const matte = newGray(WIDTH, HEIGHT);
  for (let i = 0; i < matte.data.length; i++) matte.data[i] = masks[start][i] / 255;
  const [outline] = outlinesOf(matte, 200).sort((a, b) => areaOf(b) - areaOf(a));
  const points = Array.from({ length: outline.length / 2 }, (_, i) => ({ x: outline[2 * i], y: outline[2 * i + 1] }));
  const drawn = fitLine(points, true, 1);
  let [left, top, right, bottom] = [WIDTH, HEIGHT, 0, 0];
  for (const { x, y } of points) [left, top, right, bottom] = [Math.min(left, x), Math.min(top, y), Math.max(right, x), Math.max(bottom, y)];
  const pivot = [(left + right) / 2, (top + bottom) / 2];
  const scores: Record<string, number[]> = { tracked: [] };
  const looks = edgeLooks(pictures[start], drawn);
  const bent = new Map(BANDS.map((band) => [band, drawn]));
  const run = {
    kind: 'region' as const,
    model: 'affine' as const,
    pivot,
    outlines: [flatten(drawn, 1, 1)],
    pattern: 10,
    search: searchOn(HEIGHT),
    stops: false,
    anchors: [{ frame: start, at: pivot }],
    known: [],
    first: start,
    last,
  };
  let took = 0;
  let frames = 0;
  for await (const { frame, at, quality } of runTracks(async (f) => pictures[f], SIZE, [run])) {
    if (quality < TRUSTED) continue;
    const motion = motionOf(at, pivot);
    const back = inverseOf(motion) as number[];
    scores.tracked.push(agreement(warpedShape(drawn, motion), masks[frame]));
    for (const band of BANDS) {
      const began = performance.now();
      const edge = settled(pictures[frame], warpedShape(bent.get(band) as Shape, motion), looks, { band, strength: 1 });
      took += performance.now() - began;
      frames++;
      bent.set(band, warpedShape(edge, back));
      scores[`band ${band}`] = [...(scores[`band ${band}`] ?? []), agreement(edge, masks[frame])];
    }
  }
  const mean = (list: number[]) => (list.reduce((a, b) => a + b, 0) / Math.max(1, list.length)).toFixed(3);
  console.log(
    `${name} from ${start} to ${last}, ${drawn.length} points, ${scores.tracked.length} trusted frames: ${Object.entries(scores)
      .map(([k, v]) => `${k} ${mean(v)} (last ${v.at(-1)?.toFixed(3)})`)
      .join(', ')}; ${(took / Math.max(1, frames)).toFixed(1)} ms a frame`,
  );
}
