/** Drawing by hand: the line that the pointer leaves becomes a closed curve of few points. */
import { Pencil } from 'lucide-react';
import { fitLine } from '~/core/path/fit.ts';
import { beginPath } from '../edits/path-edits.ts';
import { onePath } from '../edits/points.ts';
import { keyName, type Tool, type ToolContext, type ToolDescription, type ToolPointer } from './tool.ts';

/** How far a drawn line goes, across or down. */
export const extentOf = (line: readonly { x: number; y: number }[], key: 'x' | 'y'): number =>
  Math.max(...line.map((q) => q[key])) - Math.min(...line.map((q) => q[key]));

export class HandTool implements Tool {
  private line: { x: number; y: number }[] | null = null;

  down(p: ToolPointer, c: ToolContext): void {
    c.view.play(0);
    this.line = [{ x: p.x, y: p.y }];
    c.view.set({ marquee: { lasso: true, points: [p.x, p.y] } });
  }

  move(p: ToolPointer, c: ToolContext): void {
    if (!this.line) return;
    this.line.push({ x: p.x, y: p.y });
    c.view.set({ marquee: { lasso: true, points: this.line.flatMap((q) => [q.x, q.y]) } });
  }

  up(_p: ToolPointer, c: ToolContext): void {
    const { line } = this;
    this.line = null;
    c.view.set({ marquee: null });
    if (!line) return;
    const shape = fitLine(line, true, c.view.handTolerance);
    // A press, or a stroke along a line, holds nothing.
    if (shape.length < 2 || Math.min(extentOf(line, 'x'), extentOf(line, 'y')) < 3 * c.perPixel) return;
    const begun = beginPath(c.shot.document, c.shot.selected, c.view.frame, shape, c.newId, true);
    if (!c.shot.commit('Draw by hand', begun.edits)) return;
    c.shot.select(begun.partId);
    c.shot.selectPoints(onePath(begun.pathId, new Set()), begun.pathId);
  }

  cancel(c: ToolContext): void {
    this.line = null;
    c.view.set({ marquee: null });
  }

  key(event: KeyboardEvent, c: ToolContext): boolean {
    if (keyName(event) !== 'Escape') return false;
    c.view.setTool('edit');
    return true;
  }

  keyUp(): void {}

  hint(c: ToolContext): string {
    return `Draw round the subject in one go: the line closes by itself and keeps within ${c.view.handTolerance} px of your hand. By keyboard: use the drawing tool (D).`;
  }
}

export const HAND: ToolDescription<'hand'> = {
  id: 'hand',
  label: 'Draw by hand',
  about: 'In one go round the subject.',
  icon: Pencil,
  bind: ['j'],
  does: 'Tool: draw by hand',
  benches: ['isolate'],
  help: 'by-hand#drawing-a-curve',
  cursor: 'crosshair',
  make: () => new HandTool(),
};
