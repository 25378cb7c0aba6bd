/** What is measured of pictures for the settings of an effect: how the colours of one become those of another, and how much grain one has. */
import type { ElementEffect, LaneItem, ShotDocument, ShownFootage } from '../document/schema.ts';
import { renderElement } from '../elements/render-element.ts';
import { type Gray, LUMA, lumaAt, newRgba, type Rgba, type Size } from '../image/picture.ts';
import { clamp } from '../math/clamp.ts';
import { roundTo } from '../math/round.ts';
import { mattesOf } from '../matte/mattes.ts';
import type { Sources } from '../matte/sources.ts';
import { half } from '../peel/motion/optical-flow.ts';
import { Bars } from './bars.ts';
import { showingOnly } from './lane-items.ts';
import { isIn, lanesInDepth, seenOf } from './lanes.ts';
import { renderPicture } from './render-picture.ts';

/** What something is to be like: what lies under it, or a frame of footage (null: the plate). */
export type Reference = { under: true } | { under: false; footage: ShownFootage | null; frame: number };
/** By the mean and the spread of each channel, or value by value. */
export type How = 'statistics' | 'curves';

interface Place {
  document: ShotDocument;
  frame: number;
  sources: Sources;
  size: Size;
}

/** All items in the order in which they are painted. */
const painted = (document: ShotDocument): LaneItem[] => lanesInDepth(document).flatMap((place) => document.lanes.filter((item) => isIn(item, place)));

/** The picture as far as it is painted before an item. */
const before = ({ document, frame, sources, size }: Place, item: LaneItem): Promise<Rgba> => {
  const all = painted(document);
  return renderPicture(showingOnly(document, all.slice(0, all.indexOf(item))), frame, sources, size);
};

/** The element with an effect of its own, as that is given it. */
function ownerOf({ lanes }: ShotDocument, id: string): { item: LaneItem; own: ElementEffect | null } | null {
  for (const item of lanes) {
    if (item.id === id) return { item, own: null };
    const own = item.type === 'element' ? item.effects.find((e) => e.id === id) : undefined;
    if (own) return { item, own };
  }
  return null;
}

/** What an effect is given on a frame, and what lies under it, both premultiplied by where it is seen. */
async function givenTo(place: Place, id: string): Promise<{ given: Rgba; under: Rgba } | null> {
  const { document, frame, sources, size } = place;
  const found = ownerOf(document, id);
  if (!found) return null;
  const { item, own } = found;
  const mattes = mattesOf(document, sources, size);
  const behind = await before(place, item);
  if (item.type === 'element' && own) {
    const bare = { ...item, enabled: true, lives: [], effects: item.effects.slice(0, item.effects.indexOf(own)) };
    const layer = await renderElement({ document, sources, size, mattes, room: null, prepared: new Map() }, bare, frame);
    if (!layer) return null;
    const given = newRgba(size.width, size.height);
    for (let y = 0; y < layer.height; y++)
      given.data.set(layer.data.subarray(4 * y * layer.width, 4 * (y + 1) * layer.width), 4 * ((y + layer.top) * size.width + layer.left));
    return { given, under: cut(behind, (p) => given.data[4 * p + 3]) };
  }
  const seen = await seenOf(item, { document, frame, size, matte: (subject) => mattes(subject, frame), room: null });
  return { given: cut(behind, (p) => seen?.data[p] ?? 1), under: cut(behind, (p) => 1 - (seen?.data[p] ?? 0)) };
}

/** An opaque picture where something says. */
function cut({ width, height, data }: Rgba, share: (pixel: number) => number): Rgba {
  const out = newRgba(width, height);
  for (let p = 0; p < width * height; p++) {
    const m = share(p);
    for (let k = 0; k < 4; k++) out.data[4 * p + k] = data[4 * p + k] * m;
  }
  return out;
}

const BINS = 256;

/** How often each value is there, channel by channel, and how much of the picture there is. */
function histogramsOf({ data }: Rgba): { counts: Float64Array[]; whole: number } {
  const counts = [0, 1, 2].map(() => new Float64Array(BINS));
  let whole = 0;
  for (let i = 0; i < data.length; i += 4) {
    const a = data[i + 3];
    if (a < 1 / 255) continue;
    whole += a;
    for (let k = 0; k < 3; k++) counts[k][Math.round(clamp(data[i + k] / a, 0, 1) * (BINS - 1))] += a;
  }
  return { counts, whole };
}

const meanAndSpread = (counts: Float64Array, whole: number): [number, number] => {
  const mean = counts.reduce((sum, n, i) => sum + (n * i) / (BINS - 1), 0) / whole;
  return [mean, Math.sqrt(counts.reduce((sum, n, i) => sum + n * (i / (BINS - 1) - mean) ** 2, 0) / whole)];
};

/** The value under which a share of all lies, between bins. */
function quantile(counts: Float64Array, whole: number, share: number): number {
  let sum = 0;
  for (let i = 0; i < BINS; i++) {
    if (sum + counts[i] >= share * whole && counts[i] > 0) return clamp((i - 0.5 + (share * whole - sum) / counts[i]) / (BINS - 1), 0, 1);
    sum += counts[i];
  }
  return 1;
}

/** Spread under which nothing can be told. */
const LEAST_SPREAD = 0.002;
const QUANTILES = [0.02, 0.1, 0.25, 0.5, 0.75, 0.9, 0.98];

const BESIDE = 0.02;

/** A straight line as a curve within [0,1]. */
function lineCurve(slope: number, at0: number): number[] {
  const of = (x: number) => clamp(at0 + slope * x, 0, 1);
  // Where it leaves the square; close beside that a point more, so that it bends nowhere else.
  const [low, high] = [-at0 / slope, (1 - at0) / slope];
  const places = [0, low, low + BESIDE, high - BESIDE, high, 1].filter((x) => x >= 0 && x <= 1).sort((a, b) => a - b);
  return places.filter((x, i) => i === 0 || x - places[i - 1] > 0.002).flatMap((x) => [roundTo(x), roundTo(of(x))]);
}

/**
 * The curve that gives values the distribution of others: a line by mean and spread (E. Reinhard et al., "Color transfer between images",
 * IEEE CG&A 2001, here channel by channel), or one through points of equal rank (histogram specification; R. Gonzalez and R. Woods).
 */
export function matchingCurve(from: Float64Array, fromWhole: number, to: Float64Array, toWhole: number, how: How): number[] {
  const [[m0, s0], [m1, s1]] = [meanAndSpread(from, fromWhole), meanAndSpread(to, toWhole)];
  const slope = s0 < LEAST_SPREAD ? 1 : clamp(s1 / s0, 0.1, 10);
  if (how === 'statistics') return lineCurve(slope, m1 - slope * m0);
  const points: [number, number][] = [];
  for (const share of QUANTILES) {
    const [x, y] = [quantile(from, fromWhole, share), quantile(to, toWhole, share)];
    if (x > 0.01 && x < 0.99 && x - (points[points.length - 1]?.[0] ?? -1) >= 0.02) points.push([x, y]);
  }
  if (points.length < 2) return lineCurve(slope, m1 - slope * m0);
  // Beyond what was measured it goes on to black and to white, never steeper than it may be told.
  const [first, last] = [points[0], points[points.length - 1]];
  const low = clamp(first[1] - first[0] * slope, 0, first[1]);
  const high = clamp(last[1] + (1 - last[0]) * slope, last[1], 1);
  return [0, low, ...points.flat(), 1, high].map((v) => roundTo(v));
}

/** Curves for red, green and blue that make what an effect is given like a reference; null where one of them has nothing to measure. */
export async function measureColour(place: Place, id: string, like: Reference, how: How): Promise<Record<'red' | 'green' | 'blue', number[]> | null> {
  const found = await givenTo(place, id);
  if (!found) return null;
  const { sources, size } = place;
  const { footage, frame } = like.under ? { footage: null, frame: 0 } : like;
  const wanted = like.under ? found.under : await (footage ? sources.footage(footage, frame, size) : sources.plate(frame, size));
  const [from, to] = [histogramsOf(found.given), histogramsOf(wanted)];
  if (from.whole < 4 || to.whole < 4) return null;
  const [red, green, blue] = [0, 1, 2].map((k) => matchingCurve(from.counts[k], from.whole, to.counts[k], to.whole, how));
  return { red, green, blue };
}

/**
 * How often values are there in what an effect is given on a frame: for luma, red, green and blue so many bars from dark to bright, the
 * highest of each 1; null where it is given nothing.
 */
export async function histogramOf(place: Place, id: string): Promise<Record<'all' | 'red' | 'green' | 'blue', number[]> | null> {
  const found = await givenTo(place, id);
  if (!found) return null;
  const { data } = found.given;
  const bars = new Bars(4);
  for (let i = 0; i < data.length; i += 4) {
    const a = data[i + 3];
    if (a < 1 / 255) continue;
    bars.count(
      [lumaAt(data, i), data[i], data[i + 1], data[i + 2]].map((v) => v / a),
      a,
    );
  }
  const [all, red, green, blue] = bars.heights();
  return { all, red, green, blue };
}

/** Side of the squares in which noise is measured: the smoothest of them show it best. */
const SQUARE = 32;
const SMOOTHEST = 0.2;

/**
 * The standard deviation of the noise of a gray picture (J. Immerkær, "Fast noise variance estimation", CVIU 1996), taken from its
 * smoothest parts.
 */
export function noiseSigma({ width, height, data }: Gray): number {
  const sums: number[] = [];
  for (let top = 1; top + SQUARE < height; top += SQUARE)
    for (let left = 1; left + SQUARE < width; left += SQUARE) {
      let sum = 0;
      for (let y = top; y < top + SQUARE; y++)
        for (let p = y * width + left; p < y * width + left + SQUARE; p++) {
          const corners = data[p - width - 1] + data[p - width + 1] + data[p + width - 1] + data[p + width + 1];
          sum += Math.abs(corners - 2 * (data[p - 1] + data[p + 1] + data[p - width] + data[p + width]) + 4 * data[p]);
        }
      sums.push(sum / (SQUARE * SQUARE));
    }
  if (sums.length === 0) return 0;
  sums.sort((a, b) => a - b);
  const smooth = sums.slice(0, Math.max(1, Math.round(sums.length * SMOOTHEST)));
  return (Math.sqrt(Math.PI / 2) / 6) * (smooth.reduce((a, b) => a + b, 0) / smooth.length);
}

/** Settings of grain that is like the plate's on a frame at its full size. */
export function measureGrain(plate: Rgba): { strength: number; colour: number; size: number } {
  const gray = (of: (i: number) => number): Gray => ({ ...plate, data: Float32Array.from({ length: plate.width * plate.height }, (_, p) => of(4 * p)) });
  const { data } = plate;
  const luma = gray((i) => lumaAt(data, i));
  const channels = [0, 1, 2].map((k) => noiseSigma(gray((i) => data[i + k])));
  const own = channels.reduce((a, b) => a + b, 0) / 3;
  const ofLuma = noiseSigma(luma);
  // What is the same in all channels is as strong in the luma; what is of each alone is less.
  const alone = LUMA[0] ** 2 + LUMA[1] ** 2 + LUMA[2] ** 2;
  const colour = own > 0 ? Math.sqrt(clamp((1 - (ofLuma / own) ** 2) / (1 - alone), 0, 1)) : 0;
  // Noise of single pixels is half as strong at half the size; of larger grains less is lost.
  const size = ofLuma > 0 ? clamp((2 * noiseSigma(half(luma))) / ofLuma, 1, 4) : 1;
  return { strength: roundTo(own * 100, 2), colour: Math.round(colour * 100), size: roundTo(size, 1) };
}
