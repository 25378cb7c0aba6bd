import { beforeEach, describe, expect, it } from 'vitest';
import { newDocument, newPointTrack } from '~/core/document/records.ts';
import type { Element, LaneEffect, ShotDocument } from '~/core/document/schema.ts';
import { newLaneEffect } from '~/core/effects/lane-effect.ts';
import { newElement } from '~/core/elements/index.ts';
import { placeAt } from '~/core/elements/place.ts';
import { pointer } from '~/tests/tool-page.ts';
import { createShotStore, type ShotStore } from '../state/shot-store.ts';
import { createViewStore, type ViewStore } from '../state/view-store.ts';
import { PlaceTool } from './place-tool.ts';
import { ScribbleTool } from './scribble-tool.ts';
import type { ToolContext, ToolPointer } from './tool.ts';

let shot: ShotStore;
let view: ViewStore;
let tool: PlaceTool;

const context = (): ToolContext =>
  ({ shot: shot.getState(), view: view.getState(), subject: null, perPixel: 1, crosshair: { x: 0, y: 0 } }) as unknown as ToolContext;

const BOX = { width: 100, height: 40 };
const item = (): Element => shot.getState().document.lanes[0] as Element;

/** As the page does after each change: where the card stands by now. */
function look(): void {
  const { document } = shot.getState();
  const { frame } = view.getState();
  const motion = placeAt(document, item(), BOX, frame);
  view.getState().set({ stand: motion && { id: 'card', frame, box: BOX, motion } });
}

function begin(change: (document: ShotDocument, card: Element) => void = () => {}): void {
  const plate = { width: 400, height: 200, frames: 30, rate: { num: 24, den: 1 }, firstNumber: 0 };
  const document = newDocument('Test', plate);
  const card = newElement(document, 'card', 'front', null, 'card');
  change(document, card);
  document.lanes.push(card);
  shot = createShotStore('shot', { document, revision: 0, log: [] });
  view = createViewStore({ frames: 30, plate, frame: 10, bench: 'compose' });
  tool = new PlaceTool();
  shot.getState().select('card');
  look();
}

function drag(from: ToolPointer, to: ToolPointer): void {
  tool.down(from, context());
  tool.move(to, context());
  tool.up(to, context());
  look();
}
const value = (key: string): unknown => item().settings[key];

describe('the tool that places elements', () => {
  beforeEach(() => begin());

  it('aims an effect that goes in a direction by either end, by steps with Shift', () => {
    begin((document) => document.lanes.push(newLaneEffect('blur', 'front', null, 'directional-blur')));
    shot.getState().select('blur');
    const set = () => {
      const { settings } = shot.getState().document.lanes.find((l) => l.id === 'blur') as LaneEffect;
      return [settings.angle, settings.length].map((v) => (v as { constant: number }).constant);
    };
    expect(set()).toEqual([0, 40]);
    // About the middle, (200, 100): its right end is at 220.
    tool.down(pointer(220, 100), context());
    tool.move(pointer(200, 160), context());
    tool.up(pointer(200, 160), context());
    expect(set()).toEqual([90, 120]);
    // The other end now lies above.
    tool.down(pointer(200, 40), context());
    tool.move(pointer(148, 52, { shift: true }), context());
    tool.up(pointer(148, 52, { shift: true }), context());
    expect(set()[0]).toBe(45);
    // It steps aside of it and takes nothing.
    tool.down(pointer(20, 20), context());
    tool.move(pointer(60, 60), context());
    tool.up(pointer(60, 60), context());
    expect(set()[0]).toBe(45);
  });

  it('under Framing takes what is seen: a drag of so much on the screen is half of that where the picture is twice as large', () => {
    begin((document) => {
      const framing = newLaneEffect('zoom', 'front', null, 'framing');
      document.lanes.push({ ...framing, settings: { ...framing.settings, scale: { constant: 200 }, across: { constant: 40 } } });
    });
    // Laid under it, as what was there before: the card is seen about its middle, 40 px to the right.
    const lanes = shot.getState().document.lanes;
    shot.getState().commit('Under it', [{ kind: 'move', id: 'card', index: 0 }]);
    expect(lanes.map((l) => l.id)).toEqual(['zoom', 'card']);
    shot.getState().select('card');
    const look = () => {
      const { document } = shot.getState();
      const card = document.lanes.find((l) => l.id === 'card') as Element;
      const motion = placeAt(document, card, BOX, view.getState().frame);
      view.getState().set({ stand: motion && { id: 'card', frame: view.getState().frame, box: BOX, motion } });
      return card;
    };
    look();
    view.getState().setView('composed');
    // Its right upper corner lies at (250, 80): seen at 200 + 2 * 50 + 40, 100 - 2 * 20.
    tool.down(pointer(240, 100), context());
    tool.move(pointer(280, 120), context());
    tool.up(pointer(280, 120), context());
    expect([look().settings.x, look().settings.y]).toEqual([{ constant: 220 }, { constant: 110 }]);
    // In other views nothing is framed.
    view.getState().setView('plate');
    tool.down(pointer(220, 110), context());
    tool.move(pointer(230, 110), context());
    tool.up(pointer(230, 110), context());
    expect(look().settings.x).toEqual({ constant: 230 });
    // What lies above it stays out of it.
    shot.getState().commit('Over it', [{ kind: 'move', id: 'card', index: 1 }]);
    view.getState().setView('composed');
    look();
    tool.down(pointer(230, 110), context());
    tool.move(pointer(240, 110), context());
    tool.up(pointer(240, 110), context());
    expect(look().settings.x).toEqual({ constant: 240 });
  });

  it('moves what is dragged by its middle, along one axis with Shift, and takes no press elsewhere', () => {
    drag(pointer(200, 100), pointer(230, 90));
    expect([value('x'), value('y')]).toEqual([{ constant: 230 }, { constant: 90 }]);
    drag(pointer(230, 90), pointer(240, 60, { shift: true }));
    expect([value('x'), value('y')]).toEqual([{ constant: 230 }, { constant: 60 }]);
    drag(pointer(20, 20), pointer(60, 60));
    expect([value('x'), value('y')]).toEqual([{ constant: 230 }, { constant: 60 }]);
    expect(shot.getState().undoLabel).toBe('Move');
  });

  it('scales by a corner about the middle, and turns by the round handle, by steps with Shift', () => {
    drag(pointer(250, 120), pointer(300, 140));
    expect(value('scale')).toEqual({ constant: 200 });
    // The handle stands 28 pixels above the upper side, which is 40 above the middle by now.
    drag(pointer(200, 32), pointer(268, 100));
    expect(value('turn')).toEqual({ constant: 90 });
    drag(pointer(268, 100), pointer(266, 108, { shift: true }));
    expect(value('turn')).toEqual({ constant: 90 });
  });

  it('keys what is keyed, within the Reach', () => {
    const at = (frame: number, x: number) => ({ frame, value: x, ease: 'linear' as const });
    begin((_document, card) => {
      card.settings.x = { keys: [at(0, 100), at(20, 300)] };
    });
    drag(pointer(200, 100), pointer(210, 100));
    expect(value('x')).toEqual({ keys: [at(0, 100), at(10, 210), at(20, 300)] });
    shot.getState().setReach('all-frames');
    drag(pointer(210, 100), pointer(200, 100));
    expect(value('x')).toEqual({ keys: [at(0, 90), at(10, 200), at(20, 290)] });
  });

  it('drags one of four corners, or all of them', () => {
    begin((_document, card) => {
      card.corners = { constant: [150, 80, 250, 80, 250, 120, 150, 120] };
    });
    drag(pointer(250, 80), pointer(270, 60));
    expect(item().corners).toEqual({ constant: [150, 80, 270, 60, 250, 120, 150, 120] });
    drag(pointer(200, 100), pointer(201, 105));
    expect(item().corners).toEqual({ constant: [151, 85, 271, 65, 251, 125, 151, 125] });
  });

  it('puts a follower where it is dragged on this frame', () => {
    begin((document, card) => {
      const track = newPointTrack({ id: 'track', name: 'Lamp', frame: 0, lines: 200 }, 50, 50);
      track.motion = { keys: [0, 20].map((frame) => ({ frame, value: { at: [50 + 2 * frame, 50], quality: 1 }, ease: 'linear' as const })) };
      document.tracks.push(track);
      card.follow = { track: 'track', frame: 0, takes: ['position'] };
    });
    // Carried 20 to the right by now.
    drag(pointer(220, 100), pointer(225, 110));
    expect([value('x'), value('y')]).toEqual([{ constant: 205 }, { constant: 110 }]);
  });

  it('nudges by the arrows as one step, and gives up a drag in progress', () => {
    const press = (key: string, more: object = {}) => tool.key({ key, shiftKey: false, altKey: false, ...more } as KeyboardEvent, context());
    press('ArrowRight');
    press('ArrowRight', { shiftKey: true });
    press('ArrowUp', { altKey: true });
    expect(shot.getState().undoLabel).toBeNull();
    tool.keyUp(context());
    expect([value('x'), value('y'), shot.getState().undoLabel]).toEqual([{ constant: 211 }, { constant: 99.9 }, 'Nudge']);
    tool.down(pointer(200, 100), context());
    tool.move(pointer(100, 100), context());
    tool.cancel(context());
    expect([value('x'), shot.getState().draft]).toEqual([{ constant: 211 }, null]);
    expect(press('Delete')).toBe(true);
    expect(shot.getState().document.lanes).toEqual([]);
  });
});

describe('the tool that draws lines of an element', () => {
  const lines = () => (shot.getState().document.lanes.find((l) => l.id === 'line') as Element).drawn;
  const scribble = (points: [number, number][]) => {
    const pen = new ScribbleTool();
    pen.down(pointer(...points[0]), context());
    for (const p of points.slice(1)) pen.move(pointer(...p), context());
    pen.up(pointer(...points[points.length - 1]), context());
  };
  beforeEach(() => {
    begin((document) => document.lanes.push(newElement(document, 'line', 'front', null, 'line')));
    shot.getState().select('line');
  });

  it('adds a line for each stroke, takes no press for one, and one undo takes back the last', () => {
    scribble([
      [20, 20],
      [60, 21],
      [100, 20],
    ]);
    scribble([
      [50, 50],
      [50, 51],
    ]);
    scribble([
      [20, 80],
      [90, 120],
    ]);
    expect(lines().map((shape) => [shape[0].x, shape[0].y, shape[shape.length - 1].x, shape[shape.length - 1].y])).toEqual([
      [20, 20, 100, 20],
      [20, 80, 90, 120],
    ]);
    shot.getState().undo();
    expect(lines()).toHaveLength(1);
    // What is made of lines has no frame to be placed by: it is said what it has.
    expect(new PlaceTool().hint(context())).toBe('Line 1 is made of lines: draw more of them (Shift L). Delete, Esc to let go.');
  });

  it('draws where it is seen under Framing, and nothing for an element that has no lines', () => {
    const framing = newLaneEffect('zoom', 'front', null, 'framing');
    shot
      .getState()
      .commit('Frame', [{ kind: 'insert', parent: 'lanes', index: 2, record: { ...framing, settings: { ...framing.settings, scale: { constant: 200 } } } }]);
    shot.getState().select('line');
    view.getState().setView('composed');
    // About the middle, (200, 100), all is twice as large.
    scribble([
      [200, 100],
      [300, 100],
    ]);
    expect(lines().map((shape) => [shape[0].x, shape[shape.length - 1].x])).toEqual([[200, 250]]);
    shot.getState().select('card');
    scribble([
      [200, 100],
      [300, 100],
    ]);
    expect(shot.getState().undoLabel).toBe('Draw a line');
    expect(lines()).toHaveLength(1);
  });
});
