/** What the workbench shows: frame, view, place and size of the picture, playing. Kept in the page and its URL, not in the document. */
import { createStore, type StoreApi } from 'zustand';
import type { Follow, Stroke } from '~/core/document/schema.ts';
import type { ElementStand } from '~/core/elements/render-element.ts';
import type { Size } from '~/core/image/picture.ts';
import { clamp } from '~/core/math/clamp.ts';
import type { ReadyMade, ReadyMadeOptions } from '~/core/path/ready-made.ts';
import type { View } from '../frame/pictures.ts';
import type { ToolId } from '../tools/index.ts';
import { type BenchId, benchOf } from './benches.ts';
import { actualSizeTransform, fittingTransform, type ViewTransform } from './view-transform.ts';

export const VIEWS: { id: View; label: string }[] = [
  { id: 'plate', label: 'Plate' },
  { id: 'tint', label: 'Tint' },
  { id: 'matte', label: 'Matte' },
  { id: 'cutout', label: 'Cut-out' },
  { id: 'outline', label: 'Outline' },
  { id: 'composed', label: 'Composed' },
];

/** What the brush of Peel does: paint a kind of stroke, or erase parts of strokes. */
export type BrushKind = Stroke['kind'] | 'erase';

/** A stroke in the making. */
export interface Painting {
  kind: BrushKind;
  radius: number;
  points: number[];
  /** Of a pen, at each point. */
  pressures?: number[];
}

/** Ways to look at the matte: itself, its change from the frame before, its difference from an earlier state. */
export const JUDGES = ['plain', 'flicker', 'difference'] as const;
export type Judge = (typeof JUDGES)[number];

export const GROUNDS = ['checker', 'black', 'white', 'grey', 'colour', 'plate'] as const;
export type Ground = (typeof GROUNDS)[number];

/** Where an effect or an element stands on a frame. */
export interface Stand extends ElementStand {
  id: string;
  frame: number;
}

export interface ViewState {
  frames: number;
  plate: Size;
  /** Size of the viewer in screen pixels. */
  viewport: Size;
  frame: number;
  view: View;
  /** Null: the whole plate fits the viewer. */
  viewTransform: ViewTransform | null;
  bench: BenchId;
  /** In hand; one of the tools of the bench. */
  tool: ToolId;
  /** What was in hand last on each bench, and which view it showed. */
  last: Partial<Record<BenchId, { tool: ToolId; view: View }>>;
  playing: -1 | 0 | 1;
  /** The frame for what is read rather than watched: while it plays, that of a quarter of a second ago at most. */
  readFrame: number;
  /** Frames that playing stays in; all where null. */
  range: { first: number; last: number } | null;
  /** Frames that could not be shown in time since playing began. */
  dropped: number;
  outlines: boolean;
  tint: string;
  ground: Ground;
  /** Colour of the ground "colour". */
  groundColour: string;
  /** Frames over which an edit of the marked range fades at its ends. */
  fade: number;
  /** Radius in plate pixels within which neighbours follow a moved point; 0: none. */
  soft: number;
  snap: boolean;
  /** Whether the transform frame shows, and where its centre was put; null: in the middle. */
  transforming: boolean;
  pivot: { x: number; y: number } | null;
  /** Whether the magnifier goes with the pointer at all times, not only in a drag. */
  magnify: boolean;
  /** Whether points show their numbers. */
  numbers: boolean;
  /** Keys before and after whose curves show. */
  onion: number;
  /** Where the selected effect or element stands on the frame, while it can be placed by hand. */
  stand: Stand | null;
  /** Whether scopes show beside the composed picture. */
  scopes: boolean;
  /** Frames on which the selected footage shows an empty border, once they are known. */
  borders: { id: string; frames: ReadonlySet<number> } | null;
  /** The box or lasso being drawn, x0,y0,x1,y1,… in plate pixels. */
  marquee: { lasso: boolean; points: number[] } | null;
  /** The part shown alone; outputs are not changed by it. */
  solo: string | null;
  readyMade: ReadyMade;
  shapeOptions: ReadyMadeOptions;
  /** Pixels that a line drawn by hand may be off. */
  handTolerance: number;
  /** The brush of Peel; its radius in plate pixels; whether what a click would take is shown where the pointer rests. */
  brush: { kind: BrushKind; radius: number; ahead: boolean };
  /** The stroke that is being painted. */
  painting: Painting | null;
  /** The newest stroke that was painted: what it makes stale is found anew. */
  painted: { part: string; frame: number } | null;
  /** Frames that the review of doubtful frames, worst first, has been to; null while there is none. */
  review: readonly number[] | null;
  /** Found frames that were looked at in a review, by frame and the name of what was found: they are not offered again. */
  reviewed: ReadonlySet<string>;
  /** The stroke that is pointed at in the list. */
  pointedStroke: string | null;
  /** Gamma with which the matte is shown. */
  matteGamma: number;
  /** Steps of the edge that the viewer leaves out, for before and after. */
  without: readonly string[];
  /** How the matte is looked at, and against which state (a name that changes with it). */
  judge: Judge;
  compared: string;
  /** Whether the chart of the matte over time is open. */
  chartOpen: boolean;
  /** The plate of another shot that cut-outs stand on. */
  groundPlate: string | null;
  /** Whether the editor of curves over time is open. */
  curvesOpen: boolean;
  /** Where tracks run: in this page, or as a work of the server that goes on without it. */
  trackOn: 'page' | 'server';
  /** What the viewer holds still, and as on which frame. */
  hold: Follow | null;

  goTo(frame: number): void;
  step(by: number): void;
  setView(view: View): void;
  setViewTransform(viewTransform: ViewTransform | null): void;
  setViewport(viewport: Size): void;
  /** One plate pixel on one device pixel, `density` device pixels a screen pixel. */
  showActual(density: number): void;
  /** Marks a range from here on to play in a loop, or lets it go. */
  toggleLoop(): void;
  /** Takes a tool in hand, where the bench has it; gives whether it does. */
  setTool(tool: ToolId): boolean;
  /** Goes to a bench: its tool and its view are those of last time. */
  goToBench(bench: BenchId): void;
  play(direction: -1 | 0 | 1): void;
  setRange(range: { first: number; last: number } | null): void;
  set(values: Partial<ViewSettings>): void;
}
/** What panels may set as they like. */
type ViewSettings = Pick<
  ViewState,
  | 'outlines'
  | 'tint'
  | 'ground'
  | 'groundColour'
  | 'dropped'
  | 'frame'
  | 'fade'
  | 'soft'
  | 'snap'
  | 'transforming'
  | 'pivot'
  | 'magnify'
  | 'numbers'
  | 'onion'
  | 'stand'
  | 'scopes'
  | 'borders'
  | 'marquee'
  | 'solo'
  | 'readyMade'
  | 'shapeOptions'
  | 'handTolerance'
  | 'brush'
  | 'painting'
  | 'painted'
  | 'review'
  | 'reviewed'
  | 'pointedStroke'
  | 'matteGamma'
  | 'without'
  | 'curvesOpen'
  | 'judge'
  | 'compared'
  | 'chartOpen'
  | 'groundPlate'
  | 'hold'
  | 'trackOn'
>;

export type ViewStore = StoreApi<ViewState>;

/** Milliseconds after which panels tell another frame while it plays. */
const READ_EVERY = 250;

/** Frames that a loop takes when it is begun. */
const LOOP = 24;

export function createViewStore(start: { frames: number; frame: number; bench: BenchId; plate: Size }): ViewStore {
  const store = createStore<ViewState>((set, get) => {
    const inside = (frame: number) => Math.max(0, Math.min(get().frames - 1, Math.round(frame)));
    return {
      frames: start.frames,
      plate: start.plate,
      viewport: { width: 0, height: 0 },
      frame: clamp(start.frame, 0, start.frames - 1),
      view: benchOf(start.bench).view,
      viewTransform: null,
      bench: start.bench,
      tool: benchOf(start.bench).tools[0],
      last: {},
      playing: 0,
      readFrame: clamp(start.frame, 0, start.frames - 1),
      range: null,
      dropped: 0,
      outlines: true,
      tint: '#3fb6c8',
      ground: 'checker',
      groundColour: '#3a5a78',
      fade: 4,
      soft: 0,
      snap: false,
      transforming: false,
      pivot: null,
      magnify: false,
      numbers: false,
      onion: 0,
      stand: null,
      scopes: false,
      borders: null,
      marquee: null,
      solo: null,
      readyMade: 'rectangle',
      shapeOptions: { radius: 0, points: 5, inner: 0.5 },
      handTolerance: 2,
      brush: { kind: 'keep', radius: 8, ahead: false },
      painting: null,
      painted: null,
      review: null,
      reviewed: new Set(),
      pointedStroke: null,
      matteGamma: 1,
      without: [],
      curvesOpen: false,
      judge: 'plain',
      compared: '',
      chartOpen: false,
      groundPlate: null,
      hold: null,
      trackOn: 'page',

      goTo: (frame) => set({ frame: inside(frame), playing: 0 }),
      step: (by) => set({ frame: inside(get().frame + by), playing: 0 }),
      setView: (view) => set({ view }),
      setViewTransform: (viewTransform) => set({ viewTransform }),
      setViewport: (viewport) => set({ viewport }),
      showActual: (density) => {
        const { viewTransform, viewport, plate } = get();
        set({ viewTransform: actualSizeTransform(viewTransform ?? fittingTransform(viewport, plate), viewport, density) });
      },
      toggleLoop: () => {
        const { range, frame, frames } = get();
        set({ range: range ? null : { first: frame, last: Math.min(frames - 1, frame + LOOP - 1) } });
      },
      setTool: (tool) => {
        const has = benchOf(get().bench).tools.includes(tool);
        if (has) set({ tool });
        return has;
      },
      goToBench: (next) => {
        const { bench, tool, view, last } = get();
        if (next === bench) return;
        const { tools, view: first } = benchOf(next);
        const before = last[next] ?? { tool: tools[0], view: first };
        set({ bench: next, ...before, last: { ...last, [bench]: { tool, view } } });
      },
      play: (direction) => set({ playing: direction, dropped: direction === 0 ? get().dropped : 0 }),
      setRange: (range) => set({ range }),
      set,
    };
  });
  let waits: ReturnType<typeof setTimeout> | undefined;
  const tell = () => {
    clearTimeout(waits);
    waits = undefined;
    store.setState({ readFrame: store.getState().frame });
  };
  store.subscribe(({ frame, readFrame, playing }) => {
    if (frame === readFrame) return;
    // Panels that were drawn anew for each frame would take the time that its picture needs.
    if (playing === 0) tell();
    else waits ??= setTimeout(tell, READ_EVERY);
  });
  return store;
}
