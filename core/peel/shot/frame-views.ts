/** Frames as carrying looks at them, each made once while it is near. */

import { LRUCache } from 'lru-cache';
import type { Gray } from '../../image/picture.ts';
import { memoised, memoisedPromise } from '../../math/memo.ts';
import { neighbourOf } from '../cut/motion-evidence.ts';
import { type Motion, motionOf } from '../motion/layers.ts';
import { type Flow, flowBetween } from '../motion/optical-flow.ts';
import { type Neighbour, type PreparedFrame, prepareFrame } from '../motion/prepared-frame.ts';
import type { FrameBytes } from '../picture/lab.ts';
import { brightness } from '../propagate/propagate-frame.ts';
import { halfFrame } from '../uncertainty/ensemble.ts';

export interface FrameView {
  frame: number;
  /** Size of the picture. */
  width: number;
  height: number;
  prepared: PreparedFrame;
  /** At half the size, for the second opinion; made when it is asked for. */
  readonly half: PreparedFrame;
  /** Brightness of the coarse picture, as a pyramid. */
  light: Gray[];
}

/** Frames held: the one carried from, the one carried to, an anchor, and one on which the subject was in sight. */
const FRAMES = 5;
/** Pictures held that are not looked at yet. */
const AHEAD = 2;
/** Motions held, so that the way back between two anchors finds those of the way there: half a megabyte each. */
const MOTIONS = 96;

function viewOf(frame: number, picture: FrameBytes): FrameView {
  const prepared = prepareFrame(picture);
  let half: PreparedFrame | undefined;
  return {
    frame,
    width: picture.width,
    height: picture.height,
    prepared,
    get half() {
      half ??= halfFrame(prepared);
      return half;
    },
    light: brightness(prepared),
  };
}

export class FrameViews {
  private readonly views = new LRUCache<number, Promise<FrameView>>({ max: FRAMES });
  private readonly flows = new LRUCache<string, Flow>({ max: 2 * MOTIONS });
  private readonly pictures = new LRUCache<number, Promise<FrameBytes>>({ max: AHEAD });
  private readonly read: (frame: number) => Promise<FrameBytes>;
  constructor(picture: (frame: number) => Promise<FrameBytes>) {
    this.read = picture;
  }

  private picture = (frame: number): Promise<FrameBytes> => memoisedPromise(this.pictures, frame, () => this.read(frame));

  get = (frame: number): Promise<FrameView> =>
    memoisedPromise(this.views, frame, async () => {
      const picture = await this.picture(frame);
      this.pictures.delete(frame);
      return viewOf(frame, picture);
    });

  /** Reads a frame that will be asked for soon. Where it cannot be read, that is told when it is asked for. */
  ahead(frame: number): void {
    if (!this.views.has(frame)) this.picture(frame).catch(() => {});
  }

  /** A frame that is painted on, and those beside it as far as there are so many `frames`: what is painted is followed to them. */
  async painted(frame: number, frames: number): Promise<PreparedFrame> {
    const view = await this.get(frame);
    const beside: Neighbour[] = [];
    for (const other of [frame - 1, frame + 1]) {
      if (other < 0 || other >= frames) continue;
      const next = await this.get(other);
      beside.push(neighbourOf(next.prepared, this.motion(view, next)));
    }
    return { ...view.prepared, beside };
  }

  motion(from: FrameView, to: FrameView): Motion {
    const flow = (a: FrameView, b: FrameView) => memoised(this.flows, `${a.frame}>${b.frame}`, () => flowBetween(a.light, b.light));
    return motionOf(flow(from, to), flow(to, from));
  }
}
