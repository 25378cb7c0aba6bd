/** Ready-made shapes: dragged over a box, or put in the middle with Enter. */
import { Shapes } from 'lucide-react';
import { type ReadyMade, readyMade } from '~/core/path/ready-made.ts';
import { beginPath } from '../edits/path-edits.ts';
import { onePath } from '../edits/points.ts';
import { keyName, type Tool, type ToolContext, type ToolDescription, type ToolPointer } from './tool.ts';

export const SHAPE_WORDS: Record<ReadyMade, string> = {
  rectangle: 'Rectangle',
  ellipse: 'Ellipse',
  band: 'Band',
  'half-plane': 'Half-plane',
  polygon: 'Polygon',
  star: 'Star',
  heart: 'Heart',
};

export class ShapeTool implements Tool {
  private from: ToolPointer | null = null;
  /** Ids of the curve, and of what may have to be made to hold it: they stay the same while it is dragged out. */
  private ids: string[] = [];
  private made: { path: string; part: string } | null = null;

  down(p: ToolPointer, c: ToolContext): void {
    c.view.play(0);
    this.from = p;
  }

  private place(c: ToolContext, x0: number, y0: number, x1: number, y1: number): void {
    const { width, height } = c.shot.document.plate;
    const shape = readyMade(c.view.readyMade, x0, y0, x1, y1, Math.max(width, height), c.view.shapeOptions);
    if (this.ids.length === 0) this.ids = [c.newId(), c.newId(), c.newId()];
    let next = 0;
    const begun = beginPath(c.shot.history.settled, c.shot.selected, c.view.frame, shape, () => this.ids[next++], true, SHAPE_WORDS[c.view.readyMade]);
    this.made = { path: begun.pathId, part: begun.partId };
    c.shot.setDraft(begun.edits);
  }

  move(p: ToolPointer, c: ToolContext): void {
    const { from } = this;
    if (!from || (Math.abs(p.x - from.x) < 2 * c.perPixel && Math.abs(p.y - from.y) < 2 * c.perPixel)) return;
    let [dx, dy] = [p.x - from.x, p.y - from.y];
    if (p.shift) {
      const side = Math.max(Math.abs(dx), Math.abs(dy));
      [dx, dy] = [Math.sign(dx || 1) * side, Math.sign(dy || 1) * side];
    }
    // With Alt the press is the middle.
    const [x0, y0] = p.alt ? [from.x - dx, from.y - dy] : [from.x, from.y];
    this.place(c, x0, y0, from.x + dx, from.y + dy);
  }

  up(_p: ToolPointer, c: ToolContext): void {
    this.from = null;
    this.finish(c);
  }

  private finish(c: ToolContext): void {
    const { made } = this;
    this.forget();
    if (!made || !c.shot.draft || !c.shot.commit(`Add ${SHAPE_WORDS[c.view.readyMade].toLowerCase()}`)) return;
    c.shot.select(made.part);
    c.shot.selectPoints(onePath(made.path, new Set()), made.path);
    c.view.setTool('edit');
  }

  private forget(): void {
    this.ids = [];
    this.made = null;
  }

  cancel(c: ToolContext): void {
    this.from = null;
    this.forget();
    c.shot.setDraft(null);
  }

  key(event: KeyboardEvent, c: ToolContext): boolean {
    const key = keyName(event);
    if (key === 'Enter') {
      const { width, height } = c.shot.document.plate;
      this.place(c, width * 0.3, height * 0.3, width * 0.7, height * 0.7);
      this.finish(c);
      return true;
    }
    if (key !== 'Escape') return false;
    c.view.setTool('edit');
    return true;
  }

  keyUp(): void {}

  hint(c: ToolContext): string {
    return `${SHAPE_WORDS[c.view.readyMade]}: drag from corner to corner; Shift keeps it even, Alt begins in the middle, Enter puts one in the middle of the picture.`;
  }
}

export const SHAPE: ToolDescription<'shape'> = {
  id: 'shape',
  label: 'Ready-made shapes',
  about: 'Rectangles, ellipses, stars, saved shapes.',
  icon: Shapes,
  bind: ['q'],
  does: 'Tool: ready-made shapes',
  benches: ['isolate'],
  help: 'by-hand#drawing-a-curve',
  keys: [['Enter', 'Ready-made shapes: put one in the middle']],
  cursor: 'crosshair',
  make: () => new ShapeTool(),
};
