/** Outputs in which what a track follows stays where it is. */
import { followedMotion } from '../../core/document/follow.ts';
import type { Gray, Rgba } from '../../core/image/picture.ts';
import { seenThrough } from '../../core/image/warp.ts';
import { Problem } from '../problem.ts';
import type { OutputTask } from './task.ts';

/** The picture of a frame with what a track follows held still; itself where nothing is to be held. */
export function heldStill<P extends Gray | Rgba>(picture: P, { document, spec: { hold } }: OutputTask, frame: number): P {
  if (!hold) return picture;
  const motion = followedMotion(document, hold, frame);
  if (!motion) throw new Problem('no-track', 'The track that this output holds still is no longer in the shot.', 409);
  return seenThrough(picture, motion);
}
