import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import type { PeelPart } from '~/core/document/schema.ts';
import { pointer as at, Page } from '~/tests/tool-page.ts';
import { TO_COME } from '../edits/stroke-to-come.ts';
import { BrushTool } from './brush-tool.ts';
import type { ToolPointer } from './tool.ts';

let page: Page;
let tool: BrushTool;
beforeEach(() => {
  page = new Page();
  tool = new BrushTool();
});
afterEach(() => vi.useRealTimers());

const stroke = (points: [number, number][], more: Partial<ToolPointer> = {}) => {
  tool.down(at(...points[0], more), page.context());
  for (const p of points.slice(1)) tool.move(at(...p, more), page.context());
  tool.up(at(...points[points.length - 1], more), page.context());
};
const peel = () => page.settled.cast[0]?.parts[0] as PeelPart;
const key = (name: string) => tool.key({ key: name, shiftKey: false, altKey: false } as KeyboardEvent, page.context());
const brush = () => page.view.getState().brush;

describe('the brush', () => {
  it('makes a subject and its Peel with the first stroke, on this frame, and adds to it', () => {
    stroke([
      [100, 100],
      [120, 100],
      [140, 110],
    ]);
    expect(peel()).toMatchObject({
      type: 'peel',
      strokes: [{ frame: 10, kind: 'keep', radius: 8, points: [100, 100, 120, 100, 140, 110], enabled: true }],
    });
    expect(page.selected).toBe(peel().id);
    stroke([[300, 300]], { alt: true });
    expect(peel().strokes.map((s) => [s.kind, s.points])).toEqual([
      ['keep', [100, 100, 120, 100, 140, 110]],
      ['drop', [300, 300]],
    ]);
    expect(page.steps).toEqual(['Keep stroke', 'Drop stroke']);
    expect(page.view.getState().painted).toEqual({ part: peel().id, frame: 10 });
  });

  it('mends a frame to which something was carried, and goes on with a frame as it was begun', () => {
    const dot = () => stroke([[100, 100]]);
    dot();
    page.carriedFrames = [10, 20];
    dot();
    page.view.setState({ frame: 20 });
    dot();
    // What was carried there is found anew now, and not there yet.
    page.carriedFrames = [];
    dot();
    page.view.setState({ frame: 30 });
    dot();
    expect(peel().strokes.map((s) => [s.frame, s.mends])).toEqual([
      [10, false],
      [10, false],
      [20, true],
      [20, true],
      [30, false],
    ]);
  });

  it('says what painting does to what is seen', () => {
    const hint = () => tool.hint(page.context());
    expect(hint()).toMatch(/^Paint on the subject to keep it/);
    stroke([[100, 100]]);
    expect(hint()).toMatch(/^Alt paints the other kind/);
    page.view.setState({ view: 'plate' });
    expect(hint()).toMatch(/press 2 to see it as a tint/);
    page.view.setState({ view: 'tint' });
    page.view.setState({ frame: 20 });
    expect(hint()).toMatch(/^Paint on the subject to keep it/);
    page.carriedFrames = [20];
    expect(hint()).toMatch(/^Paint on what is missing/);
  });

  it('paints straight with Shift, and nothing beside the picture', () => {
    stroke(
      [
        [100, 100],
        [130, 180],
        [200, 100],
      ],
      { shift: true },
    );
    expect(peel().strokes[0].points).toEqual([100, 100, 200, 100]);
    stroke([
      [-50, -50],
      [-30, -40],
    ]);
    expect(peel().strokes).toHaveLength(1);
  });

  it('shows the stroke that is being painted, and gives it up', () => {
    tool.down(at(50, 50), page.context());
    tool.move(at(80, 50), page.context());
    expect(page.view.getState().painting).toEqual({ kind: 'keep', radius: 8, points: [50, 50, 80, 50] });
    tool.cancel(page.context());
    expect(page.view.getState().painting).toBeNull();
    expect(page.steps).toEqual([]);
  });

  it('erases parts of the strokes of this frame, each piece in its place in the order', () => {
    stroke([
      [100, 100],
      [300, 100],
    ]);
    stroke([[200, 200]], { alt: true });
    page.view.getState().goTo(11);
    stroke([
      [100, 100],
      [300, 100],
    ]);
    page.view.getState().goTo(10);
    page.view.getState().set({ brush: { ...brush(), kind: 'erase', radius: 20 } });
    stroke([
      [200, 60],
      [200, 140],
    ]);
    const [left, right, drop, other] = peel().strokes;
    expect([left.points[0], right.points.at(-2), drop.kind, other.frame]).toEqual([100, 300, 'drop', 11]);
    expect(left.points.at(-2)).toBeLessThan(181);
    expect(right.points[0]).toBeGreaterThan(219);
    expect(other.points).toEqual([100, 100, 300, 100]);
    stroke([[600, 500]]);
    expect(page.steps).toHaveLength(4);
  });

  it('is worked by keys: a dot at the cross-hair, the other kind, larger and smaller, the last stroke taken away', () => {
    key('ArrowRight');
    key('Enter');
    expect(peel().strokes[0].points).toEqual([481, 270]);
    key('x');
    expect(brush().kind).toBe('drop');
    key('+');
    expect(brush().radius).toBeCloseTo(9.6);
    for (let i = 0; i < 50; i++) key('-');
    expect(brush().radius).toBe(1);
    key('Backspace');
    expect(peel().strokes).toEqual([]);
    expect(key('q')).toBe(false);
  });

  it('shows what a click would take where the pointer rests, and leaves nothing of it behind', () => {
    vi.useFakeTimers();
    page.view.getState().set({ brush: { ...brush(), ahead: true } });
    tool.hover(at(200, 200), page.context());
    vi.advanceTimersByTime(100);
    expect(page.draft).toBeNull();
    vi.advanceTimersByTime(200);
    expect((page.document.cast[0].parts[0] as PeelPart).strokes[0]).toMatchObject({ id: TO_COME, points: [200, 200], kind: 'keep' });
    tool.hover(at(260, 200), page.context());
    expect(page.draft).toBeNull();
    vi.advanceTimersByTime(300);
    expect(page.draft).not.toBeNull();
    stroke([[260, 200]]);
    expect(peel().strokes.map((s) => s.points)).toEqual([[260, 200]]);
    expect(peel().strokes[0].id).not.toBe(TO_COME);
    tool.hover(at(300, 300), page.context());
    tool.leave(page.context());
    vi.advanceTimersByTime(1000);
    expect(page.draft).toBeNull();
    expect(page.steps).toEqual(['Keep stroke']);
  });

  it('paints where the edge is soft, and leaves that kind with X', () => {
    page.view.getState().set({ brush: { ...brush(), kind: 'soft' } });
    stroke([[100, 100]]);
    expect(peel().strokes[0].kind).toBe('soft');
    expect(page.steps).toEqual(['Soft stroke']);
    key('x');
    expect(brush().kind).toBe('keep');
  });

  it('paints nothing on a Peel that is locked', () => {
    stroke([[100, 100]]);
    page.commit('Lock', [{ kind: 'assign', id: peel().id, values: { locked: true } }]);
    stroke([[200, 100]]);
    expect(peel().strokes).toHaveLength(1);
    expect(tool.hint(page.context())).toMatch(/locked/);
  });

  it('keeps how hard a pen was pressed, also in the pieces that erasing leaves', () => {
    tool.down(at(100, 100, { pressure: 0.25 }), page.context());
    tool.move(at(140, 100, { pressure: 0.5 }), page.context());
    tool.move(at(180, 100, { pressure: 1 }), page.context());
    tool.up(at(180, 100, { pressure: 0 }), page.context());
    expect(peel().strokes[0]).toMatchObject({ points: [100, 100, 140, 100, 180, 100], pressures: [0.25, 0.5, 1] });
    page.view.getState().set({ brush: { ...brush(), kind: 'erase', radius: 4 } });
    stroke([[160, 100]]);
    expect(peel().strokes.map((s) => s.pressures?.length === s.points.length / 2)).toEqual([true, true]);
    expect(peel().strokes.map((s) => [s.pressures?.[0], s.pressures?.at(-1)])).toEqual([
      [0.25, 0.5],
      [1, 1],
    ]);
    page.view.getState().set({ brush: { ...brush(), kind: 'keep' } });
    stroke([[300, 200]]);
    expect(peel().strokes.at(-1)).not.toHaveProperty('pressures');
  });

  it('is sized by a drag with Ctrl, which paints nothing', () => {
    const { radius } = brush();
    stroke(
      [
        [200, 100],
        [215, 90],
      ],
      { ctrl: true },
    );
    expect(brush().radius).toBe(radius + 15);
    expect(page.settled.cast).toEqual([]);
    stroke(
      [
        [200, 100],
        [-400, 100],
      ],
      { ctrl: true },
    );
    expect(brush().radius).toBe(1);
  });

  it('draws loops, which hold something, and leaves them whole when it erases', () => {
    page.view.getState().set({ brush: { ...brush(), kind: 'loop' } });
    stroke([
      [100, 100],
      [103, 101],
      [106, 100],
    ]);
    expect(page.settled.cast).toEqual([]);
    const loop: [number, number][] = [
      [100, 100],
      [300, 100],
      [300, 250],
      [100, 250],
    ];
    stroke(loop);
    expect(peel().strokes).toMatchObject([{ kind: 'loop', frame: 10, points: loop.flat() }]);
    page.view.getState().set({ brush: { ...brush(), kind: 'erase' } });
    stroke([[100, 100]]);
    expect(peel().strokes).toHaveLength(1);
  });
});
