/** Where the plate lies in the viewer: fitting, zooming at a point, and pixel on pixel. */
import type { Size } from '~/core/image/picture.ts';
import { clamp } from '~/core/math/clamp.ts';

export interface ViewTransform {
  /** Screen pixels for one plate pixel. */
  scale: number;
  /** Where the plate's top left corner is in the viewer, screen pixels. */
  x: number;
  y: number;
}

const MARGIN = 8;
const LEAST_SCALE = 0.05;
const MOST_SCALE = 64;

export function fittingTransform(viewport: Size, plate: Size): ViewTransform {
  const scale = Math.max(LEAST_SCALE, Math.min((viewport.width - 2 * MARGIN) / plate.width, (viewport.height - 2 * MARGIN) / plate.height));
  return { scale, x: (viewport.width - plate.width * scale) / 2, y: (viewport.height - plate.height * scale) / 2 };
}

/** The place with another scale, the point (x, y) of the viewer staying where it is. */
export function zoomed(viewTransform: ViewTransform, scale: number, x: number, y: number): ViewTransform {
  const next = clamp(scale, LEAST_SCALE, MOST_SCALE);
  const k = next / viewTransform.scale;
  return { scale: next, x: x - (x - viewTransform.x) * k, y: y - (y - viewTransform.y) * k };
}

/** One plate pixel on one device pixel, the middle of the viewer staying; plate pixels lie on device pixels, so nothing is resampled. */
export function actualSizeTransform(viewTransform: ViewTransform, viewport: Size, density: number): ViewTransform {
  const { scale, x, y } = zoomed(viewTransform, 1 / density, viewport.width / 2, viewport.height / 2);
  return { scale, x: Math.round(x * density) / density, y: Math.round(y * density) / density };
}
