/** Changing curves that are there: points, handles, whole curves. What a drag will change is decided by Reach before it starts. */
import type { Path } from '~/core/document/schema.ts';
import { insertVertex, moveVertices, nearestOn, removeVertices, setHandle, toggleSmooth } from '~/core/path/edit.ts';
import { flatten, type Shape } from '~/core/path/path.ts';
import { editablePaths, everyKeyEdits, placeOf, shapeAt, shapeEdits } from './path-edits.ts';
import { arrowOf, HIT, type Tool, type ToolContext, type ToolPointer } from './tool.ts';

export type Hit =
  | { kind: 'vertex'; path: Path; index: number }
  | { kind: 'handle'; path: Path; index: number; side: 'in' | 'out' }
  | { kind: 'curve'; path: Path; index: number; t: number }
  | { kind: 'inside'; path: Path };

/** Even-odd test of a point against a closed path. */
function contains(shape: Shape, x: number, y: number): boolean {
  const p = flatten(shape, 1, 1, 0.5);
  let inside = false;
  for (let i = 0, j = p.length - 2; i < p.length; j = i, i += 2) {
    if (p[i + 1] > y !== p[j + 1] > y && x < ((p[j] - p[i]) * (y - p[i + 1])) / (p[j + 1] - p[i + 1]) + p[i]) inside = !inside;
  }
  return inside;
}

/** What lies under the pointer, points before curves before insides. */
export function hitTest(p: { x: number; y: number }, c: ToolContext): Hit | null {
  const near = HIT * c.perPixel;
  const within = (x: number, y: number) => (x - p.x) ** 2 + (y - p.y) ** 2 < near * near;
  const { document, path: active, vertices, selected } = c.shot;
  const paths = editablePaths(document, selected, document.cast[0] ?? null);
  const shapes = paths.map((path) => ({ path, shape: shapeAt(path, c.view.frame) }));
  const current = shapes.find((s) => s.path.id === active);
  if (current) {
    for (const index of vertices) {
      const v = current.shape[index];
      if (!v) continue;
      if ((v.outX || v.outY) && within(v.x + v.outX, v.y + v.outY)) return { kind: 'handle', path: current.path, index, side: 'out' };
      if ((v.inX || v.inY) && within(v.x + v.inX, v.y + v.inY)) return { kind: 'handle', path: current.path, index, side: 'in' };
    }
  }
  for (const { path, shape } of current ? [current, ...shapes] : shapes) {
    const index = shape.findIndex((v) => within(v.x, v.y));
    if (index >= 0) return { kind: 'vertex', path, index };
  }
  for (const { path, shape } of shapes) {
    const nearest = nearestOn(shape, path.closed, p.x, p.y);
    if (nearest && nearest.distance < near * 0.8) return { kind: 'curve', path, index: nearest.index, t: nearest.t };
  }
  for (const { path, shape } of shapes) if (path.closed && contains(shape, p.x, p.y)) return { kind: 'inside', path };
  return null;
}

interface Drag {
  from: ToolPointer;
  path: Path;
  shape: Shape;
  label: string;
  change(dx: number, dy: number, p: ToolPointer): Shape;
}

export class EditTool implements Tool {
  private drag: Drag | null = null;
  private nudging = false;

  down(p: ToolPointer, c: ToolContext): void {
    c.view.play(0);
    const hit = hitTest(p, c);
    if (!hit) {
      c.shot.selectVertices(null, new Set());
      return;
    }
    const { path } = hit;
    const shape = shapeAt(path, c.view.frame);
    if (hit.kind === 'curve' && p.clicks === 2) {
      const { index, t } = hit;
      this.drag = null;
      if (
        c.shot.commit(
          'Add point',
          everyKeyEdits(path, (s) => insertVertex(s, index, t)),
        )
      )
        c.shot.selectVertices(path.id, new Set([index + 1]));
      return;
    }
    if (hit.kind === 'vertex') {
      const same = c.shot.path === path.id ? c.shot.vertices : new Set<number>();
      let chosen: Set<number>;
      if (p.shift) {
        chosen = new Set(same);
        if (!chosen.delete(hit.index)) chosen.add(hit.index);
      } else chosen = same.has(hit.index) ? new Set(same) : new Set([hit.index]);
      c.shot.selectVertices(path.id, chosen);
      this.drag = { from: p, path, shape, label: chosen.size > 1 ? 'Move points' : 'Move point', change: (dx, dy) => moveVertices(shape, chosen, dx, dy) };
    } else if (hit.kind === 'handle') {
      const v = shape[hit.index];
      const x = hit.side === 'in' ? v.inX : v.outX;
      const y = hit.side === 'in' ? v.inY : v.outY;
      this.drag = { from: p, path, shape, label: 'Turn handle', change: (dx, dy, now) => setHandle(shape, hit.index, hit.side, x + dx, y + dy, !now.alt) };
    } else {
      const all = new Set(shape.map((_, i) => i));
      c.shot.selectVertices(path.id, hit.kind === 'inside' && c.shot.path === path.id ? c.shot.vertices : new Set());
      this.drag = { from: p, path, shape, label: 'Move curve', change: (dx, dy) => moveVertices(shape, all, dx, dy) };
    }
  }

  move(p: ToolPointer, c: ToolContext): void {
    const { drag } = this;
    if (!drag) return;
    const dx = p.x - drag.from.x;
    const dy = p.y - drag.from.y;
    // A press that trembles is not a drag.
    if (!c.shot.draft && dx * dx + dy * dy < (2 * c.perPixel) ** 2) return;
    c.shot.setDraft(shapeEdits(drag.path, c.view.frame, drag.change(dx, dy, p), c.shot.reach, c.view.frames));
  }

  up(_p: ToolPointer, c: ToolContext): void {
    const { drag } = this;
    this.drag = null;
    if (drag && c.shot.draft) c.shot.commit(drag.label);
  }

  cancel(c: ToolContext): void {
    this.drag = null;
    this.nudging = false;
    c.shot.setDraft(null);
  }

  key(event: KeyboardEvent, c: ToolContext): boolean {
    const { document, path: active, vertices } = c.shot;
    const paths = editablePaths(document, c.shot.selected, document.cast[0] ?? null);
    const path = paths.find((q) => q.id === active) ?? null;
    const key = event.key.toLowerCase();
    if (key === 'p' && !event.ctrlKey && !event.metaKey && paths.length > 0) {
      // Walks through the points of all editable curves.
      const places = paths.flatMap((q) => shapeAt(q, c.view.frame).map((_, index) => ({ path: q.id, index })));
      if (places.length === 0) return true;
      const now = places.findIndex((q) => q.path === active && vertices.has(q.index));
      const next = places[(now + (event.shiftKey ? places.length - 1 : 1) + (now < 0 && event.shiftKey ? 1 : 0)) % places.length];
      c.shot.selectVertices(next.path, new Set([next.index]));
      return true;
    }
    if (event.key === 'Escape' && vertices.size > 0) {
      c.shot.selectVertices(null, new Set());
      return true;
    }
    if (!path) return false;
    const shape = shapeAt(path, c.view.frame);
    const arrow = arrowOf(event);
    if (arrow) {
      const which = vertices.size > 0 ? vertices : new Set(shape.map((_, i) => i));
      c.shot.setDraft(shapeEdits(path, c.view.frame, moveVertices(shape, which, arrow.x, arrow.y), c.shot.reach, c.view.frames));
      this.nudging = true;
      return true;
    }
    if (key === 'a' && !event.ctrlKey && !event.metaKey) {
      c.shot.selectVertices(path.id, new Set(shape.map((_, i) => i)));
      return true;
    }
    if (event.key === 'Delete' || event.key === 'Backspace') {
      const left = shape.length - vertices.size;
      if (vertices.size === 0 || left < 2) c.shot.commit('Delete curve', [{ kind: 'remove', id: path.id }]);
      else
        c.shot.commit(
          vertices.size > 1 ? 'Delete points' : 'Delete point',
          everyKeyEdits(path, (s) => removeVertices(s, vertices)),
        );
      c.shot.selectVertices(left < 2 ? null : path.id, new Set());
      return true;
    }
    if (key === 't' && vertices.size > 0) {
      c.shot.commit(
        'Corner or smooth',
        everyKeyEdits(path, (s) => [...vertices].reduce((now, i) => toggleSmooth(now, i), s)),
      );
      return true;
    }
    if (key === 'x' && vertices.size > 0) {
      // A new point in the middle of the segment after the last selected one.
      const index = Math.max(...vertices);
      c.shot.commit(
        'Add point',
        everyKeyEdits(path, (s) => insertVertex(s, index, 0.5)),
      );
      c.shot.selectVertices(path.id, new Set([index + 1]));
      return true;
    }
    return false;
  }

  keyUp(c: ToolContext): void {
    if (!this.nudging) return;
    this.nudging = false;
    if (c.shot.draft) c.shot.commit(c.shot.vertices.size > 0 ? 'Nudge points' : 'Nudge curve');
  }

  hint(c: ToolContext): string {
    const place = c.shot.path ? placeOf(c.shot.document, c.shot.path) : null;
    if (!place)
      return c.shot.document.cast.length === 0
        ? 'Nothing drawn yet. Press D and draw round the subject.'
        : 'Click a point, a curve or its inside to move it. D draws a new curve.';
    if (!place.path.closed) return 'This curve is open and masks nothing. Press D to go on drawing, or close it in the settings.';
    if (c.shot.vertices.size > 0) return 'Drag or arrow keys move; double-click the curve adds a point; Delete takes points away; T makes corner or smooth.';
    return 'Drag the curve or its inside to move it as a whole. Double-click the curve to add a point.';
  }
}
