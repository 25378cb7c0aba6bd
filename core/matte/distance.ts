/**
 * Distance from pixels to the outline of a matte. Each pixel remembers its nearest outline segment; segments spread from
 * pixel to pixel in two sweeps (vector propagation; Danielsson 1980, Leymarie and Levine 1992), and every distance is taken
 * to the segment itself, so the outline counts with its place between the pixels.
 */
import type { Gray } from '../image/picture.ts';
import { type Contour, halfLevelContour } from './contour.ts';

/** How many joined segments back the direction of an outline is read where it leaves the picture. */
const LOOK_BACK = 6;

/**
 * Signed distance in pixels to the half level of `matte`, positive inside, clamped to ±`reach`. Where the outline leaves the
 * picture it is taken to go on straight.
 * @param reach how far from the outline distances are needed, pixels, > 0
 */
export function signedDistance(matte: Gray, reach: number): Float32Array {
  const { width, height, data } = matte;
  const contour = halfLevelContour(matte);
  const field = new Float32Array(width * height);
  if (contour.count === 0) {
    for (let i = 0; i < field.length; i++) field[i] = data[i] > 0.5 ? reach : -reach;
    return field;
  }
  const segments = extendOpenEnds(contour, reach);
  field.fill(reach * reach);
  spread(field, width, height, segments, contour.count, reach);
  for (let i = 0; i < field.length; i++) {
    const d = Math.sqrt(field[i]);
    field[i] = data[i] > 0.5 ? d : -d;
  }
  return field;
}

/** A copy of the segments in which those that end at the border of the picture go on `reach` pixels. */
function extendOpenEnds({ segments, mates, count }: Contour, reach: number): Float32Array {
  const out = segments.slice();
  for (let end = 0; end < 2 * count; end++) {
    if (mates[end] >= 0) continue;
    let far = end ^ 1;
    for (let k = 0; k < LOOK_BACK && mates[far] >= 0; k++) far = mates[far] ^ 1;
    const dx = segments[2 * end] - segments[2 * far];
    const dy = segments[2 * end + 1] - segments[2 * far + 1];
    const length = Math.sqrt(dx * dx + dy * dy);
    if (length < 1e-6) continue;
    out[2 * end] += (dx / length) * reach;
    out[2 * end + 1] += (dy / length) * reach;
  }
  return out;
}

/** Fills `field` with squared distances below reach². */
function spread(field: Float32Array, width: number, height: number, segments: Float32Array, count: number, reach: number): void {
  const nearest = new Int32Array(width * height).fill(-1);
  // Unit directions and lengths, so that one distance is a few products.
  const unit = new Float32Array(count * 3);
  let top = height;
  let bottom = -1;
  let left = width;
  let right = -1;

  const offer = (x: number, y: number, s: number): void => {
    const at = y * width + x;
    const px = x + 0.5 - segments[4 * s];
    const py = y + 0.5 - segments[4 * s + 1];
    const ux = unit[3 * s];
    const uy = unit[3 * s + 1];
    let along = px * ux + py * uy;
    if (along < 0) along = 0;
    else if (along > unit[3 * s + 2]) along = unit[3 * s + 2];
    const ex = px - along * ux;
    const ey = py - along * uy;
    const d = ex * ex + ey * ey;
    if (d < field[at]) {
      field[at] = d;
      nearest[at] = s;
    }
  };

  for (let s = 0; s < count; s++) {
    const dx = segments[4 * s + 2] - segments[4 * s];
    const dy = segments[4 * s + 3] - segments[4 * s + 1];
    const length = Math.sqrt(dx * dx + dy * dy);
    unit[3 * s] = length > 0 ? dx / length : 1;
    unit[3 * s + 1] = length > 0 ? dy / length : 0;
    unit[3 * s + 2] = length;
    const x0 = Math.max(0, Math.floor(Math.min(segments[4 * s], segments[4 * s + 2]) - 0.5));
    const x1 = Math.min(width - 1, Math.ceil(Math.max(segments[4 * s], segments[4 * s + 2]) - 0.5));
    const y0 = Math.max(0, Math.floor(Math.min(segments[4 * s + 1], segments[4 * s + 3]) - 0.5));
    const y1 = Math.min(height - 1, Math.ceil(Math.max(segments[4 * s + 1], segments[4 * s + 3]) - 0.5));
    for (let y = y0; y <= y1; y++) for (let x = x0; x <= x1; x++) offer(x, y, s);
    left = Math.min(left, x0);
    right = Math.max(right, x1);
    top = Math.min(top, y0);
    bottom = Math.max(bottom, y1);
  }
  const margin = Math.ceil(reach) + 1;
  left = Math.max(0, left - margin);
  right = Math.min(width - 1, right + margin);
  top = Math.max(0, top - margin);
  bottom = Math.min(height - 1, bottom + margin);

  for (const down of [true, false]) {
    const step = down ? 1 : -1;
    for (let y = down ? top : bottom; down ? y <= bottom : y >= top; y += step) {
      const row = y * width;
      const before = row - step * width;
      const hasBefore = down ? y > top : y < bottom;
      if (hasBefore) {
        for (let x = left; x <= right; x++) {
          let last = nearest[row + x];
          for (let k = -1; k <= 1; k++) {
            if (x + k < left || x + k > right) continue;
            const s = nearest[before + x + k];
            if (s >= 0 && s !== last) {
              offer(x, y, s);
              last = s;
            }
          }
        }
      }
      for (let x = left + 1; x <= right; x++) {
        const s = nearest[row + x - 1];
        if (s >= 0 && s !== nearest[row + x]) offer(x, y, s);
      }
      for (let x = right - 1; x >= left; x--) {
        const s = nearest[row + x + 1];
        if (s >= 0 && s !== nearest[row + x]) offer(x, y, s);
      }
    }
  }
}
