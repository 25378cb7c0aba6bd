/**
 * Tracks the marks of the demo film from one frame through the whole shot, and from others again, and measures against where they truly are:
 * `npx tsx bench/track/demo.ts`. A place counts as right within 3 px; low is a quality under a half.
 */
import { quantile } from '../quantile.ts';
import { countsOf, followMarks, inSight, markedShot, SHOTS, trusted } from './marks.ts';

/** `--only NAME` takes one shot; a mark's name shows it frame by frame. */
const only = process.argv[process.argv.indexOf('--only') + 1 || process.argv.length];
const total = { wrong: 0, low: 0, both: 0 };
/** Pixels off of all points and of each region. */
const good = new Map<string, number[]>();
const two = (list: number[], share: number) => (list.length > 0 ? quantile(list, share).toFixed(2) : '–');

for (const { name, starts, region } of SHOTS) {
  if (only && !name.startsWith(only)) continue;
  const shot = markedShot(name);
  for (const start of starts) {
    const began = performance.now();
    const all = await followMarks(shot, start, region);
    console.log(`\n${name} from ${start}: ${((performance.now() - began) / shot.pictures.length).toFixed(0)} ms a frame for all`);
    for (const followed of all) {
      const { label, places } = followed;
      const counts = countsOf(followed);
      for (const k of Object.keys(counts) as (keyof typeof counts)[]) total[k] += counts[k];
      for (const what of followed.region ? [`${name}, ${label}`, 'all regions'] : [`${name}, points`, 'all points'])
        good.set(what, [...(good.get(what) ?? []), ...trusted(followed)]);
      const seen = inSight(followed);
      if (process.argv.includes(label)) for (const p of places) console.log(p.frame, p.error.toFixed(2), p.quality.toFixed(2), p.reason, p.seen);
      console.log(
        `  ${label.padEnd(20)} in sight: median ${two(seen, 0.5)} p95 ${two(seen, 0.95)} px; over 3 px or hidden ${counts.wrong}, of those low ${counts.both}; low ${counts.low} of ${places.length}`,
      );
    }
  }
}
console.log('\nTrusted places:');
for (const [what, errors] of good) console.log(`  ${what.padEnd(40)} median ${two(errors, 0.5)} p95 ${two(errors, 0.95)} px of ${errors.length}`);
console.log(
  `\nmarked low: recall ${(total.both / total.wrong).toFixed(3)} of ${total.wrong}, precision ${(total.both / total.low).toFixed(3)} of ${total.low}`,
);
