/**
 * How doubt goes with error: stretches of 48 frames, carried from strokes on the first and from its exact mask. For each, the rank
 * correlation of doubt with error (1 − F), and that of the distance from the painted frame, for those whose F varies by more than .03.
 * `npx tsx bench/peel/doubt.ts [fitted | others]`: those its curve was fitted to, or others of the demo film.
 */
import { demoFootage, type Footage } from './footage.ts';
import { madeFootage } from './made.ts';
import { over50, ranksOf, type Told, together, toldOf } from './stretch.ts';

const COUNT = 48;
const VARIES = 0.03;

const FITTED = { 'courier-on-the-quay': [0, 30, 60], 'storm-lantern': [0, 20], 'dune-kite': [0], 'ferry-ramp': [0] };
const OTHERS = { 'courier-on-the-quay': [15, 42], 'storm-lantern': [10, 30], 'dune-kite': [12, 24], 'ferry-ramp': [12, 24] };

function* stretches(fitted: boolean): Generator<{ name: string } & Footage> {
  for (const [clip, starts] of Object.entries(fitted ? FITTED : OTHERS))
    for (const start of starts) yield { name: `${clip} ${start}`, ...demoFootage(clip, start, COUNT) };
  if (fitted) yield* madeFootage(COUNT);
}

const all: Told[] = [];
const ranks: ReturnType<typeof ranksOf>[] = [];
console.log('| stretch | from | F | rank of doubt | of distance |');
console.log('| --- | --- | --- | --- | --- |');
for (const footage of stretches(process.argv[2] !== 'others'))
  for (const from of ['strokes', 'exact mask'] as const) {
    const told = await toldOf(footage, from);
    all.push(told);
    const [least, most] = [Math.min(...told.fs), Math.max(...told.fs)];
    if (most - least <= VARIES) continue;
    const rank = ranksOf(told);
    ranks.push(rank);
    console.log(`| ${footage.name} | ${from} | ${least.toFixed(2)} to ${most.toFixed(2)} | ${rank.doubt.toFixed(2)} | ${rank.distance.toFixed(2)} |`);
  }
const mean = (key: 'doubt' | 'distance') => (ranks.reduce((sum, r) => sum + r[key], 0) / ranks.length).toFixed(3);
console.log(`| **mean** | ${ranks.length} stretches | | ${mean('doubt')} | ${mean('distance')} |`);
for (const [words, least, most] of [
  ['under .9', -1, 0.9],
  ['over .97', 0.97, 2],
] as const) {
  const { over, of } = over50(together(all), least, most);
  console.log(`Doubt over 50 on frames with F ${words}: ${over} of ${of}`);
}
