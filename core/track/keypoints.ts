/** Finding a region again by its details, where looking for it moved alone would not. */
import type { Region } from '../image/picture.ts';
import { applyTo, type Homography, inverseOf, multiply } from '../math/homography.ts';
import { type Area, cornersAt } from './area.ts';
import { type Feature, featuresOf, motionOfFeatures } from './features.ts';
import type { Pyramid } from './pyramid.ts';

/** Details of a region on a frame where it was seen. */
export interface Keypoints {
  features: Feature[];
  /** Of the pictures they were seen on: the level, and where its pixels begin on the plate. */
  level: number;
  left: number;
  top: number;
  homography: Homography;
}

/** Details that are kept of a region, and those of the picture they are looked for among. */
const OWN = 80;
const THERE = 500;
/** Half of the shorter side, plate pixels, from which on the picture of half the size is looked at. */
const LARGE = 80;

/** Pixels of a level within `wide` plate pixels of the box round an area. */
function pieceRound(area: Area, homography: Homography, wide: number, { left, top }: Pyramid, scale: number): Region {
  const corners = cornersAt(area, homography, 'box');
  const [xs, ys] = [0, 1].map((odd) => corners.filter((_, i) => i % 2 === odd));
  return {
    left: (Math.min(...xs) - wide - left) * scale,
    top: (Math.min(...ys) - wide - top) * scale,
    right: (Math.max(...xs) + wide - left) * scale,
    bottom: (Math.max(...ys) + wide - top) * scale,
  };
}

/** The details of a region on a frame where it is. */
export function keypointsOf(pyramid: Pyramid, area: Area, homography: Homography): Keypoints {
  const level = Math.min(pyramid.count - 1, area.least > LARGE ? 1 : 0);
  const scale = 2 ** -level;
  const back = inverseOf(homography);
  const [u1, v1] = [area.box[4], area.box[5]];
  const inside = (x: number, y: number) => {
    if (!back) return false;
    const [u, v] = applyTo(back, x / scale + pyramid.left, y / scale + pyramid.top);
    return Math.abs(u) <= u1 && Math.abs(v) <= v1;
  };
  const features = featuresOf(pyramid.image(level), pieceRound(area, homography, 0, pyramid, scale), OWN, inside);
  return { features, level, left: pyramid.left, top: pyramid.top, homography };
}

/** Where a region has gone, looked for within `wide` plate pixels of where it is expected; null where its details do not agree on it. */
export function homographyOfKeypoints(
  { features, level, left, top, homography }: Keypoints,
  pyramid: Pyramid,
  area: Area,
  expected: Homography,
  wide: number,
): Homography | null {
  if (features.length === 0) return null;
  const scale = 2 ** -level;
  const picture = pyramid.image(Math.min(level, pyramid.count - 1));
  const motion = motionOfFeatures(features, featuresOf(picture, pieceRound(area, expected, wide, pyramid, scale), THERE));
  if (!motion) return null;
  // From pixels of the level then to pixels of it now.
  const toThen: Homography = [scale, 0, -left * scale, 0, scale, -top * scale, 0, 0, 1];
  const toPlate: Homography = [1 / scale, 0, pyramid.left, 0, 1 / scale, pyramid.top, 0, 0, 1];
  return multiply(multiply(toPlate, multiply(motion, toThen)), homography);
}
