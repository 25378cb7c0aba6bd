/** Tracking points and a region through footage, without a browser or a database. */
import { writeFile } from 'node:fs/promises';
import { applyTo, type MotionModel } from '../core/math/homography.ts';
import { fillPolylines } from '../core/path/fill.ts';
import type { Quality } from '../core/peel/settings.ts';
import { cornersAt, pointArea, regionArea } from '../core/track/area.ts';
import { PATTERN, searchOn } from '../core/track/settings.ts';
import { type TrackTask, trackTowards } from '../core/track/track-shot.ts';
import { pointsFromFile, type TrackFile } from '../core/track/tracks-file.ts';
import { storedLuma } from '../server/track/stored-luma.ts';
import { readParsed, WrongCall } from './call.ts';
import { withFrames } from './footage.ts';

/** Checks what is asked for against the footage, and makes tasks of it by the frame they start on; results go where `keep` says. */
function tasksFor({ points, region }: TrackFile, plate: { width: number; height: number; frames: number }, model: MotionModel) {
  const byFrame = new Map<number, { task: TrackTask; id: string | null }[]>();
  const add = (frame: number, what: string, task: TrackTask, id: string | null) => {
    if (frame >= plate.frames) throw new WrongCall(`${what} is on frame ${frame}, but the footage ends with frame ${plate.frames - 1}.`);
    byFrame.set(frame, [...(byFrame.get(frame) ?? []), { task, id }]);
  };
  for (const { id, frame, x, y } of points) {
    if (x < 0 || y < 0 || x > plate.width || y > plate.height)
      throw new WrongCall(`The point ${id} is at ${x}, ${y}, outside of the picture of ${plate.width}×${plate.height}.`);
    add(
      frame,
      `The point ${id}`,
      { area: pointArea(x, y, PATTERN), region: false, model: model === 'move' ? 'move' : 'similarity', search: searchOn(plate.height) },
      id,
    );
  }
  if (region) {
    const outline = region.polygon.flat();
    const area = regionArea(fillPolylines([Float64Array.from(outline)], plate.width, plate.height), outline);
    if (!area) throw new WrongCall('The region holds fewer than 16 pixels of the picture. Outline more of it.');
    add(region.frame, 'The region', { area, region: true, model, search: searchOn(plate.height) }, null);
  }
  return byFrame;
}

const rounded = (value: number, places = 3): number => Math.round(value * 10 ** places) / 10 ** places;

export interface TrackOptions {
  footage: string;
  points: string;
  out: string;
  quality: Quality;
  model: MotionModel;
}

export async function trackCommand({ footage, points, out, quality, model }: TrackOptions): Promise<void> {
  const asked = await readParsed(points, 'points or a region', pointsFromFile);
  await withFrames(footage, async (plate, store) => {
    const byFrame = tasksFor(asked, plate, model);
    const luma = (frame: number) => storedLuma(store, frame);
    const ways: Record<string, [number, number, number, number][]> = {};
    const region: [number, [number, number][], number][] = [];
    const began = performance.now();
    for (const [start, tasks] of byFrame) {
      const keep = (frame: number, index: number, homography: readonly number[], trust: number) => {
        const { task, id } = tasks[index];
        const q = rounded(trust);
        if (id !== null) {
          const [x, y] = applyTo(homography, 0, 0);
          ways[id] ??= [];
          ways[id].push([frame, rounded(x), rounded(y), q]);
          return;
        }
        const c = cornersAt(task.area, homography).map((v) => rounded(v));
        region.push([frame, Array.from({ length: c.length / 2 }, (_, i) => [c[2 * i], c[2 * i + 1]]), q]);
      };
      tasks.forEach(({ task }, i) => {
        keep(start, i, task.area.homography, 1);
      });
      for (const end of [plate.frames - 1, 0])
        for await (const { frame, found } of trackTowards(
          luma,
          tasks.map((t) => t.task),
          start,
          end,
          quality === 'draft',
        )) {
          for (const [i, f] of found.entries()) keep(frame, i, f.homography, f.quality);
          if (process.stderr.isTTY) process.stderr.write(`\rframe ${frame} `);
        }
    }
    if (process.stderr.isTTY) process.stderr.write('\n');
    const seconds = (performance.now() - began) / 1000 / plate.frames;
    const rising = <T extends [number, ...unknown[]]>(list: T[]) => list.sort((a, b) => a[0] - b[0]);
    const result = { ...Object.fromEntries(Object.entries(ways).map(([id, way]) => [id, rising(way)])), ...(asked.region ? { region: rising(region) } : {}) };
    await writeFile(out, `${JSON.stringify(result)}\n`);
    const what = [asked.points.length > 0 && `${asked.points.length} point${asked.points.length === 1 ? '' : 's'}`, asked.region && 'a region'];
    console.log(`Tracked ${what.filter(Boolean).join(' and ')} through ${plate.frames} frames (${seconds.toFixed(3)} s a frame)`);
  });
}
