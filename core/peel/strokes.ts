/** Strokes of the artist, and the pixels they cover. */

export interface PaintedStroke {
  kind: 'keep' | 'drop';
  /** x, y of its points in plate pixels; one point is a dot. */
  points: readonly number[];
  /** Radius of the brush, plate pixels, > 0. */
  radius: number;
}

export const NOT_PAINTED = 0;
export const KEEP = 1;
export const DROP = 2;

/**
 * What is painted at each pixel of a picture of the plate at `scaleX`, `scaleY`: a later stroke covers an earlier one. Every
 * stroke that touches the picture covers at least the pixel it passes through.
 */
export function paintStrokes(strokes: readonly PaintedStroke[], width: number, height: number, scaleX: number, scaleY: number): Uint8Array {
  const seeds = new Uint8Array(width * height);
  for (const { kind, points, radius } of strokes) {
    const value = kind === 'keep' ? KEEP : DROP;
    const r = Math.max(0.71, (radius * (scaleX + scaleY)) / 2);
    for (let k = 0; k + 1 < points.length; k += 2) {
      const next = Math.min(k + 2, points.length - 2);
      paintLine(seeds, width, height, points[k] * scaleX, points[k + 1] * scaleY, points[next] * scaleX, points[next + 1] * scaleY, r, value);
    }
  }
  return seeds;
}

function paintLine(seeds: Uint8Array, width: number, height: number, ax: number, ay: number, bx: number, by: number, r: number, value: number): void {
  const [dx, dy] = [bx - ax, by - ay];
  const length = dx * dx + dy * dy;
  const left = Math.max(0, Math.floor(Math.min(ax, bx) - r));
  const right = Math.min(width - 1, Math.floor(Math.max(ax, bx) + r));
  const bottom = Math.min(height - 1, Math.floor(Math.max(ay, by) + r));
  for (let y = Math.max(0, Math.floor(Math.min(ay, by) - r)); y <= bottom; y++)
    for (let x = left; x <= right; x++) {
      const [px, py] = [x + 0.5 - ax, y + 0.5 - ay];
      const t = length > 0 ? Math.max(0, Math.min(1, (px * dx + py * dy) / length)) : 0;
      if ((px - t * dx) ** 2 + (py - t * dy) ** 2 <= r * r) seeds[y * width + x] = value;
    }
}
