/** The plate without its subjects, told from frames on which they are elsewhere. */
import { LRUCache } from 'lru-cache';
import { castName } from '../document/picture-name.ts';
import { choice, number, type ValuesOf } from '../effects/settings.ts';
import { copyIn } from '../image/in-room.ts';
import { type Gray, newRgba, type Rgba } from '../image/picture.ts';
import { warpInto } from '../image/warp.ts';
import { clamp } from '../math/clamp.ts';
import { type Homography, IDENTITY, inverseOf, multiply } from '../math/homography.ts';
import { dilate } from '../peel/picture/masks.ts';
import { cameraMotion } from './camera-motion.ts';
import { defineFree, type Scene } from './element.ts';
import { ledOnLayer } from './place.ts';

const SETTINGS = {
  first: number('From frame', 'The first of the frames that are looked at.', 'fr', [0, 1_000_000, 1], 0, [0, 200]),
  last: number('To frame', 'The last of them; beyond the end of the shot, its last one.', 'fr', [0, 1_000_000, 1], 1_000_000, [0, 200]),
  looks: number('Looks', 'At how many frames of these it looks, spread evenly.', '', [1, 63, 1], 13, [1, 31]),
  how: choice('Takes', 'What of all that is seen at a place counts.', {
    median: 'What is there mostly (median)',
    mean: 'The mean',
    best: 'Of one frame: what comes nearest to the median',
  }),
  camera: choice('Camera', 'Whether frames lie on one another as they are, or along the motion of the camera, which is found.', {
    still: 'Stands still, or follows',
    moves: 'Moves: its motion is found',
  }),
  margin: number('Margin', 'How far round the subjects nothing counts: their soft edges and shadows.', 'px', [0, 500, 1], 6, [0, 60]),
} as const;
type V = ValuesOf<typeof SETTINGS>;

/** Bytes of clean plates that are kept: they are the same on all frames. */
const KEPT = 96 * 1024 * 1024;
const kept = new LRUCache<string, Clean>({ maxSize: KEPT, sizeCalculation: ({ picture: { data } }) => Math.max(1, data.byteLength) });

interface Clean {
  picture: Rgba;
  /** Where the camera moves: for each frame that was looked at what takes its places to those of the picture. */
  ways: ReadonlyMap<number, Homography> | null;
}

/** How much of a subject there is at a place that does not count any more. */
const GONE = 0.02;

/** The frames that are looked at. */
function framesOf(v: V, frames: number): number[] {
  const [first, last] = [clamp(Math.round(v.first), 0, frames - 1), clamp(Math.round(v.last), 0, frames - 1)];
  const count = Math.min(Math.round(v.looks), Math.abs(last - first) + 1);
  return [...new Set(Array.from({ length: count }, (_, k) => Math.round(first + ((last - first) * (k + (count === 1 ? 0.5 : 0))) / Math.max(1, count - 1))))];
}

/** Where nothing of the subjects is, as far round them as is asked for: 1, elsewhere 0. */
async function freeOn({ document, mattes, size }: Scene<V>, frame: number, margin: number): Promise<Gray> {
  const covered = new Uint8Array(size.width * size.height);
  for (const { id } of document.cast) {
    const { data } = await mattes(id, frame);
    for (let p = 0; p < data.length; p++) if (data[p] > GONE) covered[p] = 1;
  }
  const { width, height } = size;
  return { width, height, data: Float32Array.from(dilate(covered, width, height, margin), (v) => 1 - v) };
}

/** A frame that is looked at. */
interface Look {
  frame: number;
  picture: Rgba;
  free: Gray;
}

const lookAt = async (scene: Scene<V>, frame: number): Promise<Look> => ({
  frame,
  picture: await scene.sources.plate(frame, scene.size),
  free: await freeOn(scene, frame, Math.round(scene.values.margin * scene.scale)),
});

/** From places of one look to those of another; where they cannot be told it stands still. */
const between = (one: Look, other: Look): Homography => cameraMotion(one.picture, other.picture, { first: one.free, other: other.free }) ?? IDENTITY;

/** Motions that were found from a frame that was looked at to one that is shown, kept. */
const WAYS_KEPT = 2000;
const keptWays = new LRUCache<string, Homography>({ max: WAYS_KEPT });

/** Takes places of the clean plate to those of a frame: along the camera, or what it follows; null: they are the same. */
async function wayTo(scene: Scene<V>, { ways }: Clean, key: string): Promise<Homography | null> {
  const { time, document } = scene;
  if (!ways) return ledOnLayer(scene, time);
  const frame = clamp(Math.round(time), 0, document.plate.frames - 1);
  // By way of the look that is nearest: from that the frame is not far.
  const nearest = [...ways.keys()].reduce((best, f) => (Math.abs(f - frame) < Math.abs(best - frame) ? f : best));
  const there = inverseOf(ways.get(nearest) ?? IDENTITY) ?? IDENTITY;
  if (nearest === frame) return there;
  const name = `${key} ${frame}`;
  const way = keptWays.get(name) ?? multiply(between(await lookAt(scene, nearest), await lookAt(scene, frame)), there);
  keptWays.set(name, way);
  return way;
}

/** The clean plate as on the frame from which it goes with something, or on the first that is looked at; see-through where no frame shows it. */
async function cleanPlate(scene: Scene<V>): Promise<Clean> {
  const { document, values, size } = scene;
  const ways = values.camera === 'moves' ? new Map<number, Homography>() : null;
  const seen: { picture: Rgba; free: Gray }[] = [];
  let before: Look | null = null;
  for (const frame of framesOf(values, document.plate.frames)) {
    const look = await lookAt(scene, frame);
    const { picture, free } = look;
    // From one look to the next: far from one another little can be told.
    const way: Homography | null = ways && (before ? multiply(ways.get(before.frame) ?? IDENTITY, between(look, before)) : IDENTITY);
    if (way) ways?.set(frame, way);
    before = look;
    // What lay at a place of that frame lies where the motion has it here: both lead from here to there.
    const motion = way ? inverseOf(way) : ledOnLayer(scene, frame);
    if (!motion) {
      seen.push({ picture, free });
      continue;
    }
    const [moved, where] = [newRgba(size.width, size.height), newRgba(size.width, size.height)];
    const mask = newRgba(size.width, size.height);
    for (let p = 0; p < free.data.length; p++) mask.data.fill(free.data[p], 4 * p, 4 * p + 4);
    warpInto(moved, copyIn(null, picture), motion);
    warpInto(where, mask, motion);
    seen.push({ picture: moved, free: { ...free, data: Float32Array.from(free.data, (_, p) => (where.data[4 * p] > 0.99 ? 1 : 0)) } });
  }
  const out = newRgba(size.width, size.height);
  const list = new Float32Array(seen.length);
  for (let p = 0; p < size.width * size.height; p++) {
    for (let k = 0; k < 3; k++) {
      let n = 0;
      for (const { picture, free } of seen) if (free.data[p] > 0) list[n++] = picture.data[4 * p + k];
      if (n === 0) break;
      out.data[4 * p + 3] = 1;
      const own = list.subarray(0, n);
      if (values.how === 'mean') out.data[4 * p + k] = own.reduce((a, b) => a + b, 0) / n;
      else {
        own.sort();
        out.data[4 * p + k] = (own[(n - 1) >> 1] + own[n >> 1]) / 2;
      }
    }
    if (values.how === 'best' && out.data[4 * p + 3] > 0) takeNearest(out.data, p, seen);
  }
  return { picture: out, ways };
}

/** Puts in the place of a colour the one of what is seen there that comes nearest to it: a colour that was there. */
function takeNearest(data: Float32Array, p: number, seen: readonly { picture: Rgba; free: Gray }[]): void {
  let [best, least] = [data, Infinity];
  for (const { picture, free } of seen) {
    if (free.data[p] <= 0) continue;
    let far = 0;
    for (let k = 4 * p; k < 4 * p + 3; k++) far += (picture.data[k] - data[k]) ** 2;
    if (far < least) [best, least] = [picture.data, far];
  }
  for (let k = 4 * p; k < 4 * p + 3; k++) data[k] = best[k];
}

async function render(layer: Rgba, scene: Scene<V>): Promise<void> {
  const { document, item, values, size } = scene;
  const key = JSON.stringify([castName(document), document.plate, document.light, item.follow, values, size]);
  const clean = kept.get(key) ?? (await cleanPlate(scene));
  kept.set(key, clean);
  const motion = await wayTo(scene, clean, key);
  const there = motion && inverseOf(motion);
  if (there) warpInto(layer, copyIn(null, clean.picture), there);
  else layer.data.set(clean.picture.data);
}

export const cleanElement = defineFree({
  id: 'clean',
  label: 'Clean plate',
  about: 'The plate without its subjects, told from frames on which they are elsewhere. Inside a subject, it makes that go.',
  has: null,
  led: true,
  shows: 'pictures',
  settings: SETTINGS,
  render,
});
