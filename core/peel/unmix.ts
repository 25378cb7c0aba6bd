/**
 * Alpha by unmixing: how far a pixel's colour lies on the way from the mean colour of the surroundings near it to that of the subject
 * (the compositing equation solved for alpha, as in Y. Chuang, B. Curless, D. Salesin, R. Szeliski, "A Bayesian Approach to Digital
 * Matting", CVPR 2001, with one colour a side). It counts as far as the two colours are further apart than each side varies.
 */
import type { Box, Size } from '../image/picture.ts';
import { boxMean } from './box-mean.ts';
import { boxRound, cropLab, cropMask } from './crop.ts';
import { HALF, halved } from './halved.ts';
import type { LabPicture } from './lab.ts';
import { maskDistance } from './signed-distance.ts';

interface Reach {
  /** Pixels from the edge beyond which all is one side's: within the subject, and outside. */
  inside: number;
  outside: number;
  /** Radius of the squares in which a side's colours are taken. */
  radius: number;
  /** How much each side varies, against how far they are apart: up to `sure` it counts wholly, from `unsure` on not at all. */
  sure: number;
  unsure: number;
}

/** On every edge: close to it, and only where the colours tell for certain. */
const CRISP: Reach = { inside: 3, outside: 4, radius: 10, sure: 0.05, unsure: 0.1 };
/** Where the artist says that the edge is soft: hair, fur, blur. */
const SOFT: Reach = { inside: 5, outside: 20, radius: 26, sure: 0.2, unsure: 0.4 };
/** Share of a square that must be a side's. */
const LEAST = 1e-3;
/** Pixels over which the soft zone goes over into what is round it. */
const BLEND = 3;

interface Side {
  means: Float32Array[];
  /** How much the colours vary, summed over the channels. */
  variance: Float32Array;
  weight: Float32Array;
}

function sideOf(distance: Float32Array, side: 1 | -1, beyond: number, radius: number, channels: Float32Array[], { width, height }: Size): Side {
  const n = distance.length;
  const counts = new Float32Array(n);
  for (let i = 0; i < n; i++) if (side * distance[i] > beyond) counts[i] = 1;
  const weight = boxMean(counts, width, height, radius);
  const squares = new Float32Array(n);
  const means = channels.map((channel) => {
    const own = new Float32Array(n);
    for (let i = 0; i < n; i++) {
      const v = channel[i];
      own[i] = counts[i] * v;
      squares[i] += counts[i] * v * v;
    }
    const mean = boxMean(own, width, height, radius);
    for (let i = 0; i < n; i++) mean[i] /= Math.max(LEAST, weight[i]);
    return mean;
  });
  const variance = boxMean(squares, width, height, radius);
  const [l, a, b] = means;
  for (let i = 0; i < n; i++) variance[i] = Math.max(0, variance[i] / Math.max(LEAST, weight[i]) - l[i] * l[i] - a[i] * a[i] - b[i] * b[i]);
  return { means, variance, weight };
}

/** Unmixes alpha in a box, in place, where `share` (or all where null) says how much it counts. */
function unmixIn(alpha: Float32Array, mask: Uint8Array, picture: LabPicture, box: Box, reach: Reach, share: Float32Array | null): void {
  const stride = picture.width;
  const { lab, width, height } = cropLab(picture, box);
  const small = { width: Math.floor(width / HALF), height: Math.floor(height / HALF) };
  if (small.width === 0 || small.height === 0) return;
  const distance = maskDistance(cropMask(mask, stride, box), width, height, Math.max(reach.inside, reach.outside) + 2);
  // The colours of a side change slowly: half the size will do.
  const channels = [0, 1, 2].map((c) => halved(lab, box, 3, c));
  const coarse = halved(distance, box);
  const radius = Math.round(reach.radius / HALF);
  const subject = sideOf(coarse, 1, reach.inside, radius, channels, small);
  const ground = sideOf(coarse, -1, reach.outside, radius, channels, small);
  for (let y = 0; y < height; y++) {
    const row = Math.min(small.height - 1, (y / HALF) | 0) * small.width;
    for (let x = 0; x < width; x++) {
      const i = y * width + x;
      const d = distance[i];
      if (d > reach.inside || d < -reach.outside) continue;
      const k = row + Math.min(small.width - 1, (x / HALF) | 0);
      if (subject.weight[k] <= LEAST || ground.weight[k] <= LEAST) continue;
      let along = 0;
      let apart = 0;
      for (let c = 0; c < 3; c++) {
        const b = ground.means[c][k];
        const way = subject.means[c][k] - b;
        along += (lab[3 * i + c] - b) * way;
        apart += way * way;
      }
      if (apart === 0) continue;
      const varies = Math.sqrt((subject.variance[k] + ground.variance[k]) / 3 / apart);
      const trust = Math.max(0, Math.min(1, (reach.unsure - varies) / (reach.unsure - reach.sure))) * (share ? share[i] : 1);
      const at = (y + box.top) * stride + x + box.left;
      alpha[at] += (Math.max(0, Math.min(1, along / apart)) - alpha[at]) * trust;
    }
  }
}

/** Alpha of a subject's edge, in place, wherever its colours and those beside it tell it for certain. */
export function unmixEdge(alpha: Float32Array, mask: Uint8Array, picture: LabPicture): void {
  const box = boxRound(mask, picture.width, picture.height, CRISP.outside + CRISP.radius + 2);
  if (box) unmixIn(alpha, mask, picture, box, CRISP, null);
}

/** Alpha in the soft zone, in place, as far as the colours tell it; round the zone it goes over into what is there. */
export function unmixZone(alpha: Float32Array, mask: Uint8Array, zone: Uint8Array, picture: LabPicture): void {
  const box = boxRound(zone, picture.width, picture.height, SOFT.outside + SOFT.radius);
  if (!box) return;
  const share = boxMean(new Float32Array(cropMask(zone, picture.width, box)), box.width, box.height, BLEND);
  unmixIn(alpha, mask, picture, box, SOFT, share);
}
