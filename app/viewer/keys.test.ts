import { describe, expect, it } from 'vitest';
import { newPointTrack } from '~/core/document/records.ts';
import { Page, pointer } from '~/tests/tool-page.ts';
import { SHORTCUTS } from '../state/shortcuts.ts';
import { BrushTool } from '../tools/brush-tool.ts';
import { DrawTool } from '../tools/draw-tool.ts';
import { EditTool } from '../tools/edit-tool.ts';
import { FeatherTool } from '../tools/feather-tool.ts';
import { HandTool } from '../tools/hand-tool.ts';
import { MarkTool } from '../tools/mark-tool.ts';
import { ShapeTool } from '../tools/shape-tool.ts';
import { arrowOf, keyName, type Tool } from '../tools/tool.ts';

const NONE = { shiftKey: false, altKey: false, ctrlKey: false, metaKey: false };
const event = (key: string, more: Partial<typeof NONE> = {}) => ({ key, ...NONE, ...more }) as KeyboardEvent;

/** All keys that any tool takes. */
const KEYS = ['Enter', 'Backspace', 'Delete', 'Escape', 'ArrowLeft', 'ArrowUp', 'a', 'A', 'p', 'P', 't', 'x', 'X', '-', '+', '='];

const TOOLS: [string, () => Tool][] = [
  ['brush', () => new BrushTool()],
  ['draw', () => new DrawTool()],
  ['edit', () => new EditTool()],
  ['feather', () => new FeatherTool()],
  ['hand', () => new HandTool()],
  ['mark', () => new MarkTool()],
  ['shape', () => new ShapeTool()],
];

/** A page on which every key of every tool would find something to do. */
function busyPage(): Page {
  const page = new Page();
  page.withSquare();
  page.vertices = new Set([0]);
  const point = newPointTrack({ id: 'point', name: 'Point 1', frame: 10, lines: 540 }, 50, 50);
  page.commit('Set point', [{ kind: 'insert', parent: 'tracks', index: 0, record: point }]);
  const brush = new BrushTool();
  brush.down(pointer(150, 150), page.context());
  brush.up(pointer(150, 150), page.context());
  page.steps = [];
  return page;
}

describe('a key with Ctrl or the command key', () => {
  it.each(TOOLS)('never does what the bare key does (%s)', (_name, make) => {
    for (const stabilised of ['ctrlKey', 'metaKey'] as const)
      for (const key of KEYS) {
        const page = busyPage();
        const tool = make();
        const before = { document: page.document, brush: page.view.getState().brush, tool: page.view.getState().tool, points: page.points };
        expect([key, tool.key(event(key, { [stabilised]: true }), page.context())]).toEqual([key, false]);
        tool.keyUp(page.context());
        const { brush, tool: inHand } = page.view.getState();
        expect({ document: page.document, brush, tool: inHand, points: page.points }).toEqual(before);
        expect(page.steps).toEqual([]);
      }
  });

  it('leaves a stroke that was just painted alone: Ctrl Enter, Shift Enter and Alt Enter paint nothing', () => {
    const page = new Page();
    const tool = new BrushTool();
    tool.down(pointer(100, 100), page.context());
    tool.up(pointer(100, 100), page.context());
    for (const more of [{ ctrlKey: true }, { metaKey: true }, { shiftKey: true }, { altKey: true }]) tool.key(event('Enter', more), page.context());
    expect(page.steps).toEqual(['Keep stroke']);
    tool.key(event('Enter'), page.context());
    expect(page.steps).toEqual(['Keep stroke', 'Keep stroke']);
  });
});

describe('the name of a key', () => {
  it('tells what is held with it, whatever Caps Lock does to letters', () => {
    expect([event('a'), event('A'), event('A', { shiftKey: true }), event('Enter', { shiftKey: true })].map(keyName)).toEqual([
      'a',
      'a',
      'Shift+a',
      'Shift+Enter',
    ]);
    // On many keyboards + needs Shift.
    expect(keyName(event('+', { shiftKey: true }))).toBe('+');
    expect([event('a', { ctrlKey: true }), event('a', { metaKey: true }), event('a', { altKey: true })].map(keyName)).toEqual([null, null, null]);
  });

  it('arrows go by one pixel, ten, or a tenth, and not with Ctrl', () => {
    expect(
      [event('ArrowUp'), event('ArrowUp', { shiftKey: true }), event('ArrowUp', { altKey: true }), event('ArrowUp', { ctrlKey: true })].map(arrowOf),
    ).toEqual([{ x: 0, y: -1 }, { x: 0, y: -10 }, { x: 0, y: -0.1 }, null]);
  });
});

describe('the shortcuts', () => {
  it('are each bound once', () => {
    const all = SHORTCUTS.flatMap(({ items }) => Object.values(items).flatMap((s) => s.bind));
    expect(new Set(all).size).toBe(all.length);
  });
});
