import type { Gray } from '../../core/image/picture.ts';
import { applyTo, composed, type Homography, moveBy } from '../../core/math/homography.ts';
import { pointArea } from '../../core/track/area.ts';
import { levelsOf } from '../../core/track/levels.ts';
import { type TrackTask, trackTowards } from '../../core/track/track-shot.ts';
import { asFilmed, noiseSurface, seenThrough } from '../../tests/warped.ts';

const SIZE = { width: 960, height: 540 };
const FRAMES = 10;
const motion = (f: number): Homography =>
  composed(moveBy(2.2 * f, 12 * Math.sin(f / 8)), [1 + 0.004 * f, 0.002 * f, 0, -0.002 * f, 1 + 0.003 * f, 0, 0.000008 * f, -0.000004 * f, 1]);
const surface = noiseSurface(11, 5);
const pictures: Gray[] = Array.from({ length: FRAMES }, (_, f) => asFilmed(seenThrough(surface, motion(f), SIZE), { noise: 1.2, seed: f + 1 }));
const points = Array.from({ length: 200 }, (_, i) => [150 + (i % 20) * 30, 100 + Math.floor(i / 20) * 32] as [number, number]);
const point = ([x, y]: [number, number]): TrackTask => ({ area: pointArea(x, y, 10), region: false, model: 'similarity', search: 32 });
for (const draft of [false, false, true]) {
  const began = performance.now();
  const off: number[] = [];
  for await (const { frame, found } of trackTowards(async (f) => pictures[f], points.map(point), 0, FRAMES - 1, draft))
    if (frame === FRAMES - 1)
      found.forEach(({ place }, i) => {
        const [x, y] = applyTo(motion(frame), ...points[i]);
        const [u, v] = applyTo(place, 0, 0);
        off.push(Math.hypot(u - x, v - y));
      });
  const t = (performance.now() - began) / (FRAMES - 1);
  off.sort((a, b) => a - b);
  const b2 = performance.now();
  for (let i = 0; i < 5; i++) levelsOf(pictures[i]);
  console.log(
    draft ? 'draft' : 'fine',
    t.toFixed(1),
    'ms; levels',
    ((performance.now() - b2) / 5).toFixed(1),
    'median',
    off[100].toFixed(3),
    'p95',
    off[190].toFixed(3),
    'worst',
    off[199].toFixed(3),
  );
}
