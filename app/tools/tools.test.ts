import { beforeEach, describe, expect, it } from 'vitest';
import { findPath } from '~/core/document/parts.ts';
import type { Shape } from '~/core/path/path.ts';
import { pointer as at, Page } from '~/tests/tool-page.ts';
import { DrawTool } from './draw-tool.ts';
import { EditTool, hitTest } from './edit-tool.ts';
import { FeatherTool } from './feather-tool.ts';
import { HandTool } from './hand-tool.ts';
import { ShapeTool } from './shape-tool.ts';
import type { ToolPointer } from './tool.ts';

const key = (name: string, more: Partial<KeyboardEvent> = {}) =>
  ({ key: name, shiftKey: false, altKey: false, ctrlKey: false, metaKey: false, ...more }) as KeyboardEvent;

let page: Page;
beforeEach(() => {
  page = new Page();
});

describe('drawing', () => {
  const tool = new DrawTool();
  const click = (x: number, y: number) => {
    tool.down(at(x, y), page.context());
    tool.up(at(x, y), page.context());
  };

  it('makes subject, part and curve with the first point, a step a point, and closes on the first', () => {
    for (const [x, y] of [
      [10, 10],
      [60, 10],
      [60, 60],
    ])
      click(x, y);
    expect(page.steps).toEqual(['Begin curve', 'Add point', 'Add point']);
    expect(page.document.cast.map((s) => s.name)).toEqual(['Subject 1']);
    expect(findPath(page.document, page.path as string)?.path.closed).toBe(false);
    expect(tool.hint(page.context())).toMatch(/masks nothing yet/);
    click(12, 11);
    expect(findPath(page.document, page.path as string)?.path.closed).toBe(true);
    expect(page.shape()).toHaveLength(3);
    expect(page.view.getState().tool).toBe('edit');
  });

  it('a drag sets a smooth point, its handle where the drag ended', () => {
    click(10, 10);
    tool.down(at(60, 10), page.context());
    tool.move(at(75, 20), page.context());
    tool.up(at(75, 20), page.context());
    expect(page.shape()[1]).toMatchObject({ x: 60, y: 10, outX: 15, outY: 10, inX: -15, inY: -10 });
  });

  it('goes on over frames: every key gets each point', () => {
    click(10, 10);
    click(60, 10);
    page.view.getState().goTo(30);
    click(60, 60);
    expect([page.shape(10), page.shape(30)].map((s) => s.length)).toEqual([3, 3]);
  });

  it('needs no pointer: arrows, Enter, Shift Enter, and Backspace takes the last point back', () => {
    for (const moves of [[], ['ArrowRight'], ['ArrowDown'], ['ArrowDown']]) {
      for (const m of moves) for (let i = 0; i < 3; i++) tool.key(key(m, { shiftKey: true }), page.context());
      tool.key(key('Enter'), page.context());
    }
    expect(page.shape().map((v) => [v.x, v.y])).toEqual([
      [480, 270],
      [510, 270],
      [510, 300],
      [510, 330],
    ]);
    tool.key(key('Backspace'), page.context());
    expect(page.shape()).toHaveLength(3);
    tool.key(key('Enter', { shiftKey: true }), page.context());
    expect(findPath(page.document, page.path as string)?.path.closed).toBe(true);
  });

  it('given up in the middle leaves what was there', () => {
    click(10, 10);
    tool.down(at(60, 10), page.context());
    tool.move(at(90, 40), page.context());
    tool.cancel(page.context());
    expect(page.shape()).toHaveLength(1);
  });
});

describe('changing', () => {
  const tool = new EditTool();
  const drag = (from: [number, number], to: [number, number], more: Partial<ToolPointer> = {}) => {
    tool.down(at(...from, more), page.context());
    tool.move(at(...to, more), page.context());
    tool.up(at(...to, more), page.context());
  };

  it('finds points before curves before insides, and nothing outside', () => {
    page.withSquare();
    const found = (x: number, y: number) => hitTest({ x, y }, page.context())?.kind ?? null;
    expect([found(102, 99), found(150, 101), found(150, 150), found(300, 300)]).toEqual(['vertex', 'curve', 'inside', null]);
  });

  it('moves a point by a key here, several chosen points together, and the whole curve by its inside', () => {
    page.withSquare();
    drag([100, 100], [110, 105]);
    expect(page.shape()[0]).toMatchObject({ x: 110, y: 105 });
    expect(page.keys()).toEqual([0, 10, 20]);
    tool.down(at(200, 100, { shift: true }), page.context());
    tool.up(at(200, 100, { shift: true }), page.context());
    drag([200, 100], [200, 90]);
    expect(
      page
        .shape()
        .slice(0, 2)
        .map((v) => v.y),
    ).toEqual([95, 90]);
    page.vertices = new Set();
    drag([150, 150], [250, 150]);
    expect(page.shape()[2]).toMatchObject({ x: 300, y: 200 });
    expect(page.steps).toEqual(['Move point', 'Move points', 'Move curve']);
  });

  it('does what Reach says: all frames alike, or this frame alone', () => {
    page.withSquare();
    page.reach = 'all-frames';
    drag([150, 150], [160, 150]);
    expect([page.shape(0)[0].x, page.shape(20)[0].x, page.keys().length]).toEqual([110, 110, 2]);
    page.reach = 'this-frame';
    drag([160, 150], [160, 190]);
    expect([page.shape(9)[0].y, page.shape(10)[0].y, page.shape(11)[0].y]).toEqual([100, 140, 100]);
  });

  it('a press that trembles changes nothing', () => {
    page.withSquare();
    drag([100, 100], [101, 100]);
    expect(page.steps).toEqual([]);
  });

  it('a double click adds a point on every key; Delete takes it away again', () => {
    page.withSquare();
    tool.down(at(150, 100, { clicks: 2 }), page.context());
    tool.up(at(150, 100), page.context());
    expect([page.shape(0).length, page.shape(20).length, [...page.vertices]]).toEqual([5, 5, [1]]);
    tool.key(key('Delete'), page.context());
    expect([page.shape(0).length, page.shape(20).length]).toEqual([4, 4]);
  });

  it('nudges by 1, 10 and 0.1 px, one step for a held key', () => {
    page.withSquare();
    page.vertices = new Set([0]);
    for (let i = 0; i < 4; i++) tool.key(key('ArrowRight'), page.context());
    tool.keyUp(page.context());
    tool.key(key('ArrowDown', { shiftKey: true }), page.context());
    tool.keyUp(page.context());
    tool.key(key('ArrowUp', { altKey: true }), page.context());
    tool.keyUp(page.context());
    expect(page.shape()[0].x).toBeCloseTo(104, 9);
    expect(page.shape()[0].y).toBeCloseTo(109.9, 9);
    expect(page.steps).toEqual(['Nudge points', 'Nudge points', 'Nudge points']);
  });

  it('walks through the points with P, chooses all with A, lets go with Escape, and deletes the curve where none would be left', () => {
    page.withSquare();
    page.path = null;
    tool.key(key('p'), page.context());
    tool.key(key('p'), page.context());
    expect([page.path, [...page.vertices]]).toEqual(['path', [1]]);
    tool.key(key('P', { shiftKey: true }), page.context());
    expect([...page.vertices]).toEqual([0]);
    tool.key(key('a'), page.context());
    expect(page.vertices.size).toBe(4);
    tool.key(key('Delete'), page.context());
    expect(findPath(page.document, 'path')).toBeNull();
  });

  it('selects points in a box and in a lasso, and adds to them with Shift', () => {
    page.withSquare();
    drag([80, 80], [120, 220]);
    expect([...page.vertices].sort()).toEqual([0, 3]);
    drag([190, 80], [220, 120], { shift: true });
    expect([...page.vertices].sort()).toEqual([0, 1, 3]);
    tool.down(at(180, 180, { alt: true }), page.context());
    expect(page.steps).toEqual([]);
    tool.cancel(page.context());
    // A lasso begins outside every curve.
    tool.down(at(230, 180, { alt: true }), page.context());
    for (const [x, y] of [
      [230, 230],
      [180, 230],
      [185, 185],
    ])
      tool.move(at(x, y, { alt: true }), page.context());
    tool.up(at(185, 185), page.context());
    expect([...page.vertices]).toEqual([2]);
    expect(page.view.getState().marquee).toBeNull();
  });

  it('scales, turns and skews the selected points with the frame, about its centre', () => {
    page.withSquare();
    page.view.getState().set({ transforming: true });
    page.vertices = new Set([0, 1, 2, 3]);
    // The corner's handle stands 14 px off the box.
    drag([214, 214], [264, 264]);
    const size = (shape: Shape) => shape[1].x - shape[0].x;
    expect(size(page.shape())).toBeCloseTo(100 * (114 / 64), 6);
    page.commit('back', [{ kind: 'keys', id: 'path', setting: 'shape', set: [], clear: [10] }]);
    // Outside a corner the frame turns, with Shift by steps of 15 degrees.
    drag([228, 228], [150, 270], { shift: true });
    expect(Math.hypot(page.shape()[0].x - 150, page.shape()[0].y - 150)).toBeCloseTo(Math.hypot(50, 50), 6);
    const angle = Math.atan2(page.shape()[1].y - page.shape()[0].y, page.shape()[1].x - page.shape()[0].x);
    expect((angle * 180) / Math.PI).toBeCloseTo(45, 6);
    page.commit('back', [{ kind: 'keys', id: 'path', setting: 'shape', set: [], clear: [10] }]);
    // The centre is put on a corner of the square, which then stays where it is.
    drag([150, 150], [100, 100]);
    drag([214, 214], [250, 250]);
    expect(page.shape()[0]).toMatchObject({ x: expect.closeTo(100, 6), y: expect.closeTo(100, 6) });
    drag([232 + 14, 166], [246, 190], { alt: true });
    expect(page.steps.at(-1)).toMatch(/Skew|Scale/);
  });

  it('takes neighbours along within the soft radius, and snaps to other points', () => {
    page.withSquare();
    page.view.getState().set({ soft: 150 });
    drag([100, 100], [80, 100]);
    expect(page.shape()[0].x).toBeCloseTo(80, 9);
    expect(page.shape()[1].x).toBeLessThan(200);
    expect(page.shape()[1].x).toBeGreaterThan(185);
    page.view.getState().set({ soft: 0, snap: true });
    const target = page.shape()[3];
    drag([80, 100], [target.x + 4, target.y - 5]);
    expect(page.shape()[0]).toMatchObject({ x: target.x, y: target.y });
  });

  it('cycles corner, smooth and broken with T, and an Alt drag of a handle breaks it', () => {
    page.withSquare();
    page.vertices = new Set([0]);
    tool.key(key('t'), page.context());
    const v = page.shape()[0];
    expect(v.outX).not.toBe(0);
    drag([v.x + v.outX, v.y + v.outY], [v.x + 40, v.y + 10], { alt: true });
    expect(page.shape()[0]).toMatchObject({ free: true, inX: v.inX, inY: v.inY });
    drag([v.x + 40, v.y + 10], [v.x + 40, v.y - 30]);
    expect(page.shape()[0]).toMatchObject({ inX: v.inX, inY: v.inY, outY: expect.closeTo(-30, 9) });
  });

  it('leaves locked parts, and parts that do not live here, alone', () => {
    page.withSquare();
    page.commit('lock', [{ kind: 'assign', id: 'part', values: { locked: true } }]);
    expect(hitTest({ x: 100, y: 100 }, page.context())).toBeNull();
    page.commit('unlock', [{ kind: 'assign', id: 'part', values: { locked: false, range: { first: 0, last: 5 } } }]);
    expect(hitTest({ x: 100, y: 100 }, page.context())).toBeNull();
    page.view.getState().goTo(4);
    expect(hitTest({ x: 100, y: 100 }, page.context())?.kind).toBe('vertex');
  });

  it('keeps an edit within the marked range', () => {
    page.withSquare();
    page.reach = 'marked-range';
    page.view.getState().set({ fade: 0 });
    page.view.getState().setRange({ first: 8, last: 12 });
    drag([150, 150], [190, 150]);
    expect([7, 8, 10, 12, 13].map((f) => page.shape(f)[0].x)).toEqual([100, 140, 140, 140, 100]);
  });
});

describe('drawing by hand', () => {
  it('makes a closed curve of few points from one stroke', () => {
    const tool = new HandTool();
    const line = Array.from({ length: 120 }, (_, i) => at(300 + 80 * Math.cos((i / 120) * 6.28), 200 + 60 * Math.sin((i / 120) * 6.28)));
    tool.down(line[0], page.context());
    for (const p of line) tool.move(p, page.context());
    tool.up(line[119], page.context());
    expect(page.steps).toEqual(['Draw by hand']);
    expect(page.shape().length).toBeLessThan(12);
    expect(findPath(page.document, page.path as string)?.path.closed).toBe(true);
  });

  it('makes nothing of a press', () => {
    const tool = new HandTool();
    tool.down(at(5, 5), page.context());
    tool.up(at(5, 5), page.context());
    expect(page.steps).toEqual([]);
  });
});

describe('ready-made shapes', () => {
  const tool = new ShapeTool();
  it('are dragged from corner to corner, even with Shift, from the middle with Alt', () => {
    page.view.getState().set({ readyMade: 'ellipse' });
    tool.down(at(100, 100), page.context());
    tool.move(at(150, 130), page.context());
    tool.move(at(200, 160), page.context());
    tool.up(at(200, 160), page.context());
    expect(page.steps).toEqual(['Add ellipse']);
    expect(page.shape().map((v) => [v.x, v.y])).toEqual([
      [150, 100],
      [200, 130],
      [150, 160],
      [100, 130],
    ]);
    page.selected = null;
    page.view.getState().set({ readyMade: 'rectangle' });
    tool.down(at(300, 300), page.context());
    tool.move(at(340, 310, { shift: true, alt: true }), page.context());
    tool.up(at(340, 310), page.context());
    expect(page.shape()[0]).toMatchObject({ x: 260, y: 260 });
    expect(page.view.getState().tool).toBe('edit');
  });

  it('are put in the middle with Enter', () => {
    page.view.getState().set({ readyMade: 'star' });
    tool.key(key('Enter'), page.context());
    expect(page.shape()).toHaveLength(10);
    expect(page.document.cast[0].parts[0].name).toBe('Star');
  });
});

describe('feathering points', () => {
  const tool = new FeatherTool();
  it('sets the outer or the inner width by a drag, of one point or of all', () => {
    page.withSquare();
    tool.down(at(100, 100), page.context());
    tool.move(at(90, 90), page.context());
    tool.up(at(90, 90), page.context());
    expect(page.shape()[0].featherOut).toBeCloseTo(Math.hypot(10, 10), 6);
    tool.down(at(200, 200, { shift: true }), page.context());
    tool.move(at(195, 195, { shift: true }), page.context());
    tool.up(at(195, 195), page.context());
    expect(page.shape().map((v) => Math.round((v.featherIn ?? 0) * 100) / 100)).toEqual([7.07, 7.07, 7.07, 7.07]);
    expect(page.shape()[0].featherOut).toBeCloseTo(Math.hypot(10, 10), 6);
  });

  it('by keyboard: up and down outside, left and right inside', () => {
    page.withSquare();
    page.vertices = new Set([1]);
    for (const name of ['ArrowUp', 'ArrowUp', 'ArrowRight']) tool.key(key(name), page.context());
    tool.keyUp(page.context());
    expect(page.shape()[1]).toMatchObject({ featherOut: 2, featherIn: 1 });
    expect(page.steps).toEqual(['Feather points']);
  });
});
