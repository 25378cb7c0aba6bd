/** Where Framing takes what lies below it. */
import type { LaneItem, ShotDocument } from '../document/schema.ts';
import { framingEffect, motionOf } from '../effects/framing.ts';
import { settingsAt } from '../effects/lane-effect.ts';
import { type Homography, multiply } from '../math/homography.ts';
import { isAsked } from './plan.ts';

/** Takes places of the plate to where they are seen in the finished picture on a frame, for what belongs to an item; null: they stay. */
export function framingOver({ lanes, plate }: Pick<ShotDocument, 'lanes' | 'plate'>, item: LaneItem, frame: number): Homography | null {
  // What is later in a lane is nearer, and all of the Front lane is nearer than the others.
  const below = item.lane === 'front' ? lanes.findIndex((l) => l.id === item.id) : -1;
  const motions = lanes.flatMap((l, i) =>
    i > below && l.lane === 'front' && l.type === 'effect' && l.effect === framingEffect.id && isAsked(l, frame)
      ? [motionOf(settingsAt(l, frame), 1, plate.width, plate.height)]
      : [],
  );
  return motions.length > 0 ? motions.reduce((first, then) => multiply(then, first)) : null;
}
