/** Placing the selected element by hand: moved, scaled and turned, or by its four corners; and the place of an effect. */
import { Frame } from 'lucide-react';
import { nameOf } from '~/core/compose/lane-items.ts';
import type { Edit } from '~/core/document/edits.ts';
import type { LaneItem } from '~/core/document/schema.ts';
import { ledMotion } from '~/core/elements/place.ts';
import { clamp } from '~/core/math/clamp.ts';
import { applyTo, inverseOf } from '~/core/math/homography.ts';
import type { Animated } from '~/core/time/animated.ts';
import { LISTS, NUMBERS } from '~/core/time/reach.ts';
import { valueEdit } from '../edits/path-edits.ts';
import type { Stand } from '../state/view-store.ts';
import { cornersOf, turnHandleOf } from './stand-corners.ts';
import { arrowOf, HIT, keyName, reachOf, type Tool, type ToolContext, type ToolDescription, type ToolPointer } from './tool.ts';

type Grip = { kind: 'move' } | { kind: 'scale' } | { kind: 'turn' } | { kind: 'corner'; index: number };
interface Drag {
  grip: Grip;
  item: LaneItem;
  from: ToolPointer;
}

/** The steps that a turn takes with Shift held, degrees. */
const STEP = 15;

const selectedItem = ({ shot }: Pick<ToolContext, 'shot'>): LaneItem | undefined => shot.history.settled.lanes.find((l) => l.id === shot.selected);

const cornersOfItem = (item: LaneItem) => (item.type === 'element' ? item.corners : null);

/** Whether a place lies within a polygon. */
function within(corners: readonly [number, number][], x: number, y: number): boolean {
  let inside = false;
  for (let i = 0, j = corners.length - 1; i < corners.length; j = i++) {
    const [[ax, ay], [bx, by]] = [corners[i], corners[j]];
    if (ay > y !== by > y && x < ax + ((y - ay) / (by - ay)) * (bx - ax)) inside = !inside;
  }
  return inside;
}

function gripUnder(p: ToolPointer, stand: Stand, item: LaneItem, perPixel: number): Grip | null {
  const near = ([x, y]: [number, number]) => Math.hypot(x - p.x, y - p.y) < HIT * perPixel;
  const corners = cornersOf(stand);
  const index = corners.findIndex(near);
  if (index >= 0) return stand.box.width === 0 ? { kind: 'move' } : cornersOfItem(item) ? { kind: 'corner', index } : { kind: 'scale' };
  if (stand.box.width > 0 && !cornersOfItem(item) && near(turnHandleOf(stand, perPixel))) return { kind: 'turn' };
  return within(corners, p.x, p.y) ? { kind: 'move' } : null;
}

/** A place of the plate on this frame as it was on the frame from which the element follows its track. */
function beforeFollowing(item: LaneItem, { shot, view }: ToolContext, x: number, y: number): [number, number] {
  const motion = ledMotion(shot.history.settled, item, view.frame);
  const back = motion && inverseOf(motion);
  return back ? applyTo(back, x, y) : [x, y];
}

const settingOf = (item: LaneItem, key: string, start: number): Animated<number> => (item.settings[key] as Animated<number> | undefined) ?? { constant: start };

function numberEdit(item: LaneItem, key: string, start: number, change: (now: number) => number, c: ToolContext): Edit {
  const value = settingOf(item, key, start);
  const { frame } = c.view;
  const next = Math.round(change(NUMBERS.at(value, frame)) * 100) / 100;
  return valueEdit(item.id, `settings.${key}`, value, { frame, value: next, reach: c.shot.reach, context: reachOf(c) }, NUMBERS);
}

/** Edits that move an element by so much, before it follows anything; of its corners all, or one. */
function moveEdits(item: LaneItem, dx: number, dy: number, c: ToolContext, corner?: number): Edit[] {
  const corners = cornersOfItem(item);
  if (!corners) return [numberEdit(item, 'x', 0, (x) => x + dx, c), numberEdit(item, 'y', 0, (y) => y + dy, c)];
  const { frame } = c.view;
  const moved = LISTS.at(corners, frame).map((v, i) => (corner === undefined || i >> 1 === corner ? Math.round((v + (i % 2 === 0 ? dx : dy)) * 100) / 100 : v));
  return [valueEdit(item.id, 'corners', corners, { frame, value: moved, reach: c.shot.reach, context: reachOf(c) }, LISTS)];
}

function dragEdits({ grip, item, from }: Drag, p: ToolPointer, c: ToolContext): Edit[] {
  const [x0, y0] = beforeFollowing(item, c, from.x, from.y);
  const [x1, y1] = beforeFollowing(item, c, p.x, p.y);
  if (grip.kind === 'move' || grip.kind === 'corner') {
    let [dx, dy] = [x1 - x0, y1 - y0];
    if (p.shift && Math.abs(dx) > Math.abs(dy)) dy = 0;
    else if (p.shift) dx = 0;
    return moveEdits(item, dx, dy, c, grip.kind === 'corner' ? grip.index : undefined);
  }
  const { frame } = c.view;
  const [mx, my] = ['x', 'y'].map((key) => NUMBERS.at(settingOf(item, key, 0), frame));
  if (grip.kind === 'scale') {
    const grows = Math.hypot(x1 - mx, y1 - my) / Math.max(1e-6, Math.hypot(x0 - mx, y0 - my));
    return [numberEdit(item, 'scale', 100, (scale) => clamp(scale * grows, 1, 10_000), c)];
  }
  const turned = ((Math.atan2(y1 - my, x1 - mx) - Math.atan2(y0 - my, x0 - mx)) * 180) / Math.PI;
  // The short way round, so that passing the left side does not turn it back by a whole turn.
  const by = ((turned + 540) % 360) - 180;
  return [numberEdit(item, 'turn', 0, (turn) => (p.shift ? Math.round((turn + by) / STEP) * STEP : turn + by), c)];
}

const DONE: Record<Grip['kind'], string> = { move: 'Move', scale: 'Scale', turn: 'Turn', corner: 'Move corner' };

export class PlaceTool implements Tool {
  private drag: Drag | null = null;
  private nudged = false;

  down(p: ToolPointer, c: ToolContext): void {
    c.view.play(0);
    const item = selectedItem(c);
    const { stand } = c.view;
    if (!item || stand?.id !== item.id) return;
    const grip = gripUnder(p, stand, item, c.perPixel);
    this.drag = grip && { grip, item, from: p };
  }

  move(p: ToolPointer, c: ToolContext): void {
    const { drag } = this;
    if (!drag) return;
    // A press that trembles is not a drag.
    if (!c.shot.draft && Math.hypot(p.x - drag.from.x, p.y - drag.from.y) < 2 * c.perPixel) return;
    c.shot.setDraft(dragEdits(drag, p, c));
  }

  up(_p: ToolPointer, c: ToolContext): void {
    const { drag } = this;
    this.drag = null;
    if (drag && c.shot.draft) c.shot.commit(DONE[drag.grip.kind]);
  }

  cancel(c: ToolContext): void {
    this.drag = null;
    this.nudged = false;
    c.shot.setDraft(null);
  }

  key(event: KeyboardEvent, c: ToolContext): boolean {
    const item = selectedItem(c);
    const arrow = arrowOf(event);
    if (arrow && item && c.view.stand?.id === item.id) {
      const now = c.shot.document.lanes.find((l) => l.id === item.id);
      if (now) c.shot.setDraft(moveEdits(now, arrow.x, arrow.y, c));
      this.nudged = true;
      return true;
    }
    const key = keyName(event);
    if ((key === 'Delete' || key === 'Backspace') && item) {
      c.shot.commit(`Delete ${item.type}`, [{ kind: 'remove', id: item.id }]);
      return true;
    }
    if (key === 'Escape') {
      if (item) c.shot.select(null);
      else c.view.setTool('edit');
      return true;
    }
    return false;
  }

  keyUp(c: ToolContext): void {
    if (this.nudged && c.shot.draft) c.shot.commit('Nudge');
    this.nudged = false;
  }

  hint(c: ToolContext): string {
    const item = selectedItem(c);
    if (!item) return 'Select an element in the lanes to place it; + in a lane adds one.';
    const name = nameOf(item);
    if (c.view.stand?.id !== item.id) return `${name} has no place of its own, or there is nothing of it to see on this frame.`;
    if (c.view.stand.box.width === 0) return `${name}: drag its place. Arrows nudge, Delete, Esc to let go.`;
    return cornersOfItem(item)
      ? `${name}: drag its corners, or the whole. Arrows nudge, Delete, Esc to let go.`
      : `${name}: drag it to move it, a corner to scale, the round handle to turn. Arrows nudge, Delete, Esc to let go.`;
  }
}

export const PLACE: ToolDescription<'place'> = {
  id: 'place',
  label: 'Place elements',
  about: 'What is selected in the lanes, by drag.',
  strip: 'Place what is in the lanes',
  icon: Frame,
  bind: ['Shift+E'],
  does: 'Tool: place elements',
  benches: ['compose'],
  help: 'composing#placing-an-element',
  keys: [
    ['Arrow keys', 'Placing an element: move it by 1 px; Shift 10 px, Alt 0.1 px'],
    ['Shift drag', 'Placing an element: move along one axis, turn by steps of 15°'],
  ],
  make: () => new PlaceTool(),
};
