/** What is seen between two frames of footage. */
import { type Gray, lumaAt, newGray, type Rgba } from '../image/picture.ts';
import { clamp } from '../math/clamp.ts';
import { type Flow, flowBetween, pyramidOf } from '../peel/motion/optical-flow.ts';
import { halved } from '../peel/picture/halved.ts';

/** Sides up to which motion is looked for at full size; larger pictures are halved first. */
const FLOW_SIDE = 640;

function lumaOf({ width, height, data }: Rgba): Gray {
  const out = newGray(width, height);
  for (let p = 0, i = 0; p < out.data.length; p++, i += 4) out.data[p] = 255 * lumaAt(data, i);
  return out;
}

/** The motion from one picture to another, at a size at which it is quickly found, and how many times smaller that is. */
export function motionBetweenPictures(a: Rgba, b: Rgba): { flow: Flow; factor: number } {
  let [first, second] = [lumaOf(a), lumaOf(b)];
  let factor = 1;
  const smaller = (g: Gray): Gray => ({ width: g.width >> 1, height: g.height >> 1, data: halved(g.data, g) });
  while (Math.max(first.width, first.height) > FLOW_SIDE) {
    [first, second] = [smaller(first), smaller(second)];
    factor *= 2;
  }
  return { flow: flowBetween(pyramidOf(first), pyramidOf(second)), factor };
}

/** Adds `times` what lies at a place (pixels from the outer corner) of so many channels, bilinear, its sides held. */
function addFrom(
  { width, height, data }: Flow | Rgba,
  channels: 2 | 4,
  x: number,
  y: number,
  times: number,
  out: Float32Array | Float64Array,
  o: number,
): void {
  const u = clamp(x - 0.5, 0, width - 1);
  const v = clamp(y - 0.5, 0, height - 1);
  const [x0, y0] = [Math.floor(u), Math.floor(v)];
  const [x1, y1] = [Math.min(width - 1, x0 + 1), Math.min(height - 1, y0 + 1)];
  const [fx, fy] = [u - x0, v - y0];
  const [upper, lower] = [y0 * width, y1 * width];
  const [a, b, c, d] = [(upper + x0) * channels, (upper + x1) * channels, (lower + x0) * channels, (lower + x1) * channels];
  for (let k = 0; k < channels; k++) {
    const top = data[a + k] * (1 - fx) + data[b + k] * fx;
    const bottom = data[c + k] * (1 - fx) + data[d + k] * fx;
    out[o + k] += times * (top * (1 - fy) + bottom * fy);
  }
}

/**
 * The picture at a share in (0,1) of the way from one frame to the next, both of one size, in memory of its own: one mixed into the other,
 * or both moved along the motion between them and mixed (S. Baker et al., "A database and evaluation methodology for optical flow", IJCV
 * 2011, 3.3).
 */
export function betweenFrames(a: Rgba, b: Rgba, share: number, how: 'mixed' | 'flow'): Rgba {
  const { width, height } = a;
  const out: Rgba = { width, height, data: new Float32Array(a.data.length) };
  const { data } = out;
  if (how === 'mixed') {
    for (let i = 0; i < data.length; i++) data[i] = a.data[i] + (b.data[i] - a.data[i]) * share;
    return out;
  }
  const { flow, factor } = motionBetweenPictures(a, b);
  const motion = new Float64Array(2);
  /** The motion at a place of the picture. */
  const look = (x: number, y: number): void => {
    motion.fill(0);
    addFrom(flow, 2, x / factor, y / factor, factor, motion, 0);
  };
  for (let y = 0, o = 0; y < height; y++)
    for (let x = 0; x < width; x++, o += 4) {
      const [px, py] = [x + 0.5, y + 0.5];
      // What is here now was there then: its motion is that of where it came from.
      look(px, py);
      look(px - share * motion[0], py - share * motion[1]);
      addFrom(a, 4, px - share * motion[0], py - share * motion[1], 1 - share, data, o);
      addFrom(b, 4, px + (1 - share) * motion[0], py + (1 - share) * motion[1], share, data, o);
    }
  return out;
}
