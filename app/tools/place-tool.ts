/** Placing the selected element by hand: moved, scaled and turned, or by its four corners; and the place of an effect. */
import { Frame } from 'lucide-react';
import { framingOver } from '~/core/compose/framing-over.ts';
import { aimOf, aimOn, endsOfItem, endsOn, nameOf } from '~/core/compose/lane-items.ts';
import type { Edit } from '~/core/document/edits.ts';
import { removeEdits } from '~/core/document/leaders.ts';
import type { LaneItem } from '~/core/document/schema.ts';
import type { End } from '~/core/elements/element.ts';
import { endMotion, ledMotion } from '~/core/elements/place.ts';
import { isDrawn } from '~/core/elements/source.ts';
import { clamp } from '~/core/math/clamp.ts';
import { applyTo, inverseOf, scaleAt } from '~/core/math/homography.ts';
import { nearestOnSegment } from '~/core/math/segment.ts';
import type { Animated } from '~/core/time/animated.ts';
import { LISTS, NUMBERS } from '~/core/time/reach.ts';
import { valueEdit } from '../edits/path-edits.ts';
import type { Stand } from '../state/view-store.ts';
import { cornersOf, turnHandleOf } from './stand-corners.ts';
import { arrowOf, HIT, keyName, reachOf, type Tool, type ToolContext, type ToolDescription, type ToolPointer } from './tool.ts';

type Grip =
  | { kind: 'move' }
  | { kind: 'scale' }
  | { kind: 'turn' }
  | { kind: 'corner'; index: number }
  | { kind: 'ends'; ends: readonly End[] }
  | { kind: 'aim'; side: 1 | -1 };
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

/** One of its ends that is under the pointer, or all of them where that is on the way between two. */
function endsUnder(p: ToolPointer, item: LaneItem, { shot, view, perPixel }: ToolContext): Grip | null {
  const ends = endsOn(shot.history.settled, item, view.frame);
  const near = HIT * perPixel;
  const one = ends.find(({ at: [x, y] }) => Math.hypot(x - p.x, y - p.y) < near);
  if (one) return { kind: 'ends', ends: [one.end] };
  if (ends.length < 2) return null;
  const [[ax, ay], [bx, by]] = [ends[0].at, ends[1].at];
  const share = nearestOnSegment(ax, ay, bx, by, p.x, p.y);
  return Math.hypot(ax + (bx - ax) * share - p.x, ay + (by - ay) * share - p.y) < near ? { kind: 'ends', ends: ends.map((e) => e.end) } : null;
}

/** An end of what an effect is aimed at. */
function aimUnder(p: ToolPointer, item: LaneItem, { shot, view, perPixel }: ToolContext): Grip | null {
  const at = aimOn(shot.history.settled, item, view.frame).findIndex(([x, y]) => Math.hypot(x - p.x, y - p.y) < HIT * perPixel);
  return at < 0 ? null : { kind: 'aim', side: at === 0 ? -1 : 1 };
}

/** Edits that aim an effect so that one of its ends lies at a place. */
function aimEdits(item: LaneItem, side: 1 | -1, p: ToolPointer, c: ToolContext): Edit[] {
  const aim = aimOf(item);
  if (!aim) return [];
  const { width, height } = c.shot.history.settled.plate;
  const [dx, dy] = [side * (p.x - width / 2), side * (p.y - height / 2)];
  const turned = (Math.atan2(dy, dx) * 180) / Math.PI;
  return [
    numberEdit(item, aim.angle, 0, () => (p.shift ? Math.round(turned / STEP) * STEP : turned), c),
    numberEdit(item, aim.length, 0, () => 2 * Math.hypot(dx, dy), c),
  ];
}

/** A place of the plate on this frame as it was on the frame from which the element, or an end of it, follows its track. */
function beforeFollowing(item: LaneItem, { shot, view }: ToolContext, x: number, y: number, end?: End): [number, number] {
  const document = shot.history.settled;
  const motion = end ? endMotion(document, item, end, view.frame) : ledMotion(document, item, view.frame);
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

/** Edits that move ends of an element from one place of the plate to another, whatever each of them follows. */
function endEdits(item: LaneItem, ends: readonly End[], from: { x: number; y: number }, to: { x: number; y: number }, c: ToolContext): Edit[] {
  return ends.flatMap((end) => {
    const [x0, y0] = beforeFollowing(item, c, from.x, from.y, end);
    const [x1, y1] = beforeFollowing(item, c, to.x, to.y, end);
    return [numberEdit(item, end.x, 0, (x) => x + x1 - x0, c), numberEdit(item, end.y, 0, (y) => y + y1 - y0, c)];
  });
}

function dragEdits({ grip, item, from }: Drag, p: ToolPointer, c: ToolContext): Edit[] {
  if (grip.kind === 'aim') return aimEdits(item, grip.side, p, c);
  if (grip.kind === 'ends') {
    const [dx, dy] = [p.x - from.x, p.y - from.y];
    const straight = p.shift ? (Math.abs(dx) > Math.abs(dy) ? { x: p.x, y: from.y } : { x: from.x, y: p.y }) : p;
    return endEdits(item, grip.ends, from, straight, c);
  }
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

/** A place that is pointed at as it is told in an item: before Framing, and before that follows anything. */
export function placeToldIn(item: LaneItem, p: ToolPointer, c: ToolContext): [number, number] {
  const [{ x, y }] = beforeFraming(p, item, c);
  return beforeFollowing(item, c, x, y);
}

/** A place that is pointed at as it is before Framing, where that moves what is seen; and the context with pixels as large as they are there. */
function beforeFraming(p: ToolPointer, item: LaneItem | undefined, c: ToolContext): [ToolPointer, ToolContext] {
  const over = item && c.view.view === 'composed' ? framingOver(c.shot.history.settled, item, c.view.frame) : null;
  const back = over && inverseOf(over);
  if (!back) return [p, c];
  const [x, y] = applyTo(back, p.x, p.y);
  return [
    { ...p, x, y },
    { ...c, perPixel: c.perPixel * scaleAt(back, p.x, p.y) },
  ];
}

const DONE: Record<Grip['kind'], string> = { move: 'Move', scale: 'Scale', turn: 'Turn', corner: 'Move corner', ends: 'Move ends', aim: 'Aim' };

export class PlaceTool implements Tool {
  private drag: Drag | null = null;
  private nudged = false;

  down(seen: ToolPointer, context: ToolContext): void {
    context.view.play(0);
    const item = selectedItem(context);
    const [p, c] = beforeFraming(seen, item, context);
    const { stand } = c.view;
    if (!item) return;
    const grip = endsUnder(p, item, c) ?? aimUnder(p, item, c) ?? (stand?.id === item.id ? gripUnder(p, stand, item, c.perPixel) : null);
    this.drag = grip && { grip, item, from: p };
  }

  move(seen: ToolPointer, context: ToolContext): void {
    const { drag } = this;
    if (!drag) return;
    const [p, c] = beforeFraming(seen, drag.item, context);
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
    const ends = item ? endsOfItem(item) : [];
    if (arrow && item && (ends.length > 0 || c.view.stand?.id === item.id)) {
      const now = c.shot.document.lanes.find((l) => l.id === item.id);
      if (now) c.shot.setDraft(ends.length > 0 ? endEdits(now, ends, { x: 0, y: 0 }, arrow, c) : moveEdits(now, arrow.x, arrow.y, c));
      this.nudged = true;
      return true;
    }
    const key = keyName(event);
    if ((key === 'Delete' || key === 'Backspace') && item) {
      c.shot.commit(`Delete ${item.type}`, removeEdits(c.shot.history.settled, item.id));
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
    if (endsOfItem(item).length > 0) return `${name}: drag an end, or the line between them. Arrows nudge both, Delete, Esc to let go.`;
    if (aimOf(item)) return `${name}: drag either end to turn it and to set how far it goes; Shift turns by steps of 15°. Delete, Esc to let go.`;
    if (item.type === 'element' && isDrawn(item)) return `${name} is made of lines: draw more of them (Shift L). Delete, Esc to let go.`;
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
