/** Tracks points and regions through frames of the plate, off the page's thread: a thin shell over core. */
import { expose } from 'comlink';
import { LRUCache } from 'lru-cache';
import { drawnFor, type PlacedPath, shapeAt } from '~/core/document/follow.ts';
import type { Gray, Size } from '~/core/image/picture.ts';
import { memoisedPromise } from '~/core/math/memo.ts';
import { roundedShape, type Shape } from '~/core/path/path.ts';
import { greyLevels } from '~/core/track/pyramid.ts';
import { type RunFrame, runTracks, type TrackRun } from '~/core/track/run.ts';
import { edgeLooks, settled } from '~/core/track/settle.ts';
import { suggestedPoints } from '~/core/track/suggest.ts';
import { decodedFrame } from './decoded-frame.ts';

export interface TrackRequest {
  /** Of the plate's frames. */
  url: string;
  /** Full frames, or proxies of them. */
  store: 'full' | 'proxy';
  plate: Size;
  runs: TrackRun[];
}

export interface SettleRequest extends Omit<TrackRequest, 'runs'> {
  paths: PlacedPath[];
  start: number;
  /** Rising. */
  frames: number[];
  /** Plate pixels. */
  band: number;
  strength: number;
}

export interface SuggestRequest extends Omit<TrackRequest, 'runs'> {
  frame: number;
  /** Closed polylines in plate pixels in which the points are to lie. */
  outlines: Float64Array[];
  count: number;
}

/** Pictures kept. */
const KEPT = 3;

async function lumaAt(url: string): Promise<Gray> {
  const { data, ...size } = await decodedFrame(url);
  return greyLevels(data, size);
}

/** The shape in pixels of a picture that is `scale` times as large as what it is told in. */
const scaled = (shape: Shape, scale: number): Shape =>
  shape.map((v) => ({ ...v, x: v.x * scale, y: v.y * scale, inX: v.inX * scale, inY: v.inY * scale, outX: v.outX * scale, outY: v.outY * scale }));

const api = {
  /** Tells frame after frame. */
  async track({ url, store, plate, runs }: TrackRequest, onFrame: (told: RunFrame) => void): Promise<void> {
    // Where a way begins, two pictures are wanted again and again.
    const kept = new LRUCache<number, Promise<Gray>>({ max: KEPT });
    const luma = (frame: number) => memoisedPromise(kept, frame, () => lumaAt(`${url}/${store}/${frame}`));
    // What is told goes another way than the answer: the last of it must have come first.
    let last: unknown;
    for await (const told of runTracks(luma, plate, runs, store === 'proxy')) last = onFrame(told);
    await last;
  },

  /**
   * Lets curves that follow a track settle on their edges, from the frame they are drawn on to both sides: tells, frame after frame, how
   * each has to be drawn for it. Frames are left out on which the track is not trusted.
   */
  async settle({ url, store, plate, paths, start, frames, band, strength }: SettleRequest, onFrame: (frame: number, drawn: Shape[]) => void): Promise<void> {
    const first = await lumaAt(`${url}/${store}/${start}`);
    const scale = first.width / plate.width;
    const looks = paths.map((path) => edgeLooks(first, scaled(shapeAt(path, start), scale)));
    let told: unknown;
    for (const way of [frames.filter((f) => f > start), frames.filter((f) => f < start).reverse()]) {
      // What had bent on the frame before has bent here as well.
      let drawn = paths.map((path) => drawnFor(path, start, shapeAt(path, start)));
      for (const frame of way) {
        const picture = await lumaAt(`${url}/${store}/${frame}`);
        drawn = paths.map((path, i) => {
          const seen = scaled(shapeAt({ ...path, shape: { constant: drawn[i] } }, frame), scale);
          const edge = settled(picture, seen, looks[i], { band: band * scale, strength });
          return roundedShape(drawnFor(path, frame, scaled(edge, 1 / scale)));
        });
        told = onFrame(frame, drawn);
      }
    }
    await told;
  },

  /** Places on a frame that can be followed well, best first: x0, y0, x1, y1, … in plate pixels. */
  async suggest({ url, store, plate, frame, outlines, count }: SuggestRequest): Promise<number[]> {
    return suggestedPoints(await lumaAt(`${url}/${store}/${frame}`), plate, outlines, count);
  },
};
export type TrackWorker = typeof api;

expose(api);
