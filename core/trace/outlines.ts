/** The outlines of a matte as closed lines. */
import { type Gray, newGray } from '../image/picture.ts';
import { clamp } from '../math/clamp.ts';
import { contourAt } from '../matte/contour.ts';

/** A closed line: x0,y0,x1,y1,… in pixels; the last point joins the first. Counterclockwise (y down: negative area) round a hole. */
export type Outline = Float64Array;

/** Area inside an outline, square pixels; negative for a hole. */
export function areaOf(outline: Outline): number {
  let sum = 0;
  for (let i = 0, j = outline.length - 2; i < outline.length; j = i, i += 2) sum += outline[j] * outline[i + 1] - outline[i] * outline[j + 1];
  return sum / 2;
}

const reversed = (outline: Outline): Outline => Float64Array.from(outline, (_, i) => outline[i % 2 === 0 ? outline.length - 2 - i : outline.length - i]);

/**
 * The outlines where a matte is a half, to a part of a pixel, in matte pixels from its left top corner; those that leave the
 * picture go along its border. Those round less than `leastArea` square pixels are left out.
 */
export function outlinesOf(matte: Gray, leastArea: number): Outline[] {
  const { width, height, data } = matte;
  // A rim of nothing closes what leaves the picture.
  const rimmed = newGray(width + 2, height + 2);
  for (let y = 0; y < height; y++) rimmed.data.set(data.subarray(y * width, (y + 1) * width), (y + 1) * rimmed.width + 1);
  const { segments, mates, count } = contourAt(rimmed, 0.5);
  const seen = new Uint8Array(count);
  const outlines: Outline[] = [];
  for (let s = 0; s < count; s++) {
    if (seen[s]) continue;
    const points: number[] = [];
    let end = 2 * s;
    do {
      seen[end >> 1] = 1;
      points.push(clamp(segments[2 * end] - 1, 0, width), clamp(segments[2 * end + 1] - 1, 0, height));
      end = mates[end ^ 1];
    } while (end >> 1 !== s);
    const outline = Float64Array.from(points);
    const area = areaOf(outline);
    if (Math.abs(area) < leastArea || points.length < 6) continue;
    const hole = !isInside(rimmed, outline, area);
    outlines.push(area > 0 === hole ? reversed(outline) : outline);
  }
  return outlines;
}

/** Whether the matte is more than a half just inside an outline, by most of some places along it. */
function isInside({ width, height, data }: Gray, outline: Outline, area: number): boolean {
  const side = area > 0 ? 1 : -1;
  const n = outline.length / 2;
  let votes = 0;
  for (let k = 0; k < 16; k++) {
    const i = Math.floor((k * n) / 16);
    const j = (i + 1) % n;
    const [x, y] = [outline[2 * i], outline[2 * i + 1]];
    const [dx, dy] = [outline[2 * j] - x, outline[2 * j + 1] - y];
    const length = Math.sqrt(dx * dx + dy * dy);
    if (length === 0) continue;
    // The left of the way is inside where the area is positive (y down). The rim of one pixel is added back.
    const px = Math.floor(x + dx / 2 - (0.75 * side * dy) / length + 1);
    const py = Math.floor(y + dy / 2 + (0.75 * side * dx) / length + 1);
    votes += data[clamp(py, 0, height - 1) * width + clamp(px, 0, width - 1)] > 0.5 ? 1 : -1;
  }
  return votes > 0;
}
