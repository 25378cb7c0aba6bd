/** What the workbench shows: frame, view, place and size of the picture, playing. Kept in the page and its URL, not in the document. */
import { createStore, type StoreApi } from 'zustand';
import type { View } from '../frame/pictures.ts';

export const VIEWS: { id: View; label: string; keys: string }[] = [
  { id: 'plate', label: 'Plate', keys: '1' },
  { id: 'tint', label: 'Tint', keys: '2' },
  { id: 'matte', label: 'Matte', keys: '3' },
  { id: 'cutout', label: 'Cut-out', keys: '4' },
  { id: 'composed', label: 'Composed', keys: '5' },
];

export type ToolId = 'edit' | 'draw' | 'pan';
export const GROUNDS = ['checker', 'black', 'white'] as const;
export type Ground = (typeof GROUNDS)[number];

export interface Place {
  /** Screen pixels for one plate pixel. */
  scale: number;
  /** Where the plate's top left corner is in the viewer, screen pixels. */
  x: number;
  y: number;
}

export interface ViewState {
  frames: number;
  frame: number;
  view: View;
  /** Null: the whole plate fits the viewer. */
  place: Place | null;
  tool: ToolId;
  playing: -1 | 0 | 1;
  /** Frames that playing stays in; all where null. */
  range: { first: number; last: number } | null;
  /** Frames that could not be shown in time since playing began. */
  dropped: number;
  outlines: boolean;
  tint: string;
  ground: Ground;

  goTo(frame: number): void;
  step(by: number): void;
  setView(view: View): void;
  setPlace(place: Place | null): void;
  setTool(tool: ToolId): void;
  play(direction: -1 | 0 | 1): void;
  setRange(range: { first: number; last: number } | null): void;
  set(values: Partial<Pick<ViewState, 'outlines' | 'tint' | 'ground' | 'dropped' | 'frame'>>): void;
}
export type ViewStore = StoreApi<ViewState>;

export function createViewStore(start: { frames: number; frame: number; view: View }): ViewStore {
  return createStore<ViewState>((set, get) => {
    const inside = (frame: number) => Math.max(0, Math.min(get().frames - 1, Math.round(frame)));
    return {
      frames: start.frames,
      frame: Math.max(0, Math.min(start.frames - 1, start.frame)),
      view: start.view,
      place: null,
      tool: 'edit',
      playing: 0,
      range: null,
      dropped: 0,
      outlines: true,
      tint: '#3fb6c8',
      ground: 'checker',

      goTo: (frame) => set({ frame: inside(frame), playing: 0 }),
      step: (by) => set({ frame: inside(get().frame + by), playing: 0 }),
      setView: (view) => set({ view }),
      setPlace: (place) => set({ place }),
      setTool: (tool) => set({ tool }),
      play: (direction) => set({ playing: direction, dropped: direction === 0 ? get().dropped : 0 }),
      setRange: (range) => set({ range }),
      set,
    };
  });
}
