/** Where Framing takes what lies below it. */
import { itemLivesOn } from '../document/parts.ts';
import type { LaneItem, ShotDocument } from '../document/schema.ts';
import { framingEffect, motionOf } from '../effects/framing.ts';
import { settingsAt } from '../effects/lane-effect.ts';
import { type Homography, multiply } from '../math/homography.ts';
import { numberAt } from '../time/animated.ts';

/** Takes places of the plate to where they are seen in the finished picture on a frame, for what belongs to an item; null: they stay. */
export function framingOver({ lanes, plate }: Pick<ShotDocument, 'lanes' | 'plate'>, item: LaneItem, frame: number): Homography | null {
  // What is later in a lane is nearer, and all of the Front lane is nearer than the others.
  const below = item.lane === 'front' ? lanes.findIndex((l) => l.id === item.id) : -1;
  const over = lanes.filter(
    (l, i) =>
      i > below &&
      l.lane === 'front' &&
      l.type === 'effect' &&
      l.effect === framingEffect.id &&
      l.enabled &&
      itemLivesOn(l, frame) &&
      numberAt(l.mix, frame) > 0,
  );
  if (over.length === 0) return null;
  const motions = over.map((l) => motionOf(settingsAt(l as Extract<LaneItem, { type: 'effect' }>, frame), 1, plate.width, plate.height));
  return motions.reduce((first, then) => multiply(then, first));
}
