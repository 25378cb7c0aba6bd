import { beforeEach, describe, expect, it } from 'vitest';
import { applyChange, type Edit } from '~/core/document/edits.ts';
import { newDocument, newPath, newSpline, newSubject } from '~/core/document/records.ts';
import type { ShotDocument } from '~/core/document/schema.ts';
import { corner, type Shape } from '~/core/path/path.ts';
import { hasKeys } from '~/core/time/animated.ts';
import type { Reach } from '~/core/time/reach.ts';
import { createViewStore } from '../state/view-store.ts';
import { DrawTool } from './draw-tool.ts';
import { EditTool, hitTest } from './edit-tool.ts';
import { placeOf, shapeAt } from './path-edits.ts';
import type { ToolContext, ToolPointer } from './tool.ts';

const SQUARE: Shape = [corner(100, 100), corner(200, 100), corner(200, 200), corner(100, 200)];

/** A page without a screen: the document with its draft and steps, as the store of a shot keeps them. */
class Page {
  document: ShotDocument = newDocument('Test', { width: 960, height: 540, frames: 50, rate: { num: 24, den: 1 }, firstNumber: 0 });
  settled = this.document;
  draft: Edit[] | null = null;
  steps: string[] = [];
  selected: string | null = null;
  path: string | null = null;
  vertices: ReadonlySet<number> = new Set();
  reach: Reach = 'between-keys';
  readonly view = createViewStore({ frames: 50, frame: 10, view: 'tint' });
  private counter = 0;
  private cross = { x: 480, y: 270 };

  setDraft(edits: Edit[] | null) {
    this.draft = edits;
    this.document = edits ? applyChange(this.settled, edits).document : this.settled;
  }
  commit(label: string, edits = this.draft ?? []) {
    this.settled = applyChange(this.settled, edits).document;
    this.setDraft(null);
    this.steps.push(label);
    return true;
  }
  context(): ToolContext {
    const page = this;
    return {
      get shot() {
        return {
          document: page.document,
          draft: page.draft,
          selected: page.selected,
          path: page.path,
          vertices: page.vertices,
          reach: page.reach,
          setDraft: (e: Edit[] | null) => page.setDraft(e),
          commit: (label: string, edits?: Edit[]) => page.commit(label, edits),
          select: (id: string | null) => {
            page.selected = id;
          },
          selectVertices: (path: string | null, vertices: ReadonlySet<number>) => {
            page.path = path;
            page.vertices = vertices;
          },
        } as unknown as ToolContext['shot'];
      },
      get view() {
        return page.view.getState();
      },
      perPixel: 1,
      newId: () => `id${this.counter++}`,
      crosshair: this.cross,
      moveCrosshair: (x, y) => {
        this.cross = { x, y };
      },
    };
  }
  /** A subject with the square, keyed on frames 0 and 20. */
  withSquare(): this {
    const path = newPath('path', 0, SQUARE, true);
    path.shape = { keys: [0, 20].map((frame) => ({ frame, value: SQUARE, ease: 'linear' as const })) };
    const subject = newSubject('s', 'Subject');
    subject.parts.push(newSpline('part', 'Part', [path]));
    this.commit('start', [{ kind: 'insert', parent: 'cast', index: 0, record: subject }]);
    this.steps = [];
    this.selected = 'part';
    this.path = 'path';
    return this;
  }
  shape(frame = this.view.getState().frame): Shape {
    const place = placeOf(this.document, this.path ?? 'path');
    if (!place) throw new Error('There is no path.');
    return shapeAt(place.path, frame);
  }
  keys(): number[] {
    const shape = placeOf(this.document, this.path ?? 'path')?.path.shape;
    return shape && hasKeys(shape) ? shape.keys.map((k) => k.frame) : [];
  }
}

const at = (x: number, y: number, more: Partial<ToolPointer> = {}): ToolPointer => ({ x, y, shift: false, alt: false, clicks: 1, ...more });
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
    expect(placeOf(page.document, page.path as string)?.path.closed).toBe(false);
    expect(tool.hint(page.context())).toMatch(/masks nothing yet/);
    click(12, 11);
    expect(placeOf(page.document, page.path as string)?.path.closed).toBe(true);
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
    expect(placeOf(page.document, page.path as string)?.path.closed).toBe(true);
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
    expect(placeOf(page.document, 'path')).toBeNull();
  });
});
