/** Where something in a lane stands on a frame, for placing it by hand. */
import type { LaneItem, ShotDocument } from '../document/schema.ts';
import { POINT, valuesAt } from '../effects/settings.ts';
import { ledMotion } from '../elements/place.ts';
import { type ElementStand, standOf } from '../elements/render-element.ts';
import { multiply, translation } from '../math/homography.ts';
import type { Sources } from '../matte/sources.ts';
import { hasPlace } from './lane-items.ts';

/** Its size in its own pixels (none for an effect's place), and what takes these to the plate's. Null where it has no place. */
export async function standOn(document: ShotDocument, item: LaneItem, frame: number, sources: Sources): Promise<ElementStand | null> {
  if (item.type === 'element') return standOf(document, item, frame, sources);
  if (!hasPlace(item)) return null;
  const { x, y } = valuesAt(POINT, item.settings, frame);
  const place = translation(x, y);
  const motion = ledMotion(document, item, frame);
  return { box: { width: 0, height: 0 }, motion: motion ? multiply(motion, place) : place };
}
