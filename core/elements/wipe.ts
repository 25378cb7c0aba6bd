/** A wipe: what it has passed shows footage, or white, so that it can be the matte of something. */
import { choice, number, type ValuesOf } from '../effects/settings.ts';
import type { Rgba } from '../image/picture.ts';
import { defineFree, type Scene } from './element.ts';
import { circlePassing, going, layPassed, linePassing, type Passing, shapePassing } from './passing.ts';
import { coveringPicture, shownAt, TIMING } from './picture.ts';
import { endOn, endsAt, TWO_ENDS, twoEnds } from './place.ts';

const SETTINGS = {
  ...TWO_ENDS,
  form: choice('Form', 'How it goes over the picture.', {
    line: 'A line from end to end',
    circle: 'A circle round the first end',
    clock: 'Round the first end',
    shape: 'A curve, or an outline, that grows',
  }),
  done: number('Done', 'How far it has come; keyed, it goes over the picture.', '%', [-100, 200, 0.5], 50, [0, 100]),
  softness: number('Softness', 'Over how much it fades.', 'px', [0, 5000, 1], 40, [0, 400]),
  side: choice('Passed', 'Where it shows what it has.', { passed: 'Where it has been', rest: 'Where it has not been' }),
  ...TIMING,
} as const;
type V = ValuesOf<typeof SETTINGS>;

/** How far each pixel lies within what has been passed, pixels; below 0 outside. */
async function passedOf(layer: Rgba, scene: Scene<V>): Promise<Passing> {
  const { values } = scene;
  const [ax, ay] = endOn(scene, 'fromX', 'fromY');
  const [bx, by] = endOn(scene, 'toX', 'toY');
  const [dx, dy] = [bx - ax, by - ay];
  const length = Math.max(1e-3, Math.hypot(dx, dy));
  const done = values.done / 100;
  switch (values.form) {
    case 'line':
      return going(linePassing(ax, ay, dx / length, dy / length), done * length);
    case 'circle':
      return going(circlePassing(ax, ay), done * length);
    case 'clock': {
      const first = Math.atan2(dy, dx);
      return (x, y) => {
        const turned = (Math.atan2(y - ay, x - ax) - first) / (2 * Math.PI);
        const t = turned - Math.floor(turned);
        // As far along its circle as it is from the hand, and no farther than from where it began.
        const round = 2 * Math.PI * Math.hypot(x - ax, y - ay);
        return done <= 0 ? -Infinity : done >= 1 ? Infinity : Math.min((done - t) * round, t * round + (t < done ? 1 : 0));
      };
    }
    case 'shape': {
      const shape = await shapePassing(layer, scene);
      // From nothing within the shape to beyond the picture: by as much as the ends are apart.
      return shape ? going(shape, (done - 0.5) * 2 * length) : () => -Infinity;
    }
  }
}

async function render(layer: Rgba, scene: Scene<V>): Promise<void> {
  const { values, scale, item } = scene;
  const passed = await passedOf(layer, scene);
  const shown = item.footage && shownAt(scene, item.footage.frames);
  if (item.footage && !shown) return;
  const picture = item.footage && shown ? await coveringPicture(scene, item.footage, shown) : null;
  layPassed(layer, passed, picture, Math.max(1, values.softness * scale), values.side === 'rest');
}

export const wipeElement = defineFree({
  id: 'wipe',
  label: 'Wipe',
  about: 'Goes over the picture and shows footage where it has been; without footage, white: the matte of something else.',
  has: 'footage',
  from: { setting: 'form', is: 'shape' },
  shows: 'pictures',
  settings: SETTINGS,
  ends: twoEnds('From', 'To'),
  startsOn: ({ width, height }) => endsAt(0, height / 2, width, height / 2),
  render,
});
