/**
 * The subject's motion along its edge, found again at full size: the motion of the whole layer is made of patches that are larger than
 * thin parts, so that a handle or a spoke would go with what lies behind it. Small patches of the subject round places along its edge
 * are matched (J. Jain, A. Jain, "Displacement measurement and its application in interframe image coding", IEEE Trans. Commun. 1981),
 * to a part of a pixel by a parabola.
 */
import type { Box, Size } from '../../image/picture.ts';
import { clamp } from '../../math/clamp.ts';
import { borrowParts } from '../../wasm/host.ts';
import { crop } from '../picture/crop.ts';
import type { LabPicture } from '../picture/lab.ts';
import { eachPlaceAlong } from '../picture/masks.ts';

/** Pixels between the places, and the radius of their patches. */
const APART = 14;
const RADIUS = 18;
/** Pixels of a patch that are compared, about. */
const PIXELS = 300;
/** Pixels beyond the subject's edge that belong to a patch: the edge itself is what a plain part shows. */
const RIM = 1.5;
/** Pixels each way from the layer's motion within which a patch is looked for, by steps of two and then of one. */
const REACH = 4;
/** Most that a channel of L*a*b* counts, so that what is hidden does not decide. */
const WORST = 20;
/** Cost of a pixel away from the layer's motion, against the mean difference in colour: plain patches stay. */
const AWAY = 0.05;
/** A patch that was found again must be so much more alike there. */
const BETTER = 0.9;
/** Pixels round a place as far as which its motion counts. */
const BLEND = 24;

/** Farthest each way that a patch is compared: two steps of one beyond those of two, the last for the parabola. */
const FARTHEST = REACH + 2;

/**
 * Moves where each pixel of the box came from with the subject (see {@link sources}, in place) to where places along the edge are found again.
 * @param pictures the whole picture before, and the box of the one after it
 * @param edge the signed distance from the subject's edge, in the box, on the picture before
 * @param motion the subject's on a grid of points, each the middle of `factor` by `factor` pixels of the frame
 */
export function settleSources(
  from: Float32Array,
  { before, own: next }: { before: LabPicture; own: LabPicture },
  { distance, box }: { distance: Float32Array; box: Box },
  { layer, grid, factor }: { layer: Float32Array; grid: Size; factor: number },
): void {
  const { width, height } = box;
  // One more is read behind the last pixel.
  const size = 3 * width * height + 4;
  const { kernels, part, at } = borrowParts({ before: size, next: size, list: 2 * (2 * RADIUS + 1) ** 2 });
  crop(before.lab, before.width, box, 3, part.before);
  part.next.set(next.lab);
  const list = new Uint32Array(part.list.buffer, at.list, part.list.length);

  const found: number[] = [];
  const costs = new Float64Array((2 * FARTHEST + 1) ** 2);
  eachPlaceAlong(distance, width, height, APART, (x, y) => {
    const u = Math.min(grid.width - 1, Math.floor((x + box.left + 0.5) / factor));
    const v = Math.min(grid.height - 1, Math.floor((y + box.top + 0.5) / factor));
    const i = 2 * (v * grid.width + u);
    const [goneX, goneY] = [layer[i] * factor, layer[i + 1] * factor];
    const [wholeX, wholeY] = [Math.round(goneX), Math.round(goneY)];
    const count = listPatch(list, distance, box, x, y, wholeX, wholeY);
    if (count === 0) return;
    costs.fill(-1);
    const cost = (dx: number, dy: number): number => {
      const key = (dy + FARTHEST) * (2 * FARTHEST + 1) + dx + FARTHEST;
      if (costs[key] < 0) {
        const away = Math.sqrt((wholeX + dx - goneX) ** 2 + (wholeY + dy - goneY) ** 2);
        costs[key] = kernels.patchDifference(at.before, at.next, at.list, count, 12 * (dy * width + dx), WORST) / count + AWAY * away;
      }
      return costs[key];
    };
    let [bestX, bestY] = [0, 0];
    const tryAt = (dx: number, dy: number) => {
      if (cost(dx, dy) < cost(bestX, bestY)) [bestX, bestY] = [dx, dy];
    };
    for (let dy = -REACH; dy <= REACH; dy += 2) for (let dx = -REACH; dx <= REACH; dx += 2) tryAt(dx, dy);
    const [nearX, nearY] = [bestX, bestY];
    for (let dy = nearY - 1; dy <= nearY + 1; dy++) for (let dx = nearX - 1; dx <= nearX + 1; dx++) tryAt(dx, dy);
    const moved = cost(bestX, bestY) < BETTER * cost(0, 0);
    const shiftX = bestX + lowest(cost(bestX - 1, bestY), cost(bestX, bestY), cost(bestX + 1, bestY));
    const shiftY = bestY + lowest(cost(bestX, bestY - 1), cost(bestX, bestY), cost(bestX, bestY + 1));
    found.push(x + goneX, y + goneY, moved ? wholeX + shiftX - goneX : 0, moved ? wholeY + shiftY - goneY : 0);
  });
  blend(from, found, box);
}

/** Pixels each way on a row so far from a patch's middle. */
const HALF_ROW = Int32Array.from({ length: RADIUS + 1 }, (_, dy) => Math.floor(Math.sqrt(RADIUS ** 2 - dy ** 2)));
/** The subject's pixels round the place that is asked for; so many at most. */
const inside = new Int32Array((2 * RADIUS + 1) ** 2);

/**
 * Writes the subject's pixels round a place that stay in the box wherever they are looked for to `list`: for each its bytes in either
 * picture. Gives how many there are; none where that is less than half of them.
 */
function listPatch(list: Uint32Array, distance: Float32Array, { width, height }: Box, x: number, y: number, goneX: number, goneY: number): number {
  let all = 0;
  for (let v = Math.max(0, y - RADIUS); v <= Math.min(height - 1, y + RADIUS); v++) {
    const across = HALF_ROW[Math.abs(v - y)];
    const end = v * width + Math.min(width - 1, x + across);
    for (let i = v * width + Math.max(0, x - across); i <= end; i++) if (distance[i] > -RIM) inside[all++] = i;
  }
  let count = 0;
  const every = Math.max(1, Math.ceil(all / PIXELS));
  const room = FARTHEST;
  for (let k = 0; k < all; k += every) {
    const v = Math.floor(inside[k] / width);
    const there = v + goneY;
    const u = inside[k] - v * width + goneX;
    if (u < room || there < room || u >= width - room || there >= height - room) continue;
    list[2 * count] = 12 * inside[k];
    list[2 * count + 1] = 12 * (there * width + u);
    count++;
  }
  return 2 * count * every < all ? 0 : count;
}

/** Where between -½ and ½ a parabola through values at -1, 0 and 1 is lowest; 0 where it hardly bends. */
function lowest(before: number, here: number, after: number): number {
  const bend = before - 2 * here + after;
  return bend > 0.02 ? clamp((before - after) / (2 * bend), -0.5, 0.5) : 0;
}

/** Moves the sources by what was found at the places near each pixel, the nearer the more. `found`: x, y, and the shift of each. */
function blend(from: Float32Array, found: readonly number[], { width, height }: Box): void {
  const n = width * height;
  const { kernels, part, at } = borrowParts({ places: found.length, from: 2 * n, sums: 4 * n });
  part.places.set(found);
  part.from.set(from);
  kernels.blendShifts(at.places, found.length / 4, BLEND, at.from, at.sums, width, height);
  from.set(part.from);
}
