/** A way from what is behind to footage: one after the other, with a while in which both are seen. */
import { choice, number, type ValuesOf } from '../effects/settings.ts';
import { newRgba, type Rgba } from '../image/picture.ts';
import { warpInto } from '../image/warp.ts';
import { clamp, smoothstep } from '../math/clamp.ts';
import { translation } from '../math/homography.ts';
import { shutterTimes } from '../matte/render-matte.ts';
import { defineFree, type Scene } from './element.ts';
import { circlePassing, going, layPassed, linePassing, type Passing, shapePassing } from './passing.ts';
import { coveringPicture, shownAt, TIMING } from './picture.ts';

const { offset: _begins, shows: _shows, frame: _frame, ...PLAYING } = TIMING;

const SETTINGS = {
  way: choice('Way', 'How one picture gives place to the other.', {
    dissolve: 'One fades into the other',
    wipe: 'A line goes over',
    circle: 'A circle opens',
    shape: 'A curve, or an outline, opens',
    push: 'One pushes the other out',
    slide: 'One slides over the other',
  }),
  begins: {
    ...number(
      'Begins',
      'The first frame on which something of the footage is seen; it is on its own first frame there.',
      'fr',
      [-1_000_000, 1_000_000, 1],
      0,
      [0, 200],
    ),
    frames: 'place' as const,
  },
  takes: { ...number('Takes', 'On how many frames both are seen.', 'fr', [0, 1_000_000, 1], 12, [0, 48]), frames: 'span' as const },
  goes: choice('Goes', 'Where it goes to: a line, or what is pushed or slides.', {
    right: 'To the right',
    left: 'To the left',
    down: 'Down',
    up: 'Up',
  }),
  turned: number('Line turned', 'Turns the line that goes over, clockwise.', '°', [-90, 90, 1], 0),
  softness: number('Softness', 'Over how much the edge of a line, a circle or a curve fades.', 'px', [0, 5000, 1], 40, [0, 400]),
  ease: number('Eased', 'How gently it begins and ends: at 0 it goes steadily.', '%', [0, 100, 1], 100),
  shutter: number(
    'Motion blur',
    'How long the shutter is open for what is pushed or slides; 180 is usual for film, 0 is none.',
    '°',
    [0, 720, 5],
    180,
    [0, 360],
  ),
  ...PLAYING,
} as const;
type V = ValuesOf<typeof SETTINGS>;

/** Instants at which an open shutter looks, at most; and how many pixels may lie between two of them. */
const MOST_LOOKS = 24;
const STEP = 1.5;

/** How far the way is gone at a time: 0 before the frame on which it begins, 1 on the first that shows the footage alone. */
export function goneAt({ begins, takes, ease }: Pick<V, 'begins' | 'takes' | 'ease'>, time: number): number {
  const t = clamp((time - begins + 1) / (takes + 1), 0, 1);
  return t + (smoothstep(t) - t) * (ease / 100);
}

const GOES = { right: [1, 0], left: [-1, 0], down: [0, 1], up: [0, -1] } as const;

/** Adds a share of a picture that has moved to a layer. */
function addMoved(layer: Rgba, picture: Rgba, dx: number, dy: number, share: number): void {
  // Beyond its own size nothing of it is seen.
  if (Math.abs(dx) < picture.width && Math.abs(dy) < picture.height) warpInto(layer, picture, translation(-dx, -dy), share);
}

/** What is pushed, or slides over. */
function shift(layer: Rgba, scene: Scene<V>, before: Rgba, after: Rgba): void {
  const { values, time } = scene;
  const [gx, gy] = GOES[values.goes];
  const [w, h] = [layer.width * gx, layer.height * gy];
  const [first, last] = [-1, 1].map((side) => goneAt(values, time + (side * values.shutter) / 720));
  const count = clamp(Math.ceil((Math.abs(last - first) * Math.abs(w + h)) / STEP), 1, MOST_LOOKS);
  const share = 1 / count;
  if (values.way === 'slide') layer.data.set(before.data);
  else layer.data.fill(0);
  // What covers is averaged over the open shutter; what it covers stays where it is not covered.
  const over = values.way === 'slide' ? newRgba(layer.width, layer.height) : layer;
  for (const at of shutterTimes(time, values.shutter, -values.shutter / 2, count)) {
    const gone = goneAt(values, at);
    if (values.way === 'push') addMoved(over, before, w * gone, h * gone, share);
    addMoved(over, after, w * (gone - 1), h * (gone - 1), share);
  }
  if (over !== layer)
    for (let i = 0; i < layer.data.length; i += 4) {
      const rest = 1 - over.data[i + 3];
      for (let k = i; k < i + 4; k++) layer.data[k] = over.data[k] + rest * layer.data[k];
    }
}

/** What goes over the picture, and from the first pixel that it comes to to the last. */
async function passingOf(layer: Rgba, scene: Scene<V>): Promise<{ passing: Passing; first: number; last: number }> {
  const { values } = scene;
  const { width, height } = layer;
  const [cx, cy] = [width / 2, height / 2];
  const far = Math.hypot(cx, cy);
  if (values.way === 'wipe') {
    const [gx, gy] = GOES[values.goes];
    const turn = (values.turned * Math.PI) / 180;
    const [dx, dy] = [gx * Math.cos(turn) - gy * Math.sin(turn), gx * Math.sin(turn) + gy * Math.cos(turn)];
    const half = Math.abs(dx) * cx + Math.abs(dy) * cy;
    return { passing: linePassing(cx, cy, dx, dy), first: -half, last: half };
  }
  const shape = values.way === 'shape' ? await shapePassing(layer, scene) : null;
  if (!shape) return { passing: circlePassing(cx, cy), first: 0, last: far };
  let [most, least] = [-Infinity, Infinity];
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const within = shape(x + 0.5, y + 0.5);
      most = Math.max(most, within);
      least = Math.min(least, within);
    }
  return { passing: shape, first: -most, last: -least };
}

/** Frames before and after a time that an open shutter sees. */
const shutterOf = ({ way, shutter }: V): number => (way === 'push' || way === 'slide' ? shutter / 720 : 0);

const absent = (values: V, time: number): boolean => goneAt(values, time + shutterOf(values)) <= 0;

async function render(layer: Rgba, scene: Scene<V>): Promise<void> {
  const { values, item, behind, scale, time } = scene;
  if (!item.footage || absent(values, time)) return;
  const timed = { ...scene, values: { ...values, offset: values.begins, shows: 'run' as const, frame: 0 } };
  const shown = shownAt(timed, item.footage.frames);
  if (!shown) return;
  const after = await coveringPicture(timed, item.footage, shown);
  const gone = goneAt(values, time);
  if (goneAt(values, time - shutterOf(values)) >= 1) {
    layer.data.set(after.data);
    return;
  }
  if (values.way === 'push' || values.way === 'slide') {
    shift(layer, scene, behind ?? newRgba(layer.width, layer.height), after);
    return;
  }
  if (values.way === 'dissolve') {
    for (let i = 0; i < layer.data.length; i++) layer.data[i] = gone * after.data[i];
    return;
  }
  const soft = Math.max(1, values.softness * scale);
  const { passing, first, last } = await passingOf(layer, scene);
  layPassed(layer, going(passing, first - soft / 2 + gone * (last - first + soft)), after, soft);
}

export const wayElement = defineFree({
  id: 'way',
  label: 'Way to footage',
  about: 'From what is behind it to footage, over a few frames: it fades, is wiped, opened, pushed or slid over.',
  has: 'footage',
  from: { setting: 'way', is: 'shape' },
  shows: 'pictures',
  settings: SETTINGS,
  absent,
  render,
});
