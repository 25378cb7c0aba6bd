/** What goes over a picture: how far each pixel lies within it before it has gone anywhere, pixels of the layer; below 0 outside. */
import { newGray, type Rgba } from '../image/picture.ts';
import { clamp, smoothstep } from '../math/clamp.ts';
import { signedDistance } from '../matte/distance.ts';
import type { Scene } from './element.ts';
import { overFilled } from './paint.ts';
import { linesOf } from './source.ts';

export type Passing = (x: number, y: number) => number;

/** A line through a place, square to a direction (of length 1) in which it goes. */
export const linePassing =
  (ax: number, ay: number, dx: number, dy: number): Passing =>
  (x, y) =>
    (ax - x) * dx + (ay - y) * dy;

/** A circle that grows round a place. */
export const circlePassing =
  (ax: number, ay: number): Passing =>
  (x, y) =>
    -Math.hypot(x - ax, y - ay);

/** The same once it has gone so far. */
export const going =
  (passing: Passing, far: number): Passing =>
  (x, y) =>
    passing(x, y) + far;

/**
 * Lays a picture of the size of the layer, or white, over that where it has been passed.
 * @param soft pixels over which it fades; `rest`: where it has not been passed
 */
export function layPassed({ data, width, height }: Rgba, passed: Passing, picture: Rgba | null, soft: number, rest = false): void {
  for (let y = 0, o = 0; y < height; y++)
    for (let x = 0; x < width; x++, o += 4) {
      const there = smoothstep(clamp(passed(x + 0.5, y + 0.5) / soft + 0.5, 0, 1));
      const a = rest ? 1 - there : there;
      if (a <= 0) continue;
      for (let k = 0; k < 4; k++) data[o + k] = a * (picture ? picture.data[o + k] : 1);
    }
}

/** A curve, or an outline, that grows; null where it has no inside. */
export async function shapePassing({ width, height }: Pick<Rgba, 'width' | 'height'>, scene: Scene<unknown>): Promise<Passing | null> {
  const matte = newGray(width, height);
  const outlines = (await linesOf(scene, null)).filter((l) => l.closed).map((l) => l.points.slice());
  overFilled({ width, height }, outlines, (pixel, covered) => {
    matte.data[pixel] = covered;
  });
  const field = signedDistance(matte, 0.5, Math.hypot(width, height), 0.1);
  return (
    field &&
    ((x, y) => {
      const [u, v] = [clamp(Math.floor(x) - field.left, 0, field.width - 1), clamp(Math.floor(y) - field.top, 0, field.height - 1)];
      return field.data[v * field.width + u];
    })
  );
}
