/** The transform frame: the box round the selected points, with handles to move, scale, turn and skew them. */
import { type Affine, affineAbout } from '~/core/path/edit.ts';
import type { Shape } from '~/core/path/path.ts';

export interface Box {
  left: number;
  top: number;
  right: number;
  bottom: number;
}

export interface Spot {
  x: number;
  y: number;
}

/** Box round the chosen vertices; null for fewer than two of them. */
export function boxRound(chosen: readonly { shape: Shape; vertices: ReadonlySet<number> }[]): Box | null {
  let count = 0;
  const box: Box = { left: Number.POSITIVE_INFINITY, top: Number.POSITIVE_INFINITY, right: Number.NEGATIVE_INFINITY, bottom: Number.NEGATIVE_INFINITY };
  for (const { shape, vertices } of chosen)
    for (const i of vertices) {
      const v = shape[i];
      if (!v) continue;
      count++;
      box.left = Math.min(box.left, v.x);
      box.top = Math.min(box.top, v.y);
      box.right = Math.max(box.right, v.x);
      box.bottom = Math.max(box.bottom, v.y);
    }
  return count > 1 ? box : null;
}

export const middleOf = (b: Box): Spot => ({ x: (b.left + b.right) / 2, y: (b.top + b.bottom) / 2 });

/** Where a handle sits: -1, 0, 1 across and down from the middle. */
export interface Corner {
  across: -1 | 0 | 1;
  down: -1 | 0 | 1;
}

export const HANDLES: readonly Corner[] = ([-1, 0, 1] as const).flatMap((down) =>
  ([-1, 0, 1] as const).flatMap((across) => (across === 0 && down === 0 ? [] : [{ across, down }])),
);

/** Plate pixels that the frame stands off the points, for `perPixel` plate pixels a screen pixel. */
const STAND_OFF = 14;

export function spotOf(box: Box, { across, down }: Corner, perPixel: number): Spot {
  const m = middleOf(box);
  const off = STAND_OFF * perPixel;
  return { x: m.x + across * ((box.right - box.left) / 2 + off), y: m.y + down * ((box.bottom - box.top) / 2 + off) };
}

export type FrameHit = { kind: 'scale'; corner: Corner } | { kind: 'skew'; corner: Corner } | { kind: 'turn' } | { kind: 'centre' };

/**
 * What of the frame lies at (x, y): its centre, a handle (with `skew` held, a side's handle slants), or the ring outside a
 * corner, which turns.
 */
export function frameHit(box: Box, centre: Spot, x: number, y: number, perPixel: number, skew: boolean): FrameHit | null {
  const within = (p: Spot, pixels: number) => (p.x - x) ** 2 + (p.y - y) ** 2 < (pixels * perPixel) ** 2;
  if (within(centre, 8)) return { kind: 'centre' };
  for (const corner of HANDLES) {
    if (!within(spotOf(box, corner, perPixel), 8)) continue;
    return skew && (corner.across === 0 || corner.down === 0) ? { kind: 'skew', corner } : { kind: 'scale', corner };
  }
  for (const corner of HANDLES) {
    if (corner.across === 0 || corner.down === 0) continue;
    const p = spotOf(box, corner, perPixel);
    if (within({ x: p.x + corner.across * 14 * perPixel, y: p.y + corner.down * 14 * perPixel }, 12)) return { kind: 'turn' };
  }
  return null;
}

/** The map that dragging a handle from `from` to `to` makes, about `centre`. `even` keeps proportions, or steps of 15 degrees. */
export function frameMap(hit: FrameHit, centre: Spot, from: Spot, to: Spot, even: boolean): Affine {
  const [ax, ay, bx, by] = [from.x - centre.x, from.y - centre.y, to.x - centre.x, to.y - centre.y];
  const ratio = (b: number, a: number) => (Math.abs(a) < 1e-6 ? 1 : b / a);
  if (hit.kind === 'turn') {
    let angle = Math.atan2(by, bx) - Math.atan2(ay, ax);
    if (even) angle = (Math.round(angle / (Math.PI / 12)) * Math.PI) / 12;
    return affineAbout(centre.x, centre.y, { angle });
  }
  if (hit.kind === 'skew') {
    if (hit.corner.across === 0) return affineAbout(centre.x, centre.y, { skew: Math.atan2(bx - ax, ay) });
    // A slant down is a slant across between two quarter turns.
    const t = (by - ay) / (Math.abs(ax) < 1e-6 ? 1 : ax);
    return [1, t, 0, 1, 0, -t * centre.x];
  }
  if (hit.kind === 'centre') return affineAbout(centre.x, centre.y, { dx: to.x - from.x, dy: to.y - from.y });
  const { across, down } = hit.corner;
  let scaleX = across === 0 ? 1 : ratio(bx, ax);
  let scaleY = down === 0 ? 1 : ratio(by, ay);
  if (even) {
    const k = across === 0 ? scaleY : down === 0 ? scaleX : Math.max(Math.abs(scaleX), Math.abs(scaleY));
    [scaleX, scaleY] = [k, k];
  }
  return affineAbout(centre.x, centre.y, { scaleX, scaleY });
}
