/** For tests of the viewer's tools: a page without a screen. */

import { NO_POINTS, onePath, type Points, pointsOf } from '~/app/edits/points.ts';
import { createViewStore } from '~/app/state/view-store.ts';
import type { ToolContext, ToolPointer } from '~/app/tools/tool.ts';
import { applyChange, type Edit } from '~/core/document/edits.ts';
import { shapeAt } from '~/core/document/follow.ts';
import { newSpline } from '~/core/document/part-kinds/spline.ts';
import { findPath } from '~/core/document/parts.ts';
import { newDocument, newPath, newSubject } from '~/core/document/records.ts';
import type { ShotDocument } from '~/core/document/schema.ts';
import { corner, type Shape } from '~/core/path/path.ts';
import { hasKeys } from '~/core/time/animated.ts';
import type { Reach } from '~/core/time/reach.ts';

/** The pointer at a place, with nothing held. */
export const pointer = (x: number, y: number, more: Partial<ToolPointer> = {}): ToolPointer => ({
  x,
  y,
  shift: false,
  alt: false,
  ctrl: false,
  pressure: null,
  clicks: 1,
  ...more,
});

const SQUARE: Shape = [corner(100, 100), corner(200, 100), corner(200, 200), corner(100, 200)];

/** A page without a screen: the document with its draft and steps, as the store of a shot keeps them. */
export class Page {
  document: ShotDocument = newDocument('Test', { width: 960, height: 540, frames: 50, rate: { num: 24, den: 1 }, firstNumber: 0 });
  settled = this.document;
  draft: Edit[] | null = null;
  steps: string[] = [];
  /** Tracks that were asked to run again. */
  again: [string, number][] = [];
  /** Frames on which something carried is seen. */
  carriedFrames: number[] = [];
  selected: string | null = null;
  path: string | null = null;
  points: Points = NO_POINTS;
  get vertices() {
    return pointsOf(this.points, this.path);
  }
  set vertices(vertices: ReadonlySet<number>) {
    this.points = this.path ? onePath(this.path, vertices) : NO_POINTS;
  }
  reach: Reach = 'between-keys';
  readonly view = createViewStore({ frames: 50, frame: 10, bench: 'isolate', plate: { width: 960, height: 540 } });
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
          points: page.points,
          history: { settled: page.settled },
          reach: page.reach,
          setDraft: (e: Edit[] | null) => page.setDraft(e),
          commit: (label: string, edits?: Edit[]) => page.commit(label, edits),
          select: (id: string | null) => {
            page.selected = id;
          },
          selectPoints: (points: Points, path: string | null) => {
            page.path = path;
            page.points = points;
          },
        } as unknown as ToolContext['shot'];
      },
      get view() {
        return page.view.getState();
      },
      get subject() {
        return page.document.cast[0] ?? null;
      },
      perPixel: 1,
      newId: () => `id${this.counter++}`,
      crosshair: this.cross,
      carried: (_part, frame) => page.carriedFrames.includes(frame),
      trackAgain: (id, frame) => page.again.push([id, frame]),
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
    const place = findPath(this.document, this.path ?? 'path');
    if (!place) throw new Error('There is no path.');
    return shapeAt(place.path, frame);
  }
  keys(): number[] {
    const shape = findPath(this.document, this.path ?? 'path')?.path.shape;
    return shape && hasKeys(shape) ? shape.keys.map((k) => k.frame) : [];
  }
}
