/** Drawing a closed curve: click sets corners, drag sets smooth points, the first point closes. Each point is a step of work. */

import { PenTool } from 'lucide-react';
import { drawnFor, shapeAt } from '~/core/document/follow.ts';
import { findPath } from '~/core/document/parts.ts';
import { corner, type Shape, smooth } from '~/core/path/path.ts';
import { beginPath, everyKeyEdits } from '../edits/path-edits.ts';
import { NO_POINTS, onePath } from '../edits/points.ts';
import { arrowOf, HIT, keyName, type Tool, type ToolContext, type ToolDescription, type ToolPointer } from './tool.ts';

/** The open path that is being drawn: the selected one, while it is open. */
function openPath(c: ToolContext) {
  const place = c.shot.path ? findPath(c.shot.document, c.shot.path) : null;
  return place && !place.path.closed ? place : null;
}

export class DrawTool implements Tool {
  private state: { kind: 'idle' } | { kind: 'placing'; at: ToolPointer; before: Shape; label: string } | { kind: 'closing'; path: string } = { kind: 'idle' };

  down(p: ToolPointer, c: ToolContext): void {
    c.view.play(0);
    const open = openPath(c);
    if (open) {
      const shape = shapeAt(open.path, c.view.frame);
      const [first] = shape;
      const near = first && (first.x - p.x) ** 2 + (first.y - p.y) ** 2 < (HIT * c.perPixel) ** 2;
      if (shape.length > 2 && (near || p.clicks === 2)) {
        this.state = { kind: 'closing', path: open.path.id };
        return;
      }
      if (p.clicks === 2) return;
      this.state = { kind: 'placing', at: p, before: shape, label: 'Add point' };
      this.place(p, c);
    } else {
      const begun = beginPath(c.shot.document, c.shot.selected, c.view.frame, [corner(p.x, p.y)], c.newId);
      if (!c.shot.commit('Begin curve', begun.edits)) return;
      c.shot.select(begun.partId);
      c.shot.selectPoints(onePath(begun.pathId, new Set([0])), begun.pathId);
      this.state = { kind: 'placing', at: p, before: [], label: 'Turn handle' };
    }
  }

  /** Shows the new point with the handle that the drag so far gives it. */
  private place(p: ToolPointer, c: ToolContext): void {
    if (this.state.kind !== 'placing') return;
    const open = openPath(c);
    if (!open) return;
    const { at, before } = this.state;
    const dx = p.x - at.x;
    const dy = p.y - at.y;
    const dragged = dx * dx + dy * dy > (3 * c.perPixel) ** 2;
    if (before.length === 0 && !dragged) return;
    const vertex = dragged ? smooth(at.x, at.y, dx, dy) : corner(at.x, at.y);
    const [drawn] = drawnFor(open.path, c.view.frame, [vertex]);
    // Every key gets the point, so that all of them keep the same number of points.
    c.shot.setDraft(everyKeyEdits(open.path, (shape) => [...shape.slice(0, before.length), drawn]));
    c.shot.selectPoints(onePath(open.path.id, new Set([before.length])), open.path.id);
  }

  move(p: ToolPointer, c: ToolContext): void {
    this.place(p, c);
  }

  up(_p: ToolPointer, c: ToolContext): void {
    const { state } = this;
    this.state = { kind: 'idle' };
    if (state.kind === 'closing') this.close(state.path, c);
    else if (state.kind === 'placing' && c.shot.draft) c.shot.commit(state.label);
  }

  private close(path: string, c: ToolContext): void {
    if (!c.shot.commit('Close curve', [{ kind: 'assign', id: path, values: { closed: true } }])) return;
    c.shot.selectPoints(NO_POINTS, path);
    c.view.setTool('edit');
  }

  cancel(c: ToolContext): void {
    this.state = { kind: 'idle' };
    c.shot.setDraft(null);
  }

  key(event: KeyboardEvent, c: ToolContext): boolean {
    const arrow = arrowOf(event);
    if (arrow) {
      c.moveCrosshair(c.crosshair.x + arrow.x, c.crosshair.y + arrow.y);
      return true;
    }
    const open = openPath(c);
    const points = open ? shapeAt(open.path, c.view.frame).length : 0;
    const key = keyName(event);
    if (key === 'Shift+Enter') {
      if (open && points > 2) this.close(open.path.id, c);
      return true;
    }
    if (key === 'Enter') {
      const p: ToolPointer = { ...c.crosshair, shift: false, alt: false, ctrl: false, pressure: null, clicks: 1 };
      this.down(p, c);
      this.up(p, c);
      return true;
    }
    if ((key === 'Backspace' || key === 'Delete') && open) {
      const shape = shapeAt(open.path, c.view.frame);
      if (shape.length > 1)
        c.shot.commit(
          'Take back point',
          everyKeyEdits(open.path, (now) => now.slice(0, -1)),
        );
      else c.shot.commit('Delete curve', [{ kind: 'remove', id: open.path.id }]);
      return true;
    }
    if (key === 'Escape') {
      c.view.setTool('edit');
      return true;
    }
    return false;
  }

  keyUp(): void {}

  hint(c: ToolContext): string {
    const open = openPath(c);
    if (!open) return 'Click for a corner, drag for a smooth point. With the keyboard: arrows move the cross-hair, Enter sets a point.';
    const points = shapeAt(open.path, c.view.frame).length;
    if (points < 3) return 'The curve is open and masks nothing yet. Set at least three points.';
    return 'The curve is open and masks nothing yet. Click its first point, double-click, or press Shift+Enter to close it.';
  }
}

export const DRAW: ToolDescription<'draw'> = {
  id: 'draw',
  label: 'Draw a curve',
  about: 'Click by click; the first point closes it.',
  icon: PenTool,
  bind: ['d'],
  does: 'Tool: draw a curve',
  benches: ['isolate'],
  help: 'by-hand#drawing-a-curve',
  keys: [
    ['Enter', 'Drawing: set a point at the cross-hair'],
    ['Shift Enter', 'Drawing: close the curve'],
  ],
  cursor: 'crosshair',
  crosshair: 'always',
  make: () => new DrawTool(),
};
