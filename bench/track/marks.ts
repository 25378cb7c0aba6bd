/** The marks of the demo film, tracked from one frame through the whole shot, and how far off their true places they are found. */
import type { Gray } from '../../core/image/picture.ts';
import { applyTo } from '../../core/math/homography.ts';
import { fillPolylines } from '../../core/path/fill.ts';
import { cornersAt, pointArea, regionArea } from '../../core/track/area.ts';
import { greyLevels } from '../../core/track/pyramid.ts';
import { type Reason, TRUSTED } from '../../core/track/quality.ts';
import { PATTERN, searchOn } from '../../core/track/settings.ts';
import { type TrackTask, trackTowards } from '../../core/track/track-shot.ts';
import { marksOf, type Way } from '../../tests/marks.ts';
import { demoFrames, HEIGHT, WIDTH } from '../peel/footage.ts';

/** The shots with the frames that are tracked from, and a region whose corners are marks. */
export const SHOTS: readonly { name: string; starts: readonly number[]; region?: string }[] = [
  { name: 'courier-on-the-quay', starts: [40, 10, 70], region: 'crate' },
  { name: 'storm-lantern', starts: [9, 40] },
  { name: 'ferry-ramp', starts: [8, 40], region: 'sign' },
  { name: 'dune-kite', starts: [0, 30] },
];
/** A place is right within so many pixels. */
const RIGHT = 3;

export interface MarkedShot {
  pictures: Gray[];
  ways: Record<string, Way>;
}

export const markedShot = (name: string): MarkedShot => ({
  ways: marksOf(name),
  pictures: demoFrames(name, 0, 1000).map(({ data }) => greyLevels(data as Uint8Array, { width: WIDTH, height: HEIGHT })),
});

/** What was found of a mark or region on one frame. */
interface Place {
  frame: number;
  /** Pixels off, of a region its worst corner. */
  error: number;
  quality: number;
  reason: Reason | null;
  seen: boolean;
}

export interface Followed {
  label: string;
  region: boolean;
  places: Place[];
}

interface Aim {
  label: string;
  task: TrackTask;
  truth(frame: number): number[];
  seen(frame: number): boolean;
}

/** The marks that are in sight on a frame as points, and the region by two models. */
function aimsOn(start: number, region: string | undefined, ways: Record<string, Way>): Aim[] {
  const aims: Aim[] = [];
  for (const [label, way] of Object.entries(ways)) {
    const [x, y, seen] = way[start];
    // The corners of a region lie on its border, half of what is round them another thing.
    if (!seen || (region && label.startsWith(`${region}-`) && /\d$/.test(label))) continue;
    const task: TrackTask = { area: pointArea(x, y, PATTERN), region: false, model: 'similarity', search: searchOn(HEIGHT) };
    aims.push({ label, task, truth: (f) => way[f].slice(0, 2) as number[], seen: (f) => way[f][2] });
  }
  if (!region) return aims;
  const corners = [0, 1, 2, 3].map((i) => ways[`${region}-${i}`]);
  const truth = (f: number) => corners.flatMap((w) => w[f].slice(0, 2) as number[]);
  const within = (at: number, size: number) => at > 0 && at < size;
  const seen = (f: number) => corners.every((w) => within(w[f][0], WIDTH) && within(w[f][1], HEIGHT));
  const area = regionArea(fillPolylines([Float64Array.from(truth(start))], WIDTH, HEIGHT), truth(start));
  if (!area) throw new RangeError(`The region ${region} has no area on frame ${start}.`);
  for (const model of ['affine', 'perspective'] as const)
    aims.push({ label: `${region} ${model}`, task: { area, region: true, model, search: searchOn(HEIGHT) }, truth, seen });
  return aims;
}

/** Follows all marks that are in sight on `start`, and the region, both ways. */
export async function followMarks({ pictures, ways }: MarkedShot, start: number, region?: string): Promise<Followed[]> {
  const aims = aimsOn(start, region, ways);
  const all = aims.map(({ label, task }): Followed => ({ label, region: task.region, places: [] }));
  const tasks = aims.map(({ task }) => task);
  for (const end of [pictures.length - 1, 0])
    for await (const { frame, found } of trackTowards(async (f) => pictures[f], tasks, start, end))
      for (const [i, { homography, quality, reason }] of found.entries()) {
        const { task, truth, seen } = aims[i];
        const at = task.region ? cornersAt(task.area, homography) : applyTo(homography, 0, 0);
        const exact = truth(frame);
        let error = 0;
        for (let k = 0; k < exact.length; k += 2) error = Math.max(error, Math.hypot(at[k] - exact[k], at[k + 1] - exact[k + 1]));
        all[i].places.push({ frame, error, quality, reason, seen: seen(frame) });
      }
  return all;
}

const isLow = ({ quality }: Place): boolean => quality < TRUSTED;

/** Places that are wrong, those that are marked low, and those that are both. What is out of sight should be marked low wherever it is said to be. */
export function countsOf({ region, places }: Followed): { wrong: number; low: number; both: number } {
  const isWrong = ({ error, seen }: Place) => error > RIGHT || (!seen && !region);
  return { wrong: places.filter(isWrong).length, low: places.filter(isLow).length, both: places.filter((p) => isWrong(p) && isLow(p)).length };
}

/** Pixels off where it is in sight. */
export const inSight = ({ places }: Followed): number[] => places.filter((p) => p.seen).map((p) => p.error);

/** The same where it is trusted as well, which is what an artist goes on with. */
export const trusted = ({ places }: Followed): number[] => places.filter((p) => p.seen && !isLow(p)).map((p) => p.error);
