import { describe, expect, it } from 'vitest';
import { placesOf } from '~/core/document/follow.ts';
import { Page, pointer } from '~/tests/tool-page.ts';
import { MarkTool } from './mark-tool.ts';

const at = (x: number, y: number, alt = false) => pointer(x, y, { alt });
const key = (k: string) => ({ key: k, shiftKey: false, altKey: false, ctrlKey: false, metaKey: false }) as KeyboardEvent;

function set(page: Page, tool: MarkTool, x: number, y: number): void {
  tool.down(at(x, y), page.context());
  tool.up(at(x, y), page.context());
}
const places = (page: Page, n = 0) => placesOf(page.settled.tracks[n]).map((k) => [k.frame, ...k.value.at]);

describe('the tool for points', () => {
  it('sets a point where the button is let go, on this frame, and selects it', () => {
    const [page, tool] = [new Page(), new MarkTool()];
    tool.down(at(100, 100), page.context());
    tool.move(at(104.5, 97), page.context());
    expect(page.settled.tracks).toHaveLength(0);
    tool.up(at(104.5, 97), page.context());
    expect(page.steps).toEqual(['Set point']);
    expect(page.settled.tracks[0]).toMatchObject({ kind: 'point', start: 10, pivot: [104.5, 97], name: 'Point 1' });
    expect(page.selected).toBe(page.settled.tracks[0].id);
    // Beyond the plate there is nothing to follow.
    set(page, tool, -5, 50);
    expect(page.settled.tracks).toHaveLength(1);
  });

  it('moves a point on another frame: that place is set by hand, and the track runs again round it', () => {
    const [page, tool] = [new Page(), new MarkTool()];
    set(page, tool, 100, 100);
    page.view.getState().goTo(14);
    tool.down(at(101, 100), page.context());
    tool.move(at(111, 105), page.context());
    tool.up(at(111, 105), page.context());
    expect(places(page)).toEqual([
      [10, 100, 100],
      [14, 110, 105],
    ]);
    expect(page.again).toEqual([[page.settled.tracks[0].id, 14]]);
    // A press that only trembles selects.
    tool.down(at(110, 105), page.context());
    tool.move(at(111, 105), page.context());
    tool.up(at(111, 105), page.context());
    expect(page.steps).toEqual(['Set point', 'Place track']);
  });

  it('with Alt goes on with another detail', () => {
    const [page, tool] = [new Page(), new MarkTool()];
    set(page, tool, 100, 100);
    tool.down(at(100, 100, true), page.context());
    tool.move(at(140, 90, true), page.context());
    tool.up(at(140, 90, true), page.context());
    expect(placesOf(page.settled.tracks[0])[0].value).toMatchObject({ at: [100, 100], aside: [40, -10] });
  });

  it('works by keys alone: set, nudge, next, delete, let go', () => {
    const [page, tool] = [new Page(), new MarkTool()];
    const press = (k: string) => tool.key(key(k), page.context());
    press('ArrowRight');
    press('Enter');
    expect(page.settled.tracks[0].pivot).toEqual([481, 270]);
    press('ArrowDown');
    press('ArrowDown');
    tool.keyUp(page.context());
    expect(places(page)).toEqual([[10, 481, 272]]);
    expect(page.steps).toEqual(['Set point', 'Nudge track']);
    press('Escape');
    expect(page.selected).toBeNull();
    press('p');
    expect(page.selected).toBe(page.settled.tracks[0].id);
    press('Delete');
    expect(page.settled.tracks).toEqual([]);
    press('Escape');
    expect(page.view.getState().tool).toBe('edit');
  });

  it('sets the pattern and the search area by the corners of their squares', () => {
    const [page, tool] = [new Page(), new MarkTool()];
    set(page, tool, 100, 100);
    tool.down(at(142, 142), page.context());
    tool.move(at(170, 150), page.context());
    tool.up(at(170, 150), page.context());
    expect(page.settled.tracks[0].search).toBe(60);
    page.commit('large', [{ kind: 'assign', id: page.settled.tracks[0].id, values: { pattern: 30 } }]);
    tool.down(at(130, 70), page.context());
    tool.move(at(500, 70), page.context());
    tool.up(at(500, 70), page.context());
    expect(page.settled.tracks[0].pattern).toBe(200);
    expect(page.steps).toEqual(['Set point', 'Set search', 'large', 'Set pattern']);
  });

  it('gives up what is in progress', () => {
    const [page, tool] = [new Page(), new MarkTool()];
    tool.down(at(100, 100), page.context());
    tool.cancel(page.context());
    tool.up(at(100, 100), page.context());
    expect(page.settled.tracks).toEqual([]);
    expect(page.document).toBe(page.settled);
  });
});
