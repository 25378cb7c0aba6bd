/** Tracks points and regions through frames of the plate, off the page's thread: a thin shell over core. */
import { expose } from 'comlink';
import type { Gray, Size } from '~/core/image/picture.ts';
import { greyLevels } from '~/core/track/levels.ts';
import { type RunFrame, runTracks, type TrackRun } from '~/core/track/run.ts';
import { suggestedPoints } from '~/core/track/suggest.ts';
import { decodedFrame } from './decoded-frame.ts';

export interface TrackWish {
  /** Of the plate's frames. */
  url: string;
  /** Full frames, or proxies of them. */
  store: 'full' | 'proxy';
  plate: Size;
  runs: TrackRun[];
}

export interface SuggestWish extends Omit<TrackWish, 'runs'> {
  frame: number;
  /** Closed polylines in plate pixels in which the points are to lie. */
  outlines: Float64Array[];
  count: number;
}

async function lumaAt(url: string): Promise<Gray> {
  const { data, ...size } = await decodedFrame(url);
  return greyLevels(data, size);
}

const api = {
  /** Tells frame after frame. */
  async track({ url, store, plate, runs }: TrackWish, onFrame: (told: RunFrame) => void): Promise<void> {
    // Where a way begins, two pictures are wanted again and again.
    const kept = new Map<number, Promise<Gray>>();
    const luma = (frame: number) => {
      const known = kept.get(frame) ?? lumaAt(`${url}/${store}/${frame}`);
      kept.delete(frame);
      kept.set(frame, known);
      if (kept.size > 3) kept.delete(kept.keys().next().value as number);
      return known;
    };
    // What is told goes another way than the answer: the last of it must have come first.
    let last: unknown;
    for await (const told of runTracks(luma, plate, runs, store === 'proxy')) last = onFrame(told);
    await last;
  },

  /** Places on a frame that can be followed well, best first: x0, y0, x1, y1, … in plate pixels. */
  async suggest({ url, store, plate, frame, outlines, count }: SuggestWish): Promise<number[]> {
    return suggestedPoints(await lumaAt(`${url}/${store}/${frame}`), plate, outlines, count);
  },
};
export type TrackWorker = typeof api;

expose(api);
