import { describe, expect, it } from 'vitest';
import type { ToolId } from '../tools/index.ts';
import { BENCHES, whereIs } from './benches.ts';
import { createViewStore } from './view-store.ts';

const page = () => createViewStore({ frames: 10, frame: 0, bench: 'isolate', plate: { width: 96, height: 54 } });

describe('the benches', () => {
  it('have tools of their own: one that a bench does not have cannot be taken there', () => {
    const view = page();
    expect(view.getState().setTool('brush')).toBe(true);
    view.getState().goToBench('compose');
    expect(view.getState()).toMatchObject({ tool: 'place', view: 'composed' });
    expect(view.getState().setTool('brush')).toBe(false);
    expect(view.getState().tool).toBe('place');
  });

  it('begin with the tool and the view of last time', () => {
    const view = page();
    view.getState().setTool('brush');
    view.getState().setView('matte');
    view.getState().goToBench('compose');
    view.getState().setTool('pan');
    view.getState().goToBench('isolate');
    expect(view.getState()).toMatchObject({ tool: 'brush', view: 'matte' });
    view.getState().goToBench('compose');
    expect(view.getState()).toMatchObject({ tool: 'pan', view: 'composed' });
  });

  it('only Compose places elements, and painting is nowhere but where there are strokes to see', () => {
    expect(BENCHES.filter((b) => b.tools.includes('place')).map((b) => b.id)).toEqual(['compose']);
    expect(whereIs('brush')).toBe('Isolate and Edge');
    const all: ToolId[] = ['edit', 'brush', 'mark', 'place', 'draw', 'hand', 'shape', 'feather', 'scribble', 'pan'];
    for (const tool of all) expect(whereIs(tool)).not.toBe('');
  });
});
