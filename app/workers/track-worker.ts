/** Tracks a region through frames of the plate, off the page's thread: a thin shell over core. */
import { expose } from 'comlink';
import type { Gray } from '~/core/image/picture.ts';
import { composed, type Homography, inverseOf, type MotionModel, normalised } from '~/core/math/homography.ts';
import { fillPolylines } from '~/core/path/fill.ts';
import { regionArea } from '~/core/track/area.ts';
import { greyLevels } from '~/core/track/levels.ts';
import type { Reason } from '~/core/track/quality.ts';
import { searchOn } from '~/core/track/settings.ts';
import { trackTowards } from '~/core/track/track-shot.ts';
import { decodedFrame } from './decoded-frame.ts';

export interface TrackWish {
  /** Of the plate's frames. */
  url: string;
  /** Full frames, or proxies of them. */
  store: 'full' | 'proxy';
  plate: { width: number; height: number };
  /** Closed outlines in plate pixels on `start`, even-odd: x0, y0, x1, y1, … */
  outlines: Float64Array[];
  model: MotionModel;
  start: number;
  end: number;
}

export interface Tracked {
  frame: number;
  /** From places of the plate on the frame it began with to this one. */
  motion: number[];
  quality: number;
  reason: Reason | null;
}

async function lumaAt(url: string): Promise<Gray> {
  const { data, ...size } = await decodedFrame(url);
  return greyLevels(data, size);
}

const api = {
  /** Tells frame after frame; false where too little of the plate is outlined. */
  async track({ url, store, plate, outlines, model, start, end }: TrackWish, onFrame: (tracked: Tracked) => void): Promise<boolean> {
    const first = await lumaAt(`${url}/${store}/${start}`);
    const luma = async (frame: number) => (frame === start ? first : lumaAt(`${url}/${store}/${frame}`));
    const { width, height } = first;
    const [sx, sy] = [width / plate.width, height / plate.height];
    const toStore: Homography = [sx, 0, 0, 0, sy, 0, 0, 0, 1];
    const toPlate = inverseOf(toStore) as number[];
    const area = regionArea(
      fillPolylines(
        outlines.map((o) => o.map((v, i) => v * (i % 2 === 0 ? sx : sy))),
        width,
        height,
      ),
      [],
    );
    const back = area && inverseOf(area.place);
    if (!area || !back) return false;
    for await (const { frame, found } of trackTowards(
      luma,
      [{ area, region: true, model, search: searchOn(plate.height) * sx }],
      start,
      end,
      store === 'proxy',
    )) {
      const [{ place, quality, reason }] = found;
      onFrame({ frame, motion: normalised(composed(toPlate, composed(composed(place, back), toStore))), quality, reason });
    }
    return true;
  },
};
export type TrackWorker = typeof api;

expose(api);
