/** What a tool of the viewer is: a small state machine fed with the pointer and the keyboard. */
import type { ComponentType } from 'react';
import type { Subject } from '~/core/document/schema.ts';
import type { ReachContext } from '~/core/time/reach.ts';
import type { BenchId } from '../state/benches.ts';
import type { ShotState } from '../state/shot-store.ts';
import type { ViewState } from '../state/view-store.ts';

export interface ToolPointer {
  /** Plate pixels. */
  x: number;
  y: number;
  shift: boolean;
  alt: boolean;
  ctrl: boolean;
  /** Of a pen, [0,1]; null for what has none. */
  pressure: number | null;
  /** 2 for the second press of a double click. */
  clicks: number;
}

export interface ToolContext {
  shot: ShotState;
  view: ViewState;
  /** The subject that the panels are about. */
  subject: Subject | null;
  /** Plate pixels for one screen pixel. */
  perPixel: number;
  newId(): string;
  /** Keyboard cross-hair in plate pixels, for drawing without a pointer. */
  crosshair: { x: number; y: number };
  moveCrosshair(x: number, y: number): void;
  /** Whether something that was carried to a frame is seen of a Peel. */
  carried(partId: string, frame: number): boolean;
  /** The place of a track on a frame was set by hand: runs it again, from the places set by hand round it. */
  trackAgain(trackId: string, frame: number): void;
}

/** What a tool is called, where it belongs, and how one is made. */
export interface ToolDescription<Id extends string = string> {
  id: Id;
  label: string;
  /** A few words on what it does, beside the label. */
  about: string;
  /** The label in the strip of what it can be set to, where it has to be shorter or longer there. */
  strip?: string;
  icon: ComponentType<{ className?: string }>;
  /** Its shortcut, in the words of tinykeys, and what lists of commands say of it. */
  bind: string[];
  does: string;
  benches: readonly BenchId[];
  /** Page and heading of the help; that of the bench where there is none. */
  help?: string;
  /** What keys and drags do while the picture has the focus, for the list of shortcuts. */
  keys?: readonly (readonly [keys: string, does: string])[];
  /** Of the pointer on the picture; by what is under it where there is none. */
  cursor?: 'crosshair';
  /** Whether the cross-hair of the keyboard is shown: always, once it was moved by keys, or never. */
  crosshair?: 'always' | 'by-keys';
  /** Null for what only moves the picture. */
  make: (() => Tool) | null;
}

export interface Tool {
  down(p: ToolPointer, c: ToolContext): void;
  move(p: ToolPointer, c: ToolContext): void;
  up(p: ToolPointer, c: ToolContext): void;
  /** The pointer moves with nothing pressed, and goes away. */
  hover?(p: ToolPointer, c: ToolContext): void;
  leave?(c: ToolContext): void;
  /** Gives up what is in progress. */
  cancel(c: ToolContext): void;
  /** Gives whether the key was used. */
  key(event: KeyboardEvent, c: ToolContext): boolean;
  /** A key was let go: what its repeats did becomes one step. */
  keyUp(c: ToolContext): void;
  /** One line on what can be done now. */
  hint(c: ToolContext): string;
}

export const reachOf = ({ view: { frames, range, fade } }: ToolContext): ReachContext => ({ frames, range, fade });

/** How near, in screen pixels, a press must be to hit a point. */
export const HIT = 9;

/**
 * The name of a key as tools and panels take it: "Enter", "Shift+Enter", "a", "Shift+a", "+". Null for what is pressed with Ctrl, the
 * command key or Alt: those belong to the shortcuts of the page and the browser, and never do what the bare key does.
 */
export function keyName(event: Pick<KeyboardEvent, 'key' | 'shiftKey' | 'ctrlKey' | 'metaKey' | 'altKey'>): string | null {
  if (event.ctrlKey || event.metaKey || event.altKey) return null;
  const { key } = event;
  const name = key.length === 1 ? key.toLowerCase() : key;
  // Signs such as + need Shift on some keyboards; letters and named keys say something else with it.
  const shifted = event.shiftKey && (key.length > 1 || name !== name.toUpperCase());
  return shifted ? `Shift+${name}` : name;
}

/** Pixels that an arrow key moves (Shift 10, Alt 0.1), or null where the key is another or Ctrl is held. */
export function arrowOf(event: KeyboardEvent): { x: number; y: number } | null {
  if (event.ctrlKey || event.metaKey) return null;
  const by = event.shiftKey ? 10 : event.altKey ? 0.1 : 1;
  switch (event.key) {
    case 'ArrowLeft':
      return { x: -by, y: 0 };
    case 'ArrowRight':
      return { x: by, y: 0 };
    case 'ArrowUp':
      return { x: 0, y: -by };
    case 'ArrowDown':
      return { x: 0, y: by };
    default:
      return null;
  }
}
