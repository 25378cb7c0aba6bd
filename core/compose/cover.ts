/** Whether placed footage covers all that is seen of its lane, or shows an empty border. */
import { itemLivesOn } from '../document/parts.ts';
import type { Element, ShotDocument } from '../document/schema.ts';
import { elementById } from '../elements/index.ts';
import { standOf } from '../elements/render-element.ts';
import type { Size } from '../image/picture.ts';
import { inverseOf, multiply, scaling } from '../math/homography.ts';
import { mattesOf } from '../matte/mattes.ts';
import type { Sources } from '../matte/sources.ts';
import { seenOf } from './lanes.ts';

/** Less of a lane is not seen: of 1. */
const SEEN = 0.1;
/** How much farther than its own sides something may be looked at without being missed: a rounding. */
const SLACK = 1e-3;

/** Whether it is of those that show a picture with sides. */
export const canCover = (item: Element): boolean => {
  const kind = elementById(item.element);
  return kind.placed && kind.picture !== undefined;
};

/**
 * How many times larger an element has to be on a frame to cover all that is seen of its lane: 1 or less where it does, Infinity where it
 * has no size. @param size at which mattes are looked at: a small one will do
 */
export async function coverOn(document: ShotDocument, item: Element, frame: number, sources: Sources, size: Size): Promise<number> {
  if (!itemLivesOn(item, frame)) return 0;
  const mattes = mattesOf(document, sources, size);
  const seen = await seenOf(item, { document, frame, size, matte: (id) => mattes(id, frame), room: null });
  const stand = await standOf(document, item, frame, sources);
  const toLayer = scaling(size.width / document.plate.width, size.height / document.plate.height);
  const back = stand && inverseOf(multiply(toLayer, stand.motion));
  if (!stand || !back) return seen === null || seen.data.some((v) => v > SEEN) ? Infinity : 0;
  const { width, height } = stand.box;
  let most = 0;
  for (let y = 0, p = 0; y < size.height; y++)
    for (let x = 0; x < size.width; x++, p++) {
      if (seen && seen.data[p] <= SEEN) continue;
      // All four corners of the pixel have to be covered at the sides of the picture; its middle within a matte.
      const reach = seen ? 0 : 0.5;
      for (const [dx, dy] of reach > 0 ? CORNERS : MIDDLE) {
        const [px, py] = [x + 0.5 + dx, y + 0.5 + dy];
        const w = back[6] * px + back[7] * py + back[8];
        if (w <= 0) return Infinity;
        const u = (back[0] * px + back[1] * py + back[2]) / w;
        const v = (back[3] * px + back[4] * py + back[5]) / w;
        most = Math.max(most, (2 * Math.abs(u)) / width, (2 * Math.abs(v)) / height);
      }
    }
  return most;
}
const MIDDLE = [[0, 0]] as const;
const CORNERS = [
  [-0.5, -0.5],
  [0.5, -0.5],
  [-0.5, 0.5],
  [0.5, 0.5],
] as const;

/** Whether an empty border shows, by what {@link coverOn} gives. */
export const showsBorder = (factor: number): boolean => factor > 1 + SLACK;
