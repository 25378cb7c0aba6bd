/**
 * Tracks the marks of the demo film from one frame through the whole shot, and from others again, and measures against where they truly are:
 * `npx tsx bench/track/demo.ts`. A place counts as right within 3 px; low is a quality under a half.
 */
import { existsSync, readFileSync } from 'node:fs';
import path from 'node:path';
import type { Gray } from '../../core/image/picture.ts';
import { applyTo } from '../../core/math/homography.ts';
import { fillPolylines } from '../../core/path/fill.ts';
import { cornersAt, pointArea, regionArea } from '../../core/track/area.ts';
import { greyLevels } from '../../core/track/levels.ts';
import { TRUSTED } from '../../core/track/quality.ts';
import { PATTERN, searchOn } from '../../core/track/settings.ts';
import { type TrackTask, trackTowards } from '../../core/track/track-shot.ts';
import { demoFrames, HEIGHT, WIDTH } from '../peel/footage.ts';

type Way = [number, number, boolean][];
const SHOTS: { name: string; starts: number[]; region?: string }[] = [
  { name: 'courier-on-the-quay', starts: [40, 10, 70], region: 'crate' },
  { name: 'storm-lantern', starts: [9, 40] },
  { name: 'ferry-ramp', starts: [8, 40], region: 'sign' },
  { name: 'dune-kite', starts: [0, 30] },
];
const quantile = (list: number[], share: number) => [...list].sort((a, b) => a - b)[Math.min(list.length - 1, Math.floor(list.length * share))] ?? Number.NaN;
/** `--only NAME` takes one shot; a mark's name shows it frame by frame. */
const only = process.argv[process.argv.indexOf('--only') + 1 || process.argv.length];
const total = { good: 0, bad: 0, badLow: 0, low: 0, lowBad: 0 };
/** Pixels off at places that are in sight and trusted, which is what an artist goes on with, of all points and of each region. */
const trusted = new Map<string, number[]>();

for (const { name, starts, region } of SHOTS) {
  const file = path.join(import.meta.dirname, '..', '..', 'demo', 'clips', `${name}.marks.json`);
  if (!existsSync(file) || (only && !name.startsWith(only))) continue;
  const ways = JSON.parse(readFileSync(file, 'utf8')) as Record<string, Way>;
  const pictures = demoFrames(name, 0, 1000).map(({ data }) => greyLevels(data as Uint8Array, { width: WIDTH, height: HEIGHT }));
  for (const start of starts) await measure(name, start, region, ways, pictures);
}
console.log('\nTrusted places:');
for (const [what, errors] of trusted)
  console.log(`  ${what.padEnd(40)} median ${quantile(errors, 0.5).toFixed(2)} p95 ${quantile(errors, 0.95).toFixed(2)} px of ${errors.length}`);
console.log(
  `\nmarked low: recall ${(total.badLow / total.bad).toFixed(3)} of ${total.bad}, precision ${(total.lowBad / total.low).toFixed(3)} of ${total.low}`,
);

async function measure(name: string, start: number, region: string | undefined, ways: Record<string, Way>, pictures: Gray[]): Promise<void> {
  const rows: { label: string; errors: number[]; qualities: number[]; seen: boolean[] }[] = [];
  const tasks: TrackTask[] = [];
  const truths: ((frame: number) => number[])[] = [];
  const sights: ((frame: number) => boolean)[] = [];
  for (const [mark, way] of Object.entries(ways)) {
    // The corners of a region lie on its border, half of what is round them another thing.
    if (!way[start][2] || (region && mark.startsWith(`${region}-`) && /\d$/.test(mark))) continue;
    tasks.push({ area: pointArea(way[start][0], way[start][1], PATTERN), region: false, model: 'similarity', search: searchOn(HEIGHT) });
    truths.push((f) => way[f].slice(0, 2) as number[]);
    sights.push((f) => way[f][2]);
    rows.push({ label: mark, errors: [], qualities: [], seen: [] });
  }
  if (region) {
    const corners = [0, 1, 2, 3].map((i) => ways[`${region}-${i}`]);
    const quad = (f: number) => corners.flatMap((w) => w[f].slice(0, 2) as number[]);
    const area = regionArea(fillPolylines([Float64Array.from(quad(start))], WIDTH, HEIGHT), quad(start));
    for (const model of ['affine', 'perspective'] as const) {
      if (!area) continue;
      tasks.push({ area, region: true, model, search: searchOn(HEIGHT) });
      truths.push(quad);
      sights.push((f) => corners.every((w) => w[f][0] > 0 && w[f][0] < WIDTH && w[f][1] > 0 && w[f][1] < HEIGHT));
      rows.push({ label: `${region} ${model}`, errors: [], qualities: [], seen: [] });
    }
  }
  const began = performance.now();
  for (const end of [pictures.length - 1, 0])
    for await (const { frame, found } of trackTowards(async (f) => pictures[f], tasks, start, end))
      for (const [i, f] of found.entries()) {
        const at = tasks[i].region ? cornersAt(tasks[i].area, f.place) : applyTo(f.place, 0, 0);
        const truth = truths[i](frame);
        let worst = 0;
        for (let k = 0; k < truth.length; k += 2) worst = Math.max(worst, Math.hypot(at[k] - truth[k], at[k + 1] - truth[k + 1]));
        rows[i].errors.push(worst);
        rows[i].qualities.push(f.quality);
        rows[i].seen.push(sights[i](frame));
        if (process.argv.includes(rows[i].label)) console.log(frame, worst.toFixed(2), f.quality.toFixed(2), f.reason, sights[i](frame));
      }
  console.log(`\n${name} from ${start}: ${((performance.now() - began) / pictures.length).toFixed(0)} ms a frame for all`);
  for (const { label, errors, qualities, seen } of rows) {
    const inSight = errors.filter((_, i) => seen[i]);
    const right = errors.filter((_, i) => seen[i] && qualities[i] >= TRUSTED);
    for (const what of label.includes(' ') ? [`${name}, ${label}`, 'all regions'] : [`${name}, points`, 'all points'])
      trusted.set(what, [...(trusted.get(what) ?? []), ...right]);
    const counts = { good: 0, bad: 0, badLow: 0, low: 0, lowBad: 0 };
    errors.forEach((e, i) => {
      const low = qualities[i] < TRUSTED;
      // What is out of sight should be marked low wherever it is said to be.
      const bad = e > 3 || (!seen[i] && !label.includes(' '));
      counts[bad ? 'bad' : 'good']++;
      if (low) counts.low++;
      if (low && bad) {
        counts.badLow++;
        counts.lowBad++;
      }
    });
    for (const k of Object.keys(counts) as (keyof typeof counts)[]) total[k] += counts[k];
    console.log(
      `  ${label.padEnd(20)} in sight: median ${quantile(inSight, 0.5).toFixed(2)} p95 ${quantile(inSight, 0.95).toFixed(2)} px; over 3 px or hidden ${counts.bad}, of those low ${counts.badLow}; low ${counts.low} of ${errors.length}`,
    );
  }
}
