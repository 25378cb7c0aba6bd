/** A made-up artist who strokes like a hasty person: a few lines inside, a few outside, then where it is worst. */
import { boxRound } from '../../core/peel/picture/crop.ts';
import type { PaintedStroke } from '../../core/peel/strokes/strokes.ts';
import { exactMask } from './measures.ts';

/** City-block distance to the nearest pixel where `inside` is 0, or to the border. */
function depths(inside: Uint8Array, width: number, height: number): Int32Array {
  const d = Int32Array.from(inside, (v) => (v ? 1e6 : 0));
  // What is not inside has none, so the box round what is will do.
  const box = boxRound(inside, width, height, 0);
  if (!box) return d;
  const [right, bottom] = [box.left + box.width, box.top + box.height];
  for (let y = box.top; y < bottom; y++)
    for (let x = box.left; x < right; x++) {
      const i = y * width + x;
      if (d[i] > 0) d[i] = Math.min(d[i], (x > 0 ? d[i - 1] : 0) + 1, (y > 0 ? d[i - width] : 0) + 1);
    }
  for (let y = bottom - 1; y >= box.top; y--)
    for (let x = right - 1; x >= box.left; x--) {
      const i = y * width + x;
      if (d[i] > 0) d[i] = Math.min(d[i], (x < width - 1 ? d[i + 1] : 0) + 1, (y < height - 1 ? d[i + width] : 0) + 1);
    }
  return d;
}

/** A line from the deepest place towards wherever it stays deep, at most `length` pixels. */
function lineInside(inside: Uint8Array, width: number, height: number, length: number): { points: number[]; depth: number } {
  const d = depths(inside, width, height);
  let best = 0;
  for (let i = 1; i < d.length; i++) if (d[i] > d[best]) best = i;
  const [x, y] = [best % width, Math.floor(best / width)];
  const depth = d[best];
  let end: [number, number] = [x, y];
  let most = 0;
  for (let k = 0; k < 32; k++) {
    const a = (k / 32) * 2 * Math.PI;
    let reach = 0;
    for (let r = 1; r <= length; r++) {
      const [u, v] = [Math.round(x + r * Math.cos(a)), Math.round(y + r * Math.sin(a))];
      if (u < 0 || v < 0 || u >= width || v >= height || d[v * width + u] < Math.max(2, depth * 0.4)) break;
      reach = r;
    }
    if (reach > most) {
      most = reach;
      end = [x + reach * Math.cos(a), y + reach * Math.sin(a)];
    }
  }
  return { points: [x + 0.5, y + 0.5, end[0] + 0.5, end[1] + 0.5], depth };
}

/** Two keep lines inside the subject and four drop lines a little way off around it. */
export function firstStrokes(truth: Uint8Array, width: number, height: number): PaintedStroke[] {
  const strokes: PaintedStroke[] = [];
  const left = exactMask(truth);
  let [x0, y0, x1, y1] = [width, height, 0, 0];
  for (let i = 0; i < left.length; i++) {
    if (!left[i]) continue;
    const [x, y] = [i % width, Math.floor(i / width)];
    [x0, y0, x1, y1] = [Math.min(x0, x), Math.min(y0, y), Math.max(x1, x), Math.max(y1, y)];
  }
  for (let k = 0; k < 2; k++) {
    const { points, depth } = lineInside(left, width, height, 80);
    strokes.push({ kind: 'keep', points, radius: Math.max(1, Math.min(4, depth * 0.5)) });
    // The next one goes elsewhere.
    for (let t = 0; t <= 1; t += 0.05) blot(left, width, height, points[0] + t * (points[2] - points[0]), points[1] + t * (points[3] - points[1]), depth + 10);
  }
  const m = 18;
  const [a, b, c, d] = [Math.max(4, x0 - m), Math.max(4, y0 - m), Math.min(width - 4, x1 + m), Math.min(height - 4, y1 + m)];
  for (const points of [
    [a, b, c, b],
    [a, d, c, d],
    [a, b, a, d],
    [c, b, c, d],
  ])
    if (!crosses(points, truth, width)) strokes.push({ kind: 'drop', points, radius: 3 });
  return strokes;
}

function crosses(points: number[], truth: Uint8Array, width: number): boolean {
  for (let t = 0; t <= 1; t += 0.002) {
    const x = Math.floor(points[0] + t * (points[2] - points[0]));
    const y = Math.floor(points[1] + t * (points[3] - points[1]));
    for (let v = -5; v <= 5; v++) for (let u = -5; u <= 5; u++) if (truth[(y + v) * width + x + u] > 10) return true;
  }
  return false;
}

function blot(mask: Uint8Array, width: number, height: number, x: number, y: number, r: number): void {
  for (let v = Math.max(0, Math.floor(y - r)); v < Math.min(height, y + r); v++)
    for (let u = Math.max(0, Math.floor(x - r)); u < Math.min(width, x + r); u++) mask[v * width + u] = 0;
}

/** One more stroke where the result is wrong the deepest; null where it is nowhere deep. */
export function nextStroke(mask: Uint8Array, truth: Uint8Array, width: number, height: number): PaintedStroke | null {
  let best: (PaintedStroke & { depth: number }) | null = null;
  for (const kind of ['keep', 'drop'] as const) {
    const wrong = mask.map((m, i) => (kind === 'keep' ? (truth[i] > 200 && !m ? 1 : 0) : truth[i] < 55 && m ? 1 : 0));
    const { points, depth } = lineInside(wrong, width, height, 60);
    if (depth >= 2 && depth < 1e6 && (!best || depth > best.depth)) best = { kind, points, depth, radius: Math.max(0.8, Math.min(4, depth * 0.5)) };
  }
  return best && { kind: best.kind, points: best.points, radius: best.radius };
}
