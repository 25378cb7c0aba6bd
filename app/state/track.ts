/** Tracking from the page: a worker finds where things are, the shot keeps it, and until it does the viewer shows it. */
import { proxy, wrap } from 'comlink';
import { toast } from 'sonner';
import { useStore } from 'zustand';
import { createStore } from 'zustand/vanilla';
import type { Edit } from '~/core/document/edits.ts';
import {
  drawnFor,
  isSure,
  placedOf,
  placedPathsOf,
  placesOf,
  shapeAt,
  closedShapes as shapesOf,
  shapeToFollow,
  sureWay,
  unpinned,
} from '~/core/document/follow.ts';
import { findPart } from '~/core/document/parts.ts';
import { newRegionTrack } from '~/core/document/records.ts';
import { type Follow, LOOKS, type Placed, type ShotDocument, type SplinePart, type Track } from '~/core/document/schema.ts';
import { around, placesEdit, runOf, tally } from '~/core/document/tracks.ts';
import type { MotionModel } from '~/core/math/homography.ts';
import { ASPECTS } from '~/core/math/motion.ts';
import type { Shape } from '~/core/path/path.ts';
import { type Key, keyFrames, withKeys } from '~/core/time/animated.ts';
import type { FrameRange } from '~/core/time/ranges.ts';
import { framesOf } from '~/core/track/run.ts';
import type { TrackRequest, TrackWorker } from '../workers/track-worker.ts';
import { withWorker } from './one-call-worker.ts';
import { send } from './send.ts';
import type { ShotStore } from './shot-store.ts';
import type { Workbench } from './workbench-context.tsx';

export interface Tracking {
  /** The tracks that run, as they were; a new one is not in the shot yet. */
  tracks: readonly Track[];
  ids: readonly string[];
  done: number;
  of: number;
  frame: number;
  quality: number;
  began: number;
  /** What was found until now, by track and frame. */
  found: ReadonlyMap<string, ReadonlyMap<number, Placed>>;
  stop(): void;
}

/** One run at a time: it has the machine. */
const running = createStore<{ now: Tracking | null }>(() => ({ now: null }));
export const trackingNow = (): Tracking | null => running.getState().now;
export const useTracking = (): Tracking | null => useStore(running, (s) => s.now);
export const onTracking = (listener: () => void): (() => void) => running.subscribe(listener);

/** Milliseconds between looks at a run: many points tell far more often. */
const SHOW_EVERY = 60;

export type Where = Pick<Workbench, 'plate' | 'pictures'>;

const requestFor = ({ plate, pictures }: Where, store: 'full' | 'proxy'): Omit<TrackRequest, 'runs'> => ({
  url: `${location.origin}${pictures?.plateUrl}`,
  store,
  plate: { width: plate.width, height: plate.height },
});

const trackWorker = () => new Worker(new URL('../workers/track-worker.ts', import.meta.url), { type: 'module' });

/**
 * Carries a work on tracks out, and lets the page see how far it is and stop it. Gives whether it was stopped; what else ends it early is
 * told to the artist.
 */
async function underWay(
  tracks: readonly Track[],
  of: number,
  frame: number,
  words: string,
  found: Tracking['found'],
  work: (signal: AbortSignal, show: (done: number, frame: number, quality: number) => void) => Promise<void>,
): Promise<boolean> {
  const control = new AbortController();
  const { signal } = control;
  const same = {
    tracks,
    ids: tracks.map((t) => t.id),
    of,
    found,
    began: performance.now(),
    stop: () => control.abort(new DOMException('Stopped', 'AbortError')),
  };
  const show = (done: number, at: number, quality: number) => running.setState({ now: { ...same, done, frame: at, quality } });
  show(0, frame, 1);
  try {
    await work(signal, show);
  } catch (error) {
    if (!signal.aborted) toast.error(error instanceof Error ? error.message : words);
  } finally {
    running.setState({ now: null });
  }
  return signal.aborted;
}

/**
 * Runs tracks of a document over a range of frames, and gives them with what was found. Null where nothing was: the artist has been
 * told why. Stopped, it gives what there is until then.
 */
async function runTracksOf(document: ShotDocument, tracks: readonly Track[], range: FrameRange, where: Where): Promise<Track[] | null> {
  if (trackingNow()) return failed('Something is being tracked already. Wait for it, or stop it first.');
  const able = tracks.flatMap((track) => {
    const run = runOf(document, track, range);
    return run ? [{ track, run }] : [];
  });
  if (able.length === 0) return failed('There is no place to start from: set one on any frame first.');
  const of = framesOf(able.map((a) => a.run));
  if (of === 0) return failed('There is no frame left to track in this direction.');
  const found = new Map<string, Map<number, Placed>>(able.map(({ track }) => [track.id, new Map()]));
  let shownAt = 0;
  const stopped = await underWay(
    able.map((a) => a.track),
    of,
    able[0].run.anchors[0].frame,
    'It could not be tracked.',
    found,
    async (signal, show) => {
      let done = 0;
      // What is looked at differs, but each worker looks at one size.
      for (const look of LOOKS) {
        const these = able.filter((a) => a.track.look === look);
        if (these.length === 0) continue;
        await withWorker(trackWorker(), signal, 'It could not be tracked.', (worker) =>
          wrap<TrackWorker>(worker).track(
            { ...requestFor(where, look), runs: these.map((a) => a.run) },
            proxy((told) => {
              if (signal.aborted) return;
              found.get(these[told.track].track.id)?.set(told.frame, placedOf(told));
              done++;
              const now = performance.now();
              if (now - shownAt < SHOW_EVERY) return;
              shownAt = now;
              show(done, told.frame, told.quality);
            }),
          ),
        );
      }
    },
  );
  const moved = able.flatMap(({ track }) => {
    const places = [...(found.get(track.id) ?? [])].map(([frame, value]) => ({ frame, value }));
    return places.length > 0 ? [withPlaces(track, places)] : [];
  });
  if (moved.length > 0) return moved;
  return stopped ? null : failed('Too little of the picture is outlined to be tracked: outline more of it.');
}

function failed(words: string): null {
  toast.error(words, { id: 'track' });
  return null;
}

/** The track with places found for it, those set by hand left alone. */
export function withPlaces(track: Track, places: readonly { frame: number; value: Placed }[]): Track {
  const edit = placesEdit(track, places);
  if (edit.kind !== 'keys') return track;
  return { ...track, motion: { keys: withKeys(placesOf(track), edit.set as Key<Placed>[], []) } };
}

/** Edits that keep what was found for tracks that are in the shot. */
export const keepEdits = (document: ShotDocument, moved: readonly Track[]): Edit[] =>
  moved.flatMap((track) => {
    const before = document.tracks.find((t) => t.id === track.id);
    return before ? [placesEdit(before, placesOf(track))] : [];
  });

/** Runs tracks that are in the shot in this page, and keeps what was found as one step. */
async function runHere(store: ShotStore, where: Where, tracks: readonly Track[], range: FrameRange, label: string): Promise<void> {
  const moved = await runTracksOf(store.getState().history.settled, tracks, range, where);
  if (moved) store.getState().commit(label, keepEdits(store.getState().history.settled, moved));
}

/** Runs tracks that are in the shot: here, or on the server, as the artist has chosen. */
export async function runTracks(store: ShotStore, bench: Workbench, tracks: readonly Track[], range: FrameRange): Promise<void> {
  if (bench.view.getState().trackOn === 'server') await runOnServer(store, tracks, range);
  else await runHere(store, bench, tracks, range, 'Track');
}

/** Waits until the server has all that was done here. */
const allSent = (store: ShotStore): Promise<void> =>
  new Promise((resolve) => {
    const look = () => {
      if (store.getState().history.unsent.length > 0) return;
      leave();
      resolve();
    };
    const leave = store.subscribe(look);
    look();
  });

/** Queues the run of tracks that are in the shot as a work of the server, once it has them. */
async function runOnServer(store: ShotStore, tracks: readonly Track[], { first, last }: FrameRange): Promise<void> {
  try {
    await allSent(store);
    await send(`/shots/${store.getState().shotId}/track`, { body: { tracks: tracks.map((t) => t.id), first, last } });
    toast('It is tracked on the server now: the top bar shows how far it is.');
  } catch (error) {
    toast.error(error instanceof Error ? error.message : 'It could not be tracked.');
  }
}

export interface TrackChoices {
  model: MotionModel;
  look: Track['look'];
  /** What becomes of keys that the curves have on other frames: they stay as corrections, or go. */
  own: 'stay' | 'go';
}

/**
 * Tracks what is inside the closed curves of a Spline from the current frame on over a range, and lets the curves follow it: here, or on the
 * server, as the artist has chosen. `id` is the run's own, by which it is found while it goes on.
 */
export async function trackPart(
  store: ShotStore,
  bench: Workbench,
  partId: string,
  { model, look, own }: TrackChoices,
  range: FrameRange,
  id: string = crypto.randomUUID(),
): Promise<void> {
  const { settled } = store.getState().history;
  const { frame } = bench.view.getState();
  const part = findPart(settled, partId);
  if (part?.type !== 'spline') return;
  const gone = own === 'go' || !part.paths.some((p) => keyFrames(p.shape).some((f) => f !== frame));
  const start = { id, name: `Track of ${part.name}`.slice(0, 120), frame, lines: bench.plate.height };
  const track = { ...newRegionTrack(start, closedShapes(settled, part, frame), model), look };
  /** Puts the track into the shot, followed by the curves as they are by now; what was followed nowhere moves nothing, but says why. */
  const keep = (found: Track, goes: boolean): Track | null => {
    const now = store.getState().history.settled;
    const spline = findPart(now, partId);
    if (spline?.type !== 'spline') return null;
    const added = { ...found, id: crypto.randomUUID() };
    const edits = followEdits(now, spline, added, frame, goes ? 'go' : 'stay');
    const kept = store.getState().commit('Track', [{ kind: 'insert', parent: 'tracks', index: now.tracks.length, record: added }, ...edits]);
    return kept ? added : null;
  };
  if (bench.view.getState().trackOn === 'server') {
    // The curves follow at once, and move when the work is done.
    const added = keep(track, gone);
    if (added) await runOnServer(store, [added], range);
    return;
  }
  const [moved] = (await runTracksOf(settled, [track], range, bench)) ?? [];
  if (moved) keep(moved, wasFollowed(moved) && gone);
}

/** Runs a track again whose place on `frame` was set by hand, where it was tracked before: the frames that depend on that place. */
export async function trackAgain(store: ShotStore, where: Where, id: string, frame: number): Promise<void> {
  const track = store.getState().history.settled.tracks.find((t) => t.id === id);
  const placed = track ? placesOf(track).length : 0;
  if (!track || placed < 2) return;
  const range = around(track, frame);
  if (range.last - range.first < 2 && placed < 3) return;
  await runHere(store, where, [track], range, 'Track again');
}

/** The closed curves of a part on a frame, as they are seen. */
export const closedShapes = (document: Pick<ShotDocument, 'tracks'>, part: SplinePart, frame: number): Shape[] =>
  shapesOf(placedPathsOf(document, part), frame).map(unpinned);

/**
 * Edits by which a part follows a track from `frame` on. `own` says what becomes of its keys on other frames: they stay where they are
 * seen, as corrections of the track; or they go, and it keeps the shape it has on `frame`.
 */
export function followEdits(document: ShotDocument, part: SplinePart, track: Track, frame: number, own: 'stay' | 'go'): Edit[] {
  const follow: Follow = { track: track.id, frame, takes: [...ASPECTS] };
  const carried = { way: sureWay(track), pivot: track.pivot, follow };
  const shapes = placedPathsOf(document, part).map((path): Edit => {
    const value =
      own === 'stay'
        ? shapeToFollow(path, carried)
        : { keys: [{ frame, value: drawnFor({ ...path, carried }, frame, shapeAt(path, frame)), ease: 'linear' as const }] };
    return { kind: 'animate', id: path.id, setting: 'shape', value };
  });
  return [...shapes, { kind: 'assign', id: part.id, values: { follow } }];
}

/** Whether a track is trusted on any frame but those set by hand. */
export function wasFollowed(track: Track): boolean {
  const { frames, lost } = tally(track);
  return frames > lost + 1;
}

/**
 * Edits by which the curves of a part settle on their edges on the trusted frames of a range; null where there is nothing to do. Stopped,
 * they are those for what was done until then.
 */
export async function settleEdits(
  document: ShotDocument,
  part: SplinePart,
  track: Track,
  range: FrameRange,
  { band, strength }: { band: number; strength: number },
  where: Where,
): Promise<Edit[] | null> {
  if (trackingNow()) return failed('Something is being tracked already. Wait for it, or stop it first.');
  const start = part.follow?.frame ?? track.start;
  const frames = placesOf(track).flatMap((k) => (isSure(k.value) && k.frame >= range.first && k.frame <= range.last && k.frame !== start ? [k.frame] : []));
  const paths = placedPathsOf(document, part).filter((p) => p.closed);
  if (frames.length === 0 || paths.length === 0) return failed('There is no trusted frame to settle on: track first.');
  const keys = paths.map((): Key<Shape>[] => []);
  await underWay([track], frames.length, start, 'The curves could not settle.', new Map(), (signal, show) =>
    withWorker(trackWorker(), signal, 'The curves could not settle.', (worker) =>
      wrap<TrackWorker>(worker).settle(
        { ...requestFor(where, track.look), paths, start, frames, band, strength },
        proxy((frame, drawn) => {
          if (signal.aborted) return;
          for (const [i, value] of drawn.entries()) keys[i].push({ frame, value, ease: 'linear' });
          show(keys[0].length, frame, 1);
        }),
      ),
    ),
  );
  if (keys[0].length === 0) return null;
  return paths.map((path, i) => {
    const here = { frame: start, value: drawnFor(path, start, shapeAt(path, start)), ease: 'linear' as const };
    return { kind: 'keys', id: path.id, setting: 'shape', set: [here, ...keys[i]].sort((a, b) => a.frame - b.frame), clear: [] };
  });
}

/** Places in the outlines that can be followed well: x0, y0, x1, y1, … */
export async function suggestPoints(where: Where, frame: number, outlines: Float64Array[], count: number): Promise<number[]> {
  const control = new AbortController();
  return withWorker(trackWorker(), control.signal, 'No points could be suggested.', (worker) =>
    wrap<TrackWorker>(worker).suggest({ ...requestFor(where, 'full'), frame, outlines, count }),
  );
}
