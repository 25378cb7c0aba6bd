/**
 * How fast points and a region are tracked at 1920x1080 on one thread, and how far they drift over 60 frames of a known motion:
 * `npx tsx bench/track/speed.ts`. Where Debian's python3-opencv is there, its pyramidal Lucas-Kanade (one thread, 21x21, 3 levels,
 * frame to frame; the region by the homography of 200 of its points) does the same pictures.
 */
import { spawnSync } from 'node:child_process';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import type { Gray } from '../../core/image/picture.ts';
import { applyTo, type Homography, multiply, translation } from '../../core/math/homography.ts';
import { fillPolylines } from '../../core/path/fill.ts';
import { type Area, cornersAt, pointArea, regionArea } from '../../core/track/area.ts';
import { type TrackTask, trackTowards } from '../../core/track/track-shot.ts';
import { asFilmed, noiseSurface, seenThrough } from '../../tests/warped.ts';
import { quantile } from '../quantile.ts';

const SIZE = { width: 1920, height: 1080 };
const FRAMES = 60;
const QUAD = [860, 440, 1060, 440, 1060, 640, 860, 640];
const about = (m: Homography) => multiply(translation(960, 540), multiply(m, translation(-960, -540)));
const motion = (f: number): Homography =>
  multiply(translation(2.2 * f, 12 * Math.sin(f / 8)), about([1 + 0.004 * f, 0.002 * f, 0, -0.002 * f, 1 + 0.003 * f, 0, 0.000008 * f, -0.000004 * f, 1]));

console.log('Making the pictures …');
const surface = noiseSurface(11, 5);
/** The surface once, at twice the size, to be read between its pixels. */
const WIDE = 4400;
const kept = new Float32Array(WIDE * 2600);
for (let i = 0; i < kept.length; i++) kept[i] = surface((i % WIDE) / 2 - 100, Math.floor(i / WIDE) / 2 - 100);
const sheet = (x: number, y: number): number => {
  const [u, v] = [Math.max(0, Math.min(WIDE - 2, 2 * (x + 100))), Math.max(0, Math.min(2598, 2 * (y + 100)))];
  const i = Math.floor(v) * WIDE + Math.floor(u);
  const [fx, fy] = [u % 1, v % 1];
  return (kept[i] * (1 - fx) + kept[i + 1] * fx) * (1 - fy) + (kept[i + WIDE] * (1 - fx) + kept[i + WIDE + 1] * fx) * fy;
};
const pictures: Gray[] = Array.from({ length: FRAMES }, (_, f) => asFilmed(seenThrough(sheet, motion(f), SIZE), { noise: 1.2, seed: f + 1 }));
const points = Array.from({ length: 200 }, (_, i) => [300 + (i % 20) * 60, 200 + Math.floor(i / 20) * 65] as [number, number]);
const region = regionArea(fillPolylines([Float64Array.from(QUAD)], SIZE.width, SIZE.height), QUAD) as Area;

/** Runs of each: the first one finds nothing compiled, the middle of the others is what a session has. */
const RUNS = 4;

async function run(label: string, tasks: TrackTask[], from: number[][], draft = false) {
  const each: number[] = [];
  let last: number[] = [];
  for (let k = 0; k < RUNS; k++) {
    const one = await runOnce(tasks, from, draft);
    each.push(one.each);
    last = one.last;
  }
  const off = `after ${FRAMES} frames median ${quantile(last, 0.5).toFixed(3)}, worst ${quantile(last, 1).toFixed(3)} px off`;
  console.log(`${label}: ${quantile(each.slice(1), 0.5).toFixed(1)} ms a frame, ${each[0].toFixed(1)} at first; ${off}`);
}

async function runOnce(tasks: TrackTask[], from: number[][], draft: boolean): Promise<{ each: number; last: number[] }> {
  const last: number[] = [];
  const began = performance.now();
  for await (const { frame, found } of trackTowards(async (f) => pictures[f], tasks, 0, FRAMES - 1, draft)) {
    if (frame < FRAMES - 1) continue;
    found.forEach(({ homography }, i) => {
      const at = tasks[i].region ? cornersAt(tasks[i].area, homography) : applyTo(homography, 0, 0);
      for (let k = 0; k < from[i].length; k += 2) {
        const [x, y] = applyTo(motion(frame), from[i][k], from[i][k + 1]);
        last.push(Math.hypot(at[k] - x, at[k + 1] - y));
      }
    });
  }
  return { each: (performance.now() - began) / (FRAMES - 1), last };
}

const point = ([x, y]: [number, number]): TrackTask => ({ area: pointArea(x, y, 10), region: false, model: 'similarity', search: 32 });
const whole: TrackTask = { area: region, region: true, model: 'perspective', search: 32 };
const MIDDLE: [number, number] = [960, 540];
for (const draft of [false, true]) {
  const how = draft ? ', draft' : '';
  await run(`one point${how}`, [point(MIDDLE)], [MIDDLE], draft);
  await run(`a region of 200x200, perspective${how}`, [whole], [QUAD], draft);
  await run(`200 points${how}`, points.map(point), points, draft);
}

const dir = mkdtempSync(path.join(os.tmpdir(), 'mottrel-bench-'));
writeFileSync(path.join(dir, 'film.gray'), Buffer.concat(pictures.map((p) => Buffer.from(Uint8Array.from(p.data)))));
writeFileSync(path.join(dir, 'truth.json'), JSON.stringify({ points, quad: QUAD, last: motion(FRAMES - 1), frames: FRAMES }));
const { stdout, status } = spawnSync(
  '/usr/bin/python3',
  [
    '-c',
    `
import cv2, json, sys, time, numpy as np
cv2.setNumThreads(1)
d = sys.argv[1]
t = json.load(open(d + '/truth.json'))
film = np.fromfile(d + '/film.gray', np.uint8).reshape(t['frames'], 1080, 1920)
H = np.array(t['last']).reshape(3, 3)
def away(p, q):
    r = cv2.perspectiveTransform(np.float32(q).reshape(-1, 1, 2), H).reshape(-1, 2)
    return np.linalg.norm(p.reshape(-1, 2) - r, axis=1)
def follow(start):
    each = []
    for run in range(4):
        p = np.float32(start).reshape(-1, 1, 2) - np.float32(.5)
        began = time.perf_counter()
        for a, b in zip(film, film[1:]):
            p, s, e = cv2.calcOpticalFlowPyrLK(a, b, p, None, winSize=(21, 21), maxLevel=3)
        each.append((time.perf_counter() - began) / (len(film) - 1) * 1000)
    return p + np.float32(.5), (sorted(each[1:])[1], each[0])
p, ms = follow(t['points'])
e = away(p, t['points'])
print('  native, 200 points: %.1f ms a frame, %.1f at first; median %.3f, worst %.3f px off' % (*ms, np.median(e), e.max()))
x0, y0, x1, y1 = t['quad'][0], t['quad'][1], t['quad'][4], t['quad'][5]
grid = [[x0 + 7 + (x1 - x0 - 14) * i / 19, y0 + 7 + (y1 - y0 - 14) * j / 9] for i in range(20) for j in range(10)]
began = time.perf_counter()
p, ms = follow(grid)
M, _ = cv2.findHomography(np.float32(grid), p.reshape(-1, 2), cv2.RANSAC, 1.0)
quad = cv2.perspectiveTransform(np.float32(t['quad']).reshape(-1, 1, 2), M)
e = away(quad, t['quad'])
print('  native, region by 200 points: %.1f ms a frame, %.1f at first; worst corner %.3f px off' % (*ms, e.max()))
`,
    dir,
  ],
  { encoding: 'utf8' },
);
rmSync(dir, { recursive: true });
console.log(status === 0 ? stdout.trimEnd() : '  (native OpenCV is not on this machine: apt-get install python3-opencv)');
