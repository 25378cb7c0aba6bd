/**
 * Changing curves that are there: points, handles, whole curves, many at once by box or lasso, and the transform frame. What a
 * drag will change is decided by Reach before it starts.
 */
import { SquareDashedMousePointer } from 'lucide-react';
import type { Edit } from '~/core/document/edits.ts';
import { type PlacedPath, shapeAt } from '~/core/document/follow.ts';
import {
  insertVertex,
  makeKind,
  moveVertices,
  moveWeighted,
  nearestOn,
  type PointKind,
  pointKind,
  removeVertices,
  setHandle,
  softWeights,
  transformVertices,
} from '~/core/path/edit.ts';
import { flatten, type Shape } from '~/core/path/path.ts';
import { type Editable, editablePaths, everyKeyEdits, shapeEdits } from '../edits/path-edits.ts';
import { countOf, joined, NO_POINTS, onePath, type Points, pointsOf } from '../edits/points.ts';
import { boxRound, type FrameHit, frameHit, frameMap, middleOf, type Spot } from './frame-box.ts';
import { arrowOf, HIT, keyName, reachOf, type Tool, type ToolContext, type ToolDescription, type ToolPointer } from './tool.ts';

export type Hit =
  | { kind: 'vertex'; path: PlacedPath; index: number }
  | { kind: 'handle'; path: PlacedPath; index: number; side: 'in' | 'out' }
  | { kind: 'curve'; path: PlacedPath; index: number; t: number }
  | { kind: 'inside'; path: PlacedPath }
  | { kind: 'frame'; part: FrameHit; path: PlacedPath };

/** Even-odd test of a point against a polygon x0,y0,x1,y1,… */
function inPolygon(p: ArrayLike<number>, x: number, y: number): boolean {
  let inside = false;
  for (let i = 0, j = p.length - 2; i < p.length; j = i, i += 2) {
    if (p[i + 1] > y !== p[j + 1] > y && x < ((p[j] - p[i]) * (y - p[i + 1])) / (p[j + 1] - p[i + 1]) + p[i]) inside = !inside;
  }
  return inside;
}

const contains = (shape: Shape, x: number, y: number): boolean => inPolygon(flatten(shape, 1, 1, 0.5), x, y);

const editable = (c: ToolContext): Editable[] => editablePaths(c.shot.document, c.shot.selected, c.subject, c.view.frame);

/** The selected points with the shapes they are of, and the frame round them where it is shown. */
export function selection(c: ToolContext): { path: PlacedPath; shape: Shape; vertices: ReadonlySet<number> }[] {
  return editable(c).flatMap(({ path }) => {
    const vertices = pointsOf(c.shot.points, path.id);
    return vertices.size > 0 ? [{ path, shape: shapeAt(path, c.view.frame), vertices }] : [];
  });
}

/** What lies under the pointer: the frame, then points, then curves, then insides. */
export function hitTest(p: { x: number; y: number; alt?: boolean }, c: ToolContext): Hit | null {
  const near = HIT * c.perPixel;
  const within = (x: number, y: number) => (x - p.x) ** 2 + (y - p.y) ** 2 < near * near;
  const { path: active } = c.shot;
  const chosen = selection(c);
  if (c.view.transforming) {
    const box = boxRound(chosen);
    const part = box && frameHit(box, c.view.pivot ?? middleOf(box), p.x, p.y, c.perPixel, p.alt ?? false);
    if (part) return { kind: 'frame', part, path: chosen[0].path };
  }
  const shapes = editable(c).map(({ path }) => ({ path, shape: shapeAt(path, c.view.frame) }));
  for (const { path, shape, vertices } of chosen)
    for (const index of vertices) {
      const v = shape[index];
      if (!v) continue;
      if ((v.outX || v.outY) && within(v.x + v.outX, v.y + v.outY)) return { kind: 'handle', path, index, side: 'out' };
      if ((v.inX || v.inY) && within(v.x + v.inX, v.y + v.inY)) return { kind: 'handle', path, index, side: 'in' };
    }
  const current = shapes.find((s) => s.path.id === active);
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
  label: string;
  targets: { path: PlacedPath; shape: Shape }[];
  change(index: number, dx: number, dy: number, p: ToolPointer): Shape;
  /** A point whose place is snapped, at the start of the drag. */
  lead?: Spot;
  /** A drag of the frame's centre moves that alone. */
  pivot?: Spot;
}

/** Edits that give each path its new shape. */
const editsFor = (c: ToolContext, targets: readonly { path: PlacedPath; shape: Shape }[]): Edit[] =>
  targets.flatMap(({ path, shape }) => shapeEdits(path, c.view.frame, shape, c.shot.reach, reachOf(c)));

/** Screen pixels within which a dragged point jumps to another, or to an edge or the middle of the plate. */
const SNAP = 7;

/** The move that brings `lead` onto something near, or the move itself. */
function snapped(c: ToolContext, lead: Spot, dx: number, dy: number, moving: Points): [number, number] {
  const near = SNAP * c.perPixel;
  const { width, height } = c.shot.document.plate;
  const xs = [0, width / 2, width];
  const ys = [0, height / 2, height];
  for (const { path } of editable(c))
    for (const [i, v] of shapeAt(path, c.view.frame).entries()) {
      if (pointsOf(moving, path.id).has(i)) continue;
      if (Math.abs(v.x - lead.x - dx) < near && Math.abs(v.y - lead.y - dy) < near) return [v.x - lead.x, v.y - lead.y];
    }
  const to = (value: number, places: number[]) => places.find((p) => Math.abs(p - value) < near);
  const x = to(lead.x + dx, xs);
  const y = to(lead.y + dy, ys);
  return [x === undefined ? dx : x - lead.x, y === undefined ? dy : y - lead.y];
}

export class EditTool implements Tool {
  private drag: Drag | null = null;
  private nudging = false;
  private marquee: { from: ToolPointer; before: Points } | null = null;

  down(p: ToolPointer, c: ToolContext): void {
    c.view.play(0);
    const hit = hitTest(p, c);
    if (!hit) {
      const before = p.shift ? c.shot.points : NO_POINTS;
      if (!p.shift) c.shot.selectPoints(NO_POINTS, null);
      this.marquee = { from: p, before };
      c.view.set({ marquee: { lasso: p.alt, points: [p.x, p.y] } });
      return;
    }
    const { path } = hit;
    const shape = shapeAt(path, c.view.frame);
    if (hit.kind === 'frame') {
      const chosen = selection(c);
      const box = boxRound(chosen);
      const centre = c.view.pivot ?? (box ? middleOf(box) : p);
      if (hit.part.kind === 'centre') {
        this.drag = { from: p, label: '', targets: [], change: () => shape, pivot: centre };
        return;
      }
      const { part } = hit;
      this.drag = {
        from: p,
        label: part.kind === 'turn' ? 'Turn points' : part.kind === 'skew' ? 'Skew points' : 'Scale points',
        targets: chosen,
        change: (i, _dx, _dy, now) => transformVertices(chosen[i].shape, chosen[i].vertices, frameMap(part, centre, p, now, now.shift)),
      };
      return;
    }
    if (hit.kind === 'curve' && p.clicks === 2) {
      const { index, t } = hit;
      this.drag = null;
      if (
        c.shot.commit(
          'Add point',
          everyKeyEdits(path, (s) => insertVertex(s, index, t)),
        )
      )
        c.shot.selectPoints(onePath(path.id, new Set([index + 1])), path.id);
      return;
    }
    if (hit.kind === 'vertex') {
      const held = pointsOf(c.shot.points, path.id).has(hit.index);
      const own = onePath(path.id, new Set([hit.index]));
      const points = p.shift ? joined(c.shot.points, own, true) : held ? c.shot.points : own;
      c.shot.selectPoints(points, path.id);
      this.dragPoints(p, c, points, shape[hit.index]);
    } else if (hit.kind === 'handle') {
      const v = shape[hit.index];
      const x = hit.side === 'in' ? v.inX : v.outX;
      const y = hit.side === 'in' ? v.inY : v.outY;
      this.drag = {
        from: p,
        label: 'Turn handle',
        targets: [{ path, shape }],
        change: (_, dx, dy, now) => {
          const turned = setHandle(shape, hit.index, hit.side, x + dx, y + dy, !now.alt && !v.free);
          // Turned apart once, they stay apart.
          return now.alt ? turned.map((w, i) => (i === hit.index ? { ...w, free: true } : w)) : turned;
        },
      };
    } else {
      const all = new Set(shape.map((_, i) => i));
      const kept = hit.kind === 'inside' && pointsOf(c.shot.points, path.id).size > 0 ? c.shot.points : NO_POINTS;
      c.shot.selectPoints(kept, path.id);
      this.drag = { from: p, label: 'Move curve', targets: [{ path, shape }], change: (_, dx, dy) => moveVertices(shape, all, dx, dy) };
    }
  }

  /** A drag of points over all curves, neighbours following as far as the soft radius says. */
  private dragPoints(p: ToolPointer, c: ToolContext, points: Points, lead: Spot): void {
    const targets = editable(c).flatMap(({ path }) => {
      const vertices = pointsOf(points, path.id);
      if (vertices.size === 0) return [];
      const shape = shapeAt(path, c.view.frame);
      return [{ path, shape, weights: softWeights(shape, vertices, c.view.soft) }];
    });
    this.drag = {
      from: p,
      lead,
      label: countOf(points) > 1 ? 'Move points' : 'Move point',
      targets,
      change: (i, dx, dy) => moveWeighted(targets[i].shape, targets[i].weights, dx, dy),
    };
  }

  move(p: ToolPointer, c: ToolContext): void {
    const { drag, marquee } = this;
    if (marquee) {
      const { from } = marquee;
      const lasso = c.view.marquee?.lasso ?? false;
      const outline = lasso ? [...(c.view.marquee?.points ?? []), p.x, p.y] : [from.x, from.y, p.x, from.y, p.x, p.y, from.x, p.y];
      c.view.set({ marquee: { lasso, points: outline } });
      const within = new Map<string, Set<number>>();
      for (const { path } of editable(c)) {
        const set = new Set<number>();
        for (const [i, v] of shapeAt(path, c.view.frame).entries()) if (outline.length >= 6 && inPolygon(outline, v.x, v.y)) set.add(i);
        if (set.size > 0) within.set(path.id, set);
      }
      c.shot.selectPoints(joined(marquee.before, within), [...within.keys()][0] ?? c.shot.path);
      return;
    }
    if (!drag) return;
    let dx = p.x - drag.from.x;
    let dy = p.y - drag.from.y;
    if (drag.pivot) {
      c.view.set({ pivot: { x: drag.pivot.x + dx, y: drag.pivot.y + dy } });
      return;
    }
    // A press that trembles is not a drag.
    if (!c.shot.draft && dx * dx + dy * dy < (2 * c.perPixel) ** 2) return;
    if (drag.lead && c.view.snap) [dx, dy] = snapped(c, drag.lead, dx, dy, c.shot.points);
    c.shot.setDraft(
      editsFor(
        c,
        drag.targets.map(({ path }, i) => ({ path, shape: drag.change(i, dx, dy, p) })),
      ),
    );
  }

  up(_p: ToolPointer, c: ToolContext): void {
    const { drag } = this;
    this.drag = null;
    if (this.marquee) {
      this.marquee = null;
      c.view.set({ marquee: null });
    } else if (drag && c.shot.draft) c.shot.commit(drag.label);
  }

  cancel(c: ToolContext): void {
    this.drag = null;
    this.marquee = null;
    this.nudging = false;
    c.view.set({ marquee: null });
    c.shot.setDraft(null);
  }

  key(event: KeyboardEvent, c: ToolContext): boolean {
    const { path: active } = c.shot;
    const paths = editable(c).map((e) => e.path);
    const path = paths.find((q) => q.id === active) ?? null;
    const key = keyName(event);
    if ((key === 'p' || key === 'Shift+p') && paths.length > 0) {
      // Walks through the points of all editable curves.
      const places = paths.flatMap((q) => shapeAt(q, c.view.frame).map((_, index) => ({ path: q.id, index })));
      if (places.length === 0) return true;
      const now = places.findIndex((q) => q.path === active && pointsOf(c.shot.points, q.path).has(q.index));
      const next = places[(now + (key === 'p' ? 1 : places.length - 1) + (now < 0 && key !== 'p' ? 1 : 0)) % places.length];
      c.shot.selectPoints(onePath(next.path, new Set([next.index])), next.path);
      return true;
    }
    if (key === 'Escape' && countOf(c.shot.points) > 0) {
      c.shot.selectPoints(NO_POINTS, null);
      return true;
    }
    if ((key === 'a' || key === 'Shift+a') && paths.length > 0) {
      // The active curve's points; with Shift, or without an active curve, those of all.
      const those = path && key === 'a' ? [path] : paths;
      c.shot.selectPoints(new Map(those.map((q) => [q.id, new Set(shapeAt(q, c.view.frame).keys())])), path?.id ?? paths[0].id);
      return true;
    }
    const chosen = selection(c);
    const arrow = arrowOf(event);
    if (arrow && (chosen.length > 0 || path)) {
      const targets =
        chosen.length > 0
          ? chosen.map((s) => ({ path: s.path, shape: moveWeighted(s.shape, softWeights(s.shape, s.vertices, c.view.soft), arrow.x, arrow.y) }))
          : path
            ? [{ path, shape: shiftWhole(shapeAt(path, c.view.frame), arrow.x, arrow.y) }]
            : [];
      c.shot.setDraft(editsFor(c, targets));
      this.nudging = true;
      return true;
    }
    if (key === 'Delete' || key === 'Backspace') {
      if (chosen.length > 0) this.deletePoints(c, chosen);
      else if (path) {
        c.shot.commit('Delete curve', [{ kind: 'remove', id: path.id }]);
        c.shot.selectPoints(NO_POINTS, null);
      }
      return chosen.length > 0 || path !== null;
    }
    if (key === 't' && chosen.length > 0) {
      const first = chosen[0].shape[[...chosen[0].vertices][0]];
      const next: Record<PointKind, PointKind> = { corner: 'smooth', smooth: 'broken', broken: 'corner' };
      setKind(c, next[pointKind(first)]);
      return true;
    }
    if (key === 'x' && chosen.length > 0) {
      // A new point in the middle of the segment after the last selected one.
      const { path: at, vertices } = chosen[chosen.length - 1];
      const index = Math.max(...vertices);
      c.shot.commit(
        'Add point',
        everyKeyEdits(at, (s) => insertVertex(s, index, 0.5)),
      );
      c.shot.selectPoints(onePath(at.id, new Set([index + 1])), at.id);
      return true;
    }
    return false;
  }

  private deletePoints(c: ToolContext, chosen: ReturnType<typeof selection>): void {
    const edits = chosen.flatMap(({ path, shape, vertices }): Edit[] =>
      shape.length - vertices.size < 2 ? [{ kind: 'remove', id: path.id }] : everyKeyEdits(path, (s) => removeVertices(s, vertices, path.closed)),
    );
    c.shot.commit(countOf(c.shot.points) > 1 ? 'Delete points' : 'Delete point', edits);
    c.shot.selectPoints(NO_POINTS, c.shot.path);
  }

  keyUp(c: ToolContext): void {
    if (!this.nudging) return;
    this.nudging = false;
    if (c.shot.draft) c.shot.commit(countOf(c.shot.points) > 0 ? 'Nudge points' : 'Nudge curve');
  }

  hint(c: ToolContext): string {
    if (!c.view.outlines) return 'The curves are hidden: press O to show them and work on them.';
    const chosen = countOf(c.shot.points);
    if (chosen === 0 && !c.shot.path)
      return c.shot.document.cast.length === 0
        ? 'Nothing isolated yet. Press Z and paint on the subject, or D and draw round it.'
        : 'Click a point, a curve or its inside to move it. Drag on the picture for a box, Alt-drag for a lasso. D draws a new curve.';
    const open = editable(c).find((e) => e.path.id === c.shot.path && !e.path.closed);
    if (open) return 'This curve is open and masks nothing. Press D to go on drawing, or close it in the settings.';
    if (chosen > 1)
      return 'Drag or arrow keys move. G shows the frame that scales, turns and (Alt on a side) skews. T: corner, smooth, broken. Shift adds and takes out.';
    if (chosen === 1)
      return 'Drag or arrow keys move; double-click the curve adds a point; Delete takes it away; T: corner, smooth, broken; Alt on a handle turns it alone.';
    return 'Drag the curve or its inside to move it as a whole. Double-click the curve to add a point.';
  }
}

const shiftWhole = (shape: Shape, dx: number, dy: number): Shape => shape.map((v) => ({ ...v, x: v.x + dx, y: v.y + dy }));

/** Makes all selected points of a kind, on every key. */
function setKind(c: ToolContext, kind: PointKind): void {
  c.shot.commit(
    kind === 'corner' ? 'Make corners' : kind === 'smooth' ? 'Make smooth' : 'Break handles',
    selection(c).flatMap(({ path, vertices }) => everyKeyEdits(path, (s) => makeKind(s, vertices, kind))),
  );
}

export const EDIT: ToolDescription<'edit'> = {
  id: 'edit',
  label: 'Change curves',
  about: 'Points, handles and whole curves, by drag.',
  icon: SquareDashedMousePointer,
  bind: ['e'],
  does: 'Tool: change curves',
  benches: ['isolate', 'edge'],
  help: 'by-hand#changing-a-curve',
  make: () => new EditTool(),
};
