/** Points to be tracked: set on the picture, and moved on any frame where the tracker was wrong. */
import { Crosshair } from 'lucide-react';
import type { Edit } from '~/core/document/edits.ts';
import { placeOn } from '~/core/document/follow.ts';
import { newPointTrack } from '~/core/document/records.ts';
import type { Track } from '~/core/document/schema.ts';
import { anchorEdit, removeTrackEdits } from '~/core/document/tracks.ts';
import { clamp } from '~/core/math/clamp.ts';
import { arrowOf, HIT, keyName, type Tool, type ToolContext, type ToolDescription, type ToolPointer } from './tool.ts';

type Side = 'pattern' | 'search';
type Drag =
  | { kind: 'side'; track: Track; side: Side; x: number; y: number }
  | { kind: 'new'; at: ToolPointer; id: string; dx: number; dy: number }
  | { kind: 'place'; from: ToolPointer; track: Track; at: readonly number[] };

const selectedTrack = (c: Pick<ToolContext, 'shot'>): Track | undefined => c.shot.history.settled.tracks.find((t) => t.id === c.shot.selected);

/** The corner of the pattern's or the search area's square that lies under the pointer. */
function sideUnder(p: ToolPointer, track: Track, c: ToolContext): Extract<Drag, { kind: 'side' }> | null {
  if (track.kind !== 'point') return null;
  const { at, placed } = placeOn(track, c.view.frame);
  const [x, y] = [at[0] + (placed?.aside?.[0] ?? 0), at[1] + (placed?.aside?.[1] ?? 0)];
  const near = (half: number) => Math.hypot(Math.abs(p.x - x) - half, Math.abs(p.y - y) - half) < HIT * c.perPixel;
  const side = near(track.pattern + track.search) ? 'search' : near(track.pattern) && track.pattern > 2 * HIT * c.perPixel ? 'pattern' : null;
  return side && { kind: 'side', track, side, x, y };
}

export class MarkTool implements Tool {
  private drag: Drag | null = null;
  private nudged: Track | null = null;

  down(p: ToolPointer, c: ToolContext): void {
    c.view.play(0);
    const near = (HIT * c.perPixel) ** 2;
    const chosen = selectedTrack(c);
    const side = chosen && sideUnder(p, chosen, c);
    if (side) {
      this.drag = side;
      return;
    }
    const { tracks } = c.shot.history.settled;
    const track = (chosen ? [chosen, ...tracks] : tracks).find((t) => {
      const { at } = placeOn(t, c.view.frame);
      return (at[0] - p.x) ** 2 + (at[1] - p.y) ** 2 < near;
    });
    if (track) {
      c.shot.select(track.id);
      this.drag = { kind: 'place', from: p, track, at: placeOn(track, c.view.frame).at };
      return;
    }
    const { width, height } = c.shot.document.plate;
    if (p.x < 0 || p.y < 0 || p.x > width || p.y > height) return;
    this.drag = { kind: 'new', at: p, id: c.newId(), dx: 0, dy: 0 };
    c.shot.setDraft(this.insert(this.drag, c));
  }

  private insert({ id, at, dx, dy }: Extract<Drag, { kind: 'new' }>, c: ToolContext): Edit[] {
    const { tracks, plate } = c.shot.history.settled;
    const digits = (v: number) => Math.round(v * 1000) / 1000;
    const start = { id, name: `Point ${tracks.filter((t) => t.kind === 'point').length + 1}`, frame: c.view.frame, lines: plate.height };
    return [{ kind: 'insert', parent: 'tracks', index: tracks.length, record: newPointTrack(start, digits(at.x + dx), digits(at.y + dy)) }];
  }

  move(p: ToolPointer, c: ToolContext): void {
    const { drag } = this;
    if (!drag) return;
    if (drag.kind === 'side') {
      const half = Math.round(Math.max(Math.abs(p.x - drag.x), Math.abs(p.y - drag.y)));
      const within = (v: number, least: number, most: number) => clamp(v, least, most);
      const values: Record<string, number> =
        drag.side === 'pattern' ? { pattern: within(half, 3, 200) } : { search: within(half - drag.track.pattern, 4, 2000) };
      c.shot.setDraft([{ kind: 'assign', id: drag.track.id, values }]);
      return;
    }
    if (drag.kind === 'new') {
      this.drag = { ...drag, dx: p.x - drag.at.x, dy: p.y - drag.at.y };
      c.shot.setDraft(this.insert(this.drag, c));
      return;
    }
    const [dx, dy] = [p.x - drag.from.x, p.y - drag.from.y];
    // A press that trembles is not a drag.
    if (!c.shot.draft && dx * dx + dy * dy < (2 * c.perPixel) ** 2) return;
    c.shot.setDraft([anchorEdit(drag.track, c.view.frame, drag.at[0] + dx, drag.at[1] + dy, drag.from.alt)]);
  }

  up(_p: ToolPointer, c: ToolContext): void {
    const { drag } = this;
    this.drag = null;
    if (!drag || !c.shot.draft) return;
    if (drag.kind === 'side') {
      c.shot.commit(drag.side === 'pattern' ? 'Set pattern' : 'Set search');
      return;
    }
    if (drag.kind === 'new') {
      if (c.shot.commit('Set point')) c.shot.select(drag.id);
    } else if (c.shot.commit(drag.from.alt ? 'Follow something else' : 'Place track')) c.trackAgain(drag.track.id, c.view.frame);
  }

  cancel(c: ToolContext): void {
    this.drag = null;
    this.nudged = null;
    c.shot.setDraft(null);
  }

  key(event: KeyboardEvent, c: ToolContext): boolean {
    const track = selectedTrack(c);
    const arrow = arrowOf(event);
    if (arrow && !track) {
      c.moveCrosshair(c.crosshair.x + arrow.x, c.crosshair.y + arrow.y);
      return true;
    }
    if (arrow && track) {
      const { at } = placeOn(c.shot.document.tracks.find((t) => t.id === track.id) ?? track, c.view.frame);
      c.shot.setDraft([anchorEdit(track, c.view.frame, at[0] + arrow.x, at[1] + arrow.y)]);
      this.nudged = track;
      return true;
    }
    const key = keyName(event);
    if (key === 'Enter' && !track) {
      const p: ToolPointer = { ...c.crosshair, shift: false, alt: false, ctrl: false, pressure: null, clicks: 1 };
      this.down(p, c);
      this.up(p, c);
      return true;
    }
    if (key === 'p' || key === 'Shift+p') {
      const { tracks } = c.shot.history.settled;
      if (tracks.length === 0) return true;
      const now = tracks.findIndex((t) => t.id === track?.id);
      c.shot.select(tracks[(now + (key === 'p' ? 1 : tracks.length - 1) + (now < 0 && key !== 'p' ? 1 : 0)) % tracks.length].id);
      return true;
    }
    if ((key === 'Delete' || key === 'Backspace') && track) {
      c.shot.commit('Delete track', removeTrackEdits(c.shot.history.settled, track.id));
      return true;
    }
    if (key === 'Escape') {
      if (track) c.shot.select(null);
      else c.view.setTool('edit');
      return true;
    }
    return false;
  }

  keyUp(c: ToolContext): void {
    const { nudged } = this;
    this.nudged = null;
    if (nudged && c.shot.draft && c.shot.commit('Nudge track')) c.trackAgain(nudged.id, c.view.frame);
  }

  hint(c: ToolContext): string {
    const track = selectedTrack(c);
    if (!track) return 'Click on a detail to track it; drag before you let go to place it exactly. Keyboard: arrows move the cross-hair, Enter sets a point.';
    return `${track.name}: drag its cross to where it should be on this frame; Alt-drag goes on with another detail. Arrows nudge, P the next track, Delete, Esc to let go.`;
  }
}

export const MARK: ToolDescription<'mark'> = {
  id: 'mark',
  label: 'Points to track',
  about: 'Details that are followed through the shot.',
  icon: Crosshair,
  bind: ['Shift+M'],
  does: 'Tool: points to track',
  benches: ['isolate'],
  help: 'by-hand#tracking',
  cursor: 'crosshair',
  crosshair: 'by-keys',
  make: () => new MarkTool(),
};
