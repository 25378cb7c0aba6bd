/** The brush of Peel: strokes that say what belongs to the subject and what does not. */
import { Brush } from 'lucide-react';
import type { Edit } from '~/core/document/edits.ts';
import { newPeel } from '~/core/document/part-kinds/peel.ts';
import { partWith } from '~/core/document/parts.ts';
import { newStroke, newSubject } from '~/core/document/records.ts';
import type { PeelPart, Stroke } from '~/core/document/schema.ts';
import { clamp } from '~/core/math/clamp.ts';
import { startsFrom, withoutErased } from '~/core/peel/strokes/strokes.ts';
import { areaOf } from '~/core/trace/outlines.ts';
import { TO_COME } from '../edits/stroke-to-come.ts';
import type { BrushKind, Painting } from '../state/view-store.ts';
import { arrowOf, keyName, type Tool, type ToolContext, type ToolDescription, type ToolPointer } from './tool.ts';

export const BRUSH_LEAST = 1;
export const BRUSH_MOST = 200;
/** One press of a key makes the brush so many times as large. */
const STEP = 1.2;
const KINDS = { keep: 'Keep stroke', drop: 'Drop stroke', soft: 'Soft stroke', loop: 'Loop' } as const;
/** Square plate pixels that a loop must hold to be one. */
const LEAST_LOOP = 60;
/** Milliseconds that the pointer rests before what a click would take is shown, and pixels of the screen that still are resting. */
const REST = 180;
const STILL = 3;

const setRadius = (radius: number, c: ToolContext) => c.view.set({ brush: { ...c.view.brush, radius: clamp(radius, BRUSH_LEAST, BRUSH_MOST) } });

const other = (kind: BrushKind): BrushKind => (kind === 'keep' ? 'drop' : 'keep');

/** The Peel that strokes go to: the selected one, or the first of the subject. */
export function currentPeel({ shot, subject }: Pick<ToolContext, 'shot' | 'subject'>): PeelPart | undefined {
  const selected = subject ? partWith(subject, shot.selected) : undefined;
  if (selected?.type === 'peel') return selected;
  return subject?.parts.find((p) => p.type === 'peel');
}

/**
 * Whether a stroke on the frame that is seen mends what was carried there. A frame that was begun with strokes of its own, or with
 * mending, goes on so.
 */
function mendsHere(c: ToolContext): boolean {
  const peel = currentPeel(c);
  const here = peel?.strokes.filter((s) => s.frame === c.view.frame && s.enabled && s.id !== TO_COME) ?? [];
  if (!peel || here.some((s) => !s.mends && startsFrom(s))) return false;
  return here.some((s) => s.mends) || c.carried(peel.id, c.view.frame);
}

/** Edits that put a stroke into the Peel that is worked on, with a part and a subject to hold it where there are none. */
function strokeEdits(c: ToolContext, stroke: Stroke): { edits: Edit[]; partId: string } {
  const peel = currentPeel(c);
  if (peel) return { edits: [{ kind: 'insert', parent: peel.id, index: peel.strokes.length, record: stroke }], partId: peel.id };
  const partId = c.newId();
  const part = newPeel(partId, 'Peel', [stroke]);
  if (c.subject) return { edits: [{ kind: 'insert', parent: c.subject.id, index: c.subject.parts.length, record: part }], partId };
  return { edits: [{ kind: 'insert', parent: 'cast', index: 0, record: { ...newSubject(c.newId(), 'Subject 1'), parts: [part] } }], partId };
}

/** A piece of a stroke: the pressure at each of its points is that of the nearest point of the whole. */
function pieceOf(stroke: Stroke, id: string, points: number[]): Stroke {
  const { pressures } = stroke;
  if (!pressures) return { ...stroke, id, points };
  const nearest = (x: number, y: number) => {
    let best = 0;
    const away = (k: number) => Math.hypot(stroke.points[2 * k] - x, stroke.points[2 * k + 1] - y);
    for (let k = 1; k < pressures.length; k++) if (away(k) < away(best)) best = k;
    return pressures[best];
  };
  return { ...stroke, id, points, pressures: Array.from({ length: points.length / 2 }, (_, k) => nearest(points[2 * k], points[2 * k + 1])) };
}

/** Edits that take away of a frame's strokes what the eraser went over. */
function eraseEdits(peel: PeelPart, frame: number, eraser: readonly number[], radius: number, newId: () => string): Edit[] {
  return peel.strokes.flatMap((stroke, index): Edit[] => {
    // A loop is one thing: it is switched off or deleted whole.
    if (stroke.frame !== frame || stroke.kind === 'loop') return [];
    const pieces = withoutErased(stroke.points, eraser, radius);
    if (pieces.length === 1 && pieces[0].length === stroke.points.length && pieces[0].every((v, i) => v === stroke.points[i])) return [];
    return [
      { kind: 'remove', id: stroke.id },
      ...pieces
        .reverse()
        .map(
          (points): Edit => ({ kind: 'insert', parent: peel.id, index: Math.min(index, peel.strokes.length - 1), record: pieceOf(stroke, newId(), points) }),
        ),
    ];
  });
}

export class BrushTool implements Tool {
  private stroke: Painting | null = null;
  /** Where a drag that sizes the brush began, and the radius it had. */
  private sizing: { x: number; radius: number } | null = null;
  private rest: { timer: ReturnType<typeof setTimeout>; x: number; y: number; shown: boolean } | null = null;

  /** What a click would take is shown when the pointer rests, if that is wished for. */
  hover(p: ToolPointer, c: ToolContext): void {
    if (this.rest && Math.hypot(p.x - this.rest.x, p.y - this.rest.y) < STILL * c.perPixel) return;
    this.leave(c);
    const { kind, radius, ahead } = c.view.brush;
    const own = p.alt ? other(kind) : kind;
    if (!ahead || own === 'erase' || own === 'loop' || currentPeel(c)?.locked) return;
    const show = () => {
      const stroke = newStroke(TO_COME, c.view.frame, own, [p.x, p.y], radius, mendsHere(c));
      if (this.rest) this.rest.shown = true;
      c.shot.setDraft(strokeEdits(c, stroke).edits);
    };
    this.rest = { timer: setTimeout(show, REST), x: p.x, y: p.y, shown: false };
  }

  leave(c: ToolContext): void {
    if (!this.rest) return;
    clearTimeout(this.rest.timer);
    if (this.rest.shown) c.shot.setDraft(null);
    this.rest = null;
  }

  down(p: ToolPointer, c: ToolContext): void {
    this.leave(c);
    c.view.play(0);
    if (currentPeel(c)?.locked) return;
    const { kind, radius } = c.view.brush;
    if (p.ctrl) {
      this.sizing = { x: p.x, radius };
      return;
    }
    this.stroke = { kind: p.alt ? other(kind) : kind, radius, points: [p.x, p.y], ...(p.pressure === null ? {} : { pressures: [p.pressure] }) };
    c.view.set({ painting: this.stroke });
  }

  move(p: ToolPointer, c: ToolContext): void {
    const { stroke, sizing } = this;
    if (sizing) setRadius(sizing.radius + p.x - sizing.x, c);
    if (!stroke) return;
    const { points, pressures } = stroke;
    const [x, y] = points.slice(-2);
    const pressed = (all: number[]) => (pressures ? { pressures: [...all, p.pressure ?? 1] } : {});
    if (p.shift) this.stroke = { ...stroke, points: [points[0], points[1], p.x, p.y], ...pressed(pressures?.slice(0, 1) ?? []) };
    else if (Math.hypot(p.x - x, p.y - y) < Math.max(1, 1.5 * c.perPixel)) return;
    else this.stroke = { ...stroke, points: [...points, p.x, p.y], ...pressed(pressures ?? []) };
    c.view.set({ painting: this.stroke });
  }

  up(_p: ToolPointer, c: ToolContext): void {
    const { stroke } = this;
    this.cancel(c);
    if (stroke) this.put(stroke, c);
  }

  private put(stroke: Painting, c: ToolContext): void {
    const { kind } = stroke;
    if (kind === 'erase') {
      const peel = currentPeel(c);
      const edits = peel ? eraseEdits(peel, c.view.frame, stroke.points, stroke.radius, c.newId) : [];
      if (peel && edits.length > 0 && c.shot.commit('Erase strokes', edits)) c.view.set({ painted: { part: peel.id, frame: c.view.frame } });
      return;
    }
    const { width, height } = c.view.plate;
    const { points, radius } = stroke;
    if (kind === 'loop' && (points.length < 6 || Math.abs(areaOf(Float64Array.from(points))) < LEAST_LOOP)) return;
    const touches = points.some((v, i) => i % 2 === 0 && v > -radius && v < width + radius && points[i + 1] > -radius && points[i + 1] < height + radius);
    if (!touches) return;
    const rounded = points.map((v) => Math.round(v * 100) / 100);
    const pressures = stroke.pressures?.map((v) => Math.round(v * 100) / 100);
    const record: Stroke = { ...newStroke(c.newId(), c.view.frame, kind, rounded, radius, mendsHere(c)), ...(pressures ? { pressures } : {}) };
    const { edits, partId } = strokeEdits(c, record);
    if (!c.shot.commit(KINDS[kind], edits)) return;
    c.shot.select(partId);
    c.view.set({ painted: { part: partId, frame: record.frame } });
  }

  cancel(c: ToolContext): void {
    this.leave(c);
    this.stroke = null;
    this.sizing = null;
    c.view.set({ painting: null });
  }

  key(event: KeyboardEvent, c: ToolContext): boolean {
    const { brush } = c.view;
    const arrow = arrowOf(event);
    if (arrow) {
      c.moveCrosshair(c.crosshair.x + arrow.x, c.crosshair.y + arrow.y);
      return true;
    }
    const resize = (by: number) => setRadius(brush.radius * by, c);
    switch (keyName(event)) {
      case '-':
        resize(1 / STEP);
        return true;
      case '+':
      case '=':
        resize(STEP);
        return true;
      case 'x':
        c.view.set({ brush: { ...brush, kind: other(brush.kind) } });
        return true;
      case 'Enter':
        this.put({ kind: brush.kind, radius: brush.radius, points: [c.crosshair.x, c.crosshair.y] }, c);
        return true;
      case 'Backspace':
      case 'Delete': {
        const last = currentPeel(c)?.strokes.findLast((s) => s.frame === c.view.frame);
        if (last) c.shot.commit('Delete stroke', [{ kind: 'remove', id: last.id }]);
        return true;
      }
      case 'Escape':
        c.view.setTool('edit');
        return true;
      default:
        return false;
    }
  }

  keyUp(): void {}

  hint(c: ToolContext): string {
    const peel = currentPeel(c);
    if (peel?.locked) return 'This Peel is locked: unlock it in its settings to paint on it.';
    const here = peel?.strokes.some((s) => s.frame === c.view.frame && s.enabled);
    if (here && c.view.view === 'plate') return 'The plate alone does not show what is found from strokes: press 2 to see it as a tint, 3 as a matte.';
    if (c.view.brush.kind === 'loop') return 'Draw roughly round the subject: what lies outside is not it. Strokes inside and outside mend what is found.';
    if (peel && mendsHere(c))
      return 'Paint on what is missing, with Alt on what is too much: what was carried to this frame is mended there, and stays as it is elsewhere.';
    if (!here) return 'Paint on the subject to keep it, with Alt on what is not it. A click is a dot; Shift paints straight; −, + or Ctrl-drag size the brush.';
    return 'Alt paints the other kind, X changes over, Shift paints straight, −, + or Ctrl-drag size the brush. Wrong strokes are erased, or switched off in the settings.';
  }
}

export const BRUSH: ToolDescription<'brush'> = {
  id: 'brush',
  label: 'Brush of Peel',
  about: 'Strokes from which the program finds the subject.',
  strip: 'Brush',
  icon: Brush,
  bind: ['z'],
  does: 'Tool: brush of Peel',
  benches: ['isolate', 'edge'],
  help: 'by-strokes#painting',
  keys: [
    ['−, +, Ctrl drag', 'Brush: smaller, larger; a pen paints as wide as it is pressed'],
    ['X', 'Brush: from keep to drop and back; Alt while painting does it for one stroke'],
    ['Shift drag', 'Brush: a straight stroke'],
    ['Enter', 'Brush: a dot at the cross-hair; Backspace takes the last stroke of the frame away'],
  ],
  cursor: 'crosshair',
  crosshair: 'by-keys',
  make: () => new BrushTool(),
};
