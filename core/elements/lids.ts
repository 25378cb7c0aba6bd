/** Two lids that close over a place and open again, timed against how long they live. */
import { angle, choice, number, stops, type ValuesOf } from '../effects/settings.ts';
import type { Rgba } from '../image/picture.ts';
import { coloursOf } from '../image/stops.ts';
import { clamp, smoothstep } from '../math/clamp.ts';
import { STEPS } from '../math/curve.ts';
import { inverseOf, scaleAt } from '../math/homography.ts';
import { definePlaced, type PlacedScene } from './element.ts';
import { coverage, overOwnPlaces } from './paint.ts';

const SETTINGS = {
  width: number('Width', 'Of what they cover.', 'px', [0, 20_000, 1], 240, [0, 1920]),
  height: number('Height', 'Of what they cover.', 'px', [0, 20_000, 1], 240, [0, 1080]),
  form: choice('Form', 'What they cover.', { rectangle: 'A rectangle', oval: 'An oval' }),
  moves: choice('Moves', 'What they do while they live.', {
    blink: 'Close and open',
    close: 'Close only',
    open: 'Open only',
  }),
  begins: number('Begins', 'When they begin to move, of the frames on which they live.', '%', [0, 100, 0.5], 20),
  closing: number('Closing', 'How long they take to close, of those frames.', '%', [0, 100, 0.5], 12),
  closed: number('Stays closed', 'How long they stay closed.', '%', [0, 100, 0.5], 4),
  opening: number('Opening', 'How long they take to open.', '%', [0, 100, 0.5], 16),
  times: number('Times', 'How often they do that, one after the other.', '', [1, 100, 1], 1, [1, 10]),
  pause: number('Pause', 'How long they wait before they do it again.', '%', [0, 100, 0.5], 10),
  far: number('How far', 'How far they close: 100 is all the way.', '%', [0, 100, 1], 100),
  share: number('Upper lid', 'How much of the way the upper one goes; the lower one goes the rest.', '%', [0, 100, 1], 70),
  lean: angle('Angle', 'How far they are turned against what they cover.'),
  bow: number('Bow', 'How far their edges are bowed, as an eyelid is.', '%', [-100, 100, 1], 25),
  softness: number('Softness', 'How far their edges fade.', 'px', [0, 500, 0.5], 2, [0, 40]),
  colours: stops(
    'Colours',
    'Of each lid, from its outer side on the left to its edge on the right.',
    [0, 0.1, 0.12, 0.16, 1, 0.7, 0.34, 0.28, 0.26, 1, 1, 0.62, 0.48, 0.38, 1],
  ),
} as const;
type V = ValuesOf<typeof SETTINGS>;

/**
 * How far lids are closed, [0,1], at a share of their life: eased both ways. What does not fit into their life is cut off.
 */
function closedAt(v: Pick<V, 'moves' | 'begins' | 'closing' | 'closed' | 'opening' | 'times' | 'pause' | 'far'>, share: number): number {
  const [closing, closed, opening, pause] = [v.closing, v.closed, v.opening, v.pause].map((p) => p / 100);
  const since = share - v.begins / 100;
  const far = v.far / 100;
  const eased = (t: number) => smoothstep(clamp(t, 0, 1));
  if (v.moves === 'close') return since < 0 ? 0 : far * eased(closing > 0 ? since / closing : 1);
  if (v.moves === 'open') return since < 0 ? far : far * (1 - eased(opening > 0 ? since / opening : 1));
  const round = closing + closed + opening + pause;
  const times = Math.round(v.times);
  if (since < 0 || round <= 0 || since >= times * round) return 0;
  const t = since % round;
  if (t < closing) return far * eased(t / closing);
  if (t < closing + closed) return far;
  return far * (1 - eased(opening > 0 ? (t - closing - closed) / opening : 1));
}

/** How far a time lies in the life of something: from 0 on its first frame to 1 after its last; of several lives, in that which counts. */
function shareOfLife(lives: readonly { first: number; last: number }[], frames: number, time: number): number {
  const life = lives.find((r) => time >= r.first && time < r.last + 1) ?? { first: 0, last: frames - 1 };
  return (time - life.first) / Math.max(1, life.last - life.first);
}

async function render(layer: Rgba, { values: v, box, motion, document, item, time }: PlacedScene<V>): Promise<void> {
  const back = inverseOf(motion);
  const closed = closedAt(v, shareOfLife(item.lives, document.plate.frames, time));
  if (!back || closed <= 0) return;
  const table = coloursOf(v.colours);
  const [halfWidth, halfHeight] = [box.width / 2, box.height / 2];
  const turn = (v.lean * Math.PI) / 180;
  const [c, s] = [Math.cos(turn), Math.sin(turn)];
  // As far as the lids have to go to cover what is turned against them.
  const tall = Math.abs(c) * halfHeight + Math.abs(s) * halfWidth;
  const wide = Math.abs(c) * halfWidth + Math.abs(s) * halfHeight;
  // Where they meet when they are closed: the upper one has gone its share of the way.
  const meet = -tall + 2 * tall * (v.share / 100);
  const grows = 1 / Math.max(1e-6, scaleAt(back, layer.width / 2, layer.height / 2));
  overOwnPlaces(layer, motion, box, (u, q, o) => {
    const within =
      v.form === 'oval'
        ? (Math.hypot(u / halfWidth, q / halfHeight) - 1) * Math.min(halfWidth, halfHeight)
        : Math.max(Math.abs(u) - halfWidth, Math.abs(q) - halfHeight);
    const inside = coverage(within * grows, 0);
    if (inside <= 0) return;
    const across = c * u + s * q;
    const along = c * q - s * u;
    const bow = (v.bow / 100) * tall * (1 - closed) * (1 - (across / wide) ** 2);
    // Edges of the lids here: bowed while they are open, straight when they meet.
    const upper = -tall + (meet + tall) * closed - bow;
    const lower = tall - (tall - meet) * closed + bow;
    // How far beyond its edge a place lies: below 0 on a lid. Closed all the way they leave no line between them.
    const shut = closed >= 1 ? 1 : 0;
    const one = coverage((along - upper - shut) * grows, v.softness * grows);
    const other = coverage((lower - along - shut) * grows, v.softness * grows);
    const alpha = inside * (1 - (1 - one) * (1 - other));
    if (alpha <= 0) return;
    const place = one >= other ? (along + tall) / Math.max(1e-6, upper + tall) : (tall - along) / Math.max(1e-6, tall - lower);
    const t = 4 * Math.round(clamp(place, 0, 1) * STEPS);
    for (let k = 0; k < 4; k++) layer.data[o + k] = table[t + k] * alpha;
  });
}

export const lidsElement = definePlaced({
  id: 'lids',
  label: 'Lids',
  about: 'Two lids that close over something and open again, timed in proportion to how long they are there.',
  has: null,
  settings: SETTINGS,
  async boxOf({ values: { width, height } }) {
    return width > 0 && height > 0 ? { width, height } : null;
  },
  render,
});
