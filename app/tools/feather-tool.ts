/** Feather of single points: dragged from a point outwards or inwards, it sets the width on that side. */
import { Feather } from 'lucide-react';
import type { Edit } from '~/core/document/edits.ts';
import { type PlacedPath, shapeAt } from '~/core/document/follow.ts';
import { clamp } from '~/core/math/clamp.ts';
import type { Shape, Vertex } from '~/core/path/path.ts';
import { editablePaths, shapeEdits } from '../edits/path-edits.ts';
import { onePath, pointsOf } from '../edits/points.ts';
import { arrowOf, HIT, keyName, reachOf, type Tool, type ToolContext, type ToolDescription, type ToolPointer } from './tool.ts';

/** Unit normal of a vertex, pointing out of the closed shape. */
export function outward(shape: Shape, index: number): { x: number; y: number } {
  const n = shape.length;
  const v = shape[index];
  const before = shape[(index + n - 1) % n];
  const after = shape[(index + 1) % n];
  const unit = (x: number, y: number) => {
    const length = Math.sqrt(x * x + y * y) || 1;
    return { x: x / length, y: y / length };
  };
  const arriving = v.inX || v.inY ? unit(-v.inX, -v.inY) : unit(v.x - before.x, v.y - before.y);
  const leaving = v.outX || v.outY ? unit(v.outX, v.outY) : unit(after.x - v.x, after.y - v.y);
  const along = unit(arriving.x + leaving.x, arriving.y + leaving.y);
  let area = 0;
  for (let i = 0, j = n - 1; i < n; j = i++) area += shape[j].x * shape[i].y - shape[j].y * shape[i].x;
  return area > 0 ? { x: along.y, y: -along.x } : { x: -along.y, y: along.x };
}

const withWidth = (v: Vertex, side: 'featherIn' | 'featherOut', width: number): Vertex => ({ ...v, [side]: clamp(width, 0, 500) });

export class FeatherTool implements Tool {
  private drag: { path: PlacedPath; shape: Shape; index: number; which: ReadonlySet<number> } | null = null;
  private nudging = false;

  down(p: ToolPointer, c: ToolContext): void {
    c.view.play(0);
    const near = (HIT * c.perPixel) ** 2;
    for (const { path } of editablePaths(c.shot.document, c.shot.selected, c.subject, c.view.frame)) {
      const shape = shapeAt(path, c.view.frame);
      // A point, or the end of a width it has already.
      const index = shape.findIndex((v, i) => {
        const n = outward(shape, i);
        const at = (d: number) => (v.x + n.x * d - p.x) ** 2 + (v.y + n.y * d - p.y) ** 2 < near;
        return at(0) || (v.featherOut && at(v.featherOut)) || (v.featherIn && at(-v.featherIn));
      });
      if (index < 0) continue;
      const held = pointsOf(c.shot.points, path.id);
      const which = p.shift ? new Set(shape.keys()) : held.has(index) ? held : new Set([index]);
      c.shot.selectPoints(onePath(path.id, which), path.id);
      this.drag = { path, shape, index, which };
      return;
    }
  }

  move(p: ToolPointer, c: ToolContext): void {
    if (!this.drag) return;
    const { path, shape, index, which } = this.drag;
    const v = shape[index];
    const n = outward(shape, index);
    const distance = (p.x - v.x) * n.x + (p.y - v.y) * n.y;
    const side = distance >= 0 ? 'featherOut' : 'featherIn';
    this.show(
      c,
      path,
      shape.map((w, i) => (which.has(i) ? withWidth(w, side, Math.abs(distance) < 2 * c.perPixel ? 0 : Math.abs(distance)) : w)),
    );
  }

  private show(c: ToolContext, path: PlacedPath, shape: Shape): void {
    c.shot.setDraft(shapeEdits(path, c.view.frame, shape, c.shot.reach, reachOf(c)));
  }

  up(_p: ToolPointer, c: ToolContext): void {
    this.drag = null;
    if (c.shot.draft) c.shot.commit('Feather points');
  }

  cancel(c: ToolContext): void {
    this.drag = null;
    this.nudging = false;
    c.shot.setDraft(null);
  }

  /** Up and down change the outer width of the selected points, left and right the inner one. */
  key(event: KeyboardEvent, c: ToolContext): boolean {
    if (keyName(event) === 'Escape') {
      c.view.setTool('edit');
      return true;
    }
    const arrow = arrowOf(event);
    if (!arrow) return false;
    const edits: Edit[] = [];
    for (const { path } of editablePaths(c.shot.document, c.shot.selected, c.subject, c.view.frame)) {
      const which = pointsOf(c.shot.points, path.id);
      if (which.size === 0) continue;
      const side = arrow.y !== 0 ? 'featherOut' : 'featherIn';
      const by = arrow.y !== 0 ? -arrow.y : arrow.x;
      const shape = shapeAt(path, c.view.frame).map((v, i) => (which.has(i) ? withWidth(v, side, (v[side] ?? 0) + by) : v));
      edits.push(...shapeEdits(path, c.view.frame, shape, c.shot.reach, reachOf(c)));
    }
    if (edits.length === 0) return false;
    c.shot.setDraft(edits);
    this.nudging = true;
    return true;
  }

  keyUp(c: ToolContext): void {
    if (!this.nudging) return;
    this.nudging = false;
    if (c.shot.draft) c.shot.commit('Feather points');
  }

  hint(): string {
    return 'Drag from a point outwards or inwards to soften there; Shift: the whole curve. Arrow up/down change the outer, left/right the inner width of selected points.';
  }
}

export const FEATHER: ToolDescription<'feather'> = {
  id: 'feather',
  label: 'Feather points',
  about: 'Soft edges of single points.',
  icon: Feather,
  bind: ['w'],
  does: 'Tool: feather points',
  benches: ['isolate', 'edge'],
  help: 'by-hand#the-edge',
  keys: [['Arrow keys', 'Feathering points: up and down the outer, left and right the inner width']],
  make: () => new FeatherTool(),
};
