/** Drawing lines of its own for an element, free and open: they are no matter of the cast. */
import { Signature } from 'lucide-react';
import type { Element } from '~/core/document/schema.ts';
import { elementById } from '~/core/elements/index.ts';
import { fitLine } from '~/core/path/fit.ts';
import { corner } from '~/core/path/path.ts';
import { extentOf } from './hand-tool.ts';
import { placeToldIn } from './place-tool.ts';
import { keyName, type Tool, type ToolContext, type ToolDescription, type ToolPointer } from './tool.ts';

/** How long a dab is, pixels: a line has two ends. */
const DAB = 0.1;

/** The selected element, where it can be made from lines. */
function drawnElement({ shot }: Pick<ToolContext, 'shot'>): Element | null {
  const item = shot.history.settled.lanes.find((l) => l.id === shot.selected);
  return item?.type === 'element' && elementById(item.element).has === 'outline' ? item : null;
}

export class ScribbleTool implements Tool {
  private line: { seen: number[]; told: { x: number; y: number }[]; item: Element } | null = null;

  private add({ seen, told, item }: NonNullable<ScribbleTool['line']>, p: ToolPointer, c: ToolContext): void {
    const [x, y] = placeToldIn(item, p, c);
    told.push({ x, y });
    seen.push(p.x, p.y);
    c.view.set({ marquee: { lasso: true, points: [...seen] } });
  }

  down(p: ToolPointer, c: ToolContext): void {
    c.view.play(0);
    const item = drawnElement(c);
    if (!item) return;
    this.line = { seen: [], told: [], item };
    this.add(this.line, p, c);
  }

  move(p: ToolPointer, c: ToolContext): void {
    if (this.line) this.add(this.line, p, c);
  }

  up(_p: ToolPointer, c: ToolContext): void {
    const { line } = this;
    this.line = null;
    c.view.set({ marquee: null });
    if (!line) return;
    const shape = fitLine(line.told, false, c.view.handTolerance);
    const { id, drawn, element } = line.item;
    const kind = elementById(element);
    if (shape.length < 2 || Math.max(extentOf(line.told, 'x'), extentOf(line.told, 'y')) < 3 * c.perPixel) {
      // A press is no line, but a dab of a brush.
      if (kind.placed || !kind.brush) return;
      const [{ x, y }] = line.told;
      c.shot.commit('Paint a dab', [{ kind: 'assign', id, values: { drawn: [...drawn, [corner(x, y), corner(x + DAB, y)]], of: null } }]);
      return;
    }
    c.shot.commit('Draw a line', [{ kind: 'assign', id, values: { drawn: [...drawn, shape], of: null } }]);
  }

  cancel(c: ToolContext): void {
    this.line = null;
    c.view.set({ marquee: null });
  }

  key(event: KeyboardEvent, c: ToolContext): boolean {
    if (keyName(event) !== 'Escape') return false;
    c.view.setTool('place');
    return true;
  }

  keyUp(): void {}

  hint(c: ToolContext): string {
    const item = drawnElement(c);
    if (!item) return 'Select a Line, a Shape or a Patch in the lanes to draw it; + in a lane adds one.';
    return `${item.name}: draw in the picture, as many lines as you like; undo takes back the last. By keyboard: make it from an open curve of the cast.`;
  }
}

export const SCRIBBLE: ToolDescription<'scribble'> = {
  id: 'scribble',
  label: 'Draw lines',
  about: 'Free lines for an element that is made from such.',
  icon: Signature,
  bind: ['Shift+L'],
  does: 'Tool: draw lines of an element',
  benches: ['compose'],
  help: 'composing#placing-an-element',
  cursor: 'crosshair',
  make: () => new ScribbleTool(),
};
