/** Keeps the canvas showing the wished frame and view, asks for what is missing and reads ahead. */

import { type RefObject, useCallback, useEffect, useRef } from 'react';
import { pathsOf } from '~/core/document/parts.ts';
import { keyFrames } from '~/core/time/animated.ts';
import type { PictureRequest, Pictures } from '../frame/pictures.ts';
import { useLink } from '../state/link.ts';
import { requestFor } from '../state/picture-request.ts';
import type { ShotState, ShotStore } from '../state/shot-store.ts';
import type { ViewTransform } from '../state/view-transform.ts';
import { setShown, useWaiting } from '../state/wait.ts';
import type { Workbench } from '../state/workbench-context.tsx';
import { paint } from './painter.ts';

/** Frames read ahead in the direction of play, and around a frame that stands. */
const AHEAD = 16;
const AROUND = 6;
const MEASURES_KEPT = 500;

/** What of the view the painted picture depends on. */
const PAINTED = [
  'frame',
  'view',
  'tint',
  'ground',
  'groundColour',
  'playing',
  'solo',
  'matteGamma',
  'without',
  'judge',
  'compared',
  'groundPlate',
  'onion',
] as const;

/** The `count` keyed frames of a subject's shapes before and after `frame`. */
function onionFrames({ document }: ShotState, subjectId: string | null, frame: number, count: number): number[] {
  const subject = document.cast.find((s) => s.id === subjectId);
  const keys = [...new Set(subject?.parts.flatMap((p) => pathsOf(p).flatMap((q) => keyFrames(q.shape))))].sort((a, b) => a - b);
  return [...keys.filter((k) => k < frame).slice(-count), ...keys.filter((k) => k > frame).slice(0, count)];
}

export function usePictures(
  canvas: RefObject<HTMLCanvasElement | null>,
  bench: Workbench,
  shot: ShotStore,
  subject: string | null,
  viewTransform: ViewTransform | null,
  size: { width: number; height: number },
): void {
  const { pictures, view: viewStore, plate } = bench;
  const scheduled = useRef(0);
  const asked = useRef<{ frame: number; at: number } | null>(null);
  const edited = useRef<number | null>(null);
  const measured = useRef(0);

  /** What to show now, asked for at once: the worker need not wait for the screen. */
  const askNow = useCallback(
    (viewTransform: ViewTransform, from: Pictures): PictureRequest => {
      const v = viewStore.getState();
      const proxyScale = plate.proxyWidth / plate.width;
      const fine = viewTransform.scale * window.devicePixelRatio > proxyScale * 1.05 && plate.proxyWidth !== plate.width;
      const wantsFull = fine && v.playing === 0 && shot.getState().draft === null;
      const request = requestFor(v, v.frame, subject, wantsFull ? 'full' : 'proxy');
      if (wantsFull && !from.has(request)) from.ask({ ...request, store: 'proxy' }, true);
      from.ask(request, true);
      return request;
    },
    [viewStore, shot, subject, plate],
  );

  /** The name of the picture that stands there, where that is all there is. */
  const painted = useRef<string | null>(null);
  /** Whether the next pass paints: after an edit alone there is nothing new to paint until its picture has come. */
  const stale = useRef(false);
  const pass = useCallback(
    (paints: boolean) => {
      if (!pictures || !viewTransform) return;
      stale.current ||= paints;
      cancelAnimationFrame(scheduled.current);
      scheduled.current = requestAnimationFrame(() => {
        const element = canvas.current;
        if (!element) return;
        const v = viewStore.getState();
        const request = askNow(viewTransform, pictures);
        // What came may be for later: what stands there whole is not painted anew.
        const name = pictures.nameOf(request);
        const isThere = name !== null && name === painted.current;
        const mustPaint = stale.current || (pictures.has(request) && !isThere);
        stale.current = false;
        const shown = mustPaint
          ? paint(element, pictures, {
              request,
              plate,
              viewTransform,
              ground: v.ground,
              groundColour: v.groundColour,
              groundPlate: v.groundPlate,
              onion: v.onion > 0 ? onionFrames(shot.getState(), subject, v.frame, v.onion) : [],
              density: window.devicePixelRatio,
            })
          : isThere
            ? 'whole'
            : 'older';
        if (mustPaint || !isThere) painted.current = shown === 'whole' && v.onion === 0 && v.groundPlate === null ? name : null;
        setShown(shown);
        // For whoever looks at the canvas from outside.
        element.dataset.shown = shown;
        const exact = shown === 'whole';
        if (exact && asked.current) {
          // Measures stay until they are cleared; the newest few are all that anyone reads.
          if (++measured.current % MEASURES_KEPT === 0) performance.clearMeasures('mottrel-frame');
          performance.measure('mottrel-frame', { start: asked.current.at, end: performance.now(), detail: asked.current.frame });
          asked.current = null;
        }
        if (exact && edited.current !== null) {
          if (++measured.current % MEASURES_KEPT === 0) performance.clearMeasures('mottrel-edit');
          performance.measure('mottrel-edit', { start: edited.current, end: performance.now() });
          edited.current = null;
        }
        const direction = v.playing || 1;
        const { first, last } = v.range ?? { first: 0, last: plate.frames - 1 };
        const reach = v.playing === 0 ? AROUND : AHEAD;
        for (let k = 1; k <= reach; k++) {
          let frame = v.frame + k * direction;
          if (v.playing !== 0 && frame > last) frame = first + (frame - last - 1);
          if (v.playing !== 0 && frame < first) frame = last - (first - frame - 1);
          if (frame < 0 || frame >= plate.frames) continue;
          // Rendered pictures that are to come are wished for by what plays.
          if (v.view === 'plate' || v.view === 'tint' || v.playing === 0) pictures.ask({ ...request, view: 'plate', store: 'proxy', frame }, false);
          if (v.playing === 0 && v.frame - k >= 0) pictures.ask({ ...request, view: 'plate', store: 'proxy', frame: v.frame - k }, false);
        }
      });
    },
    [pictures, viewTransform, canvas, viewStore, shot, subject, plate, askNow],
  );
  const repaint = useCallback(() => pass(true), [pass]);

  useEffect(repaint, [repaint, size.width, size.height]);

  useEffect(() => {
    if (!pictures) return;
    pictures.onArrival = (problem) => {
      // Where the picture is not yet what it is to be, whatever comes may bring it nearer to that.
      if (problem === null) pass(painted.current === null);
      else if (useWaiting.getState().shown !== 'whole') useWaiting.setState({ problem });
    };
    pictures.onStep = (step) => useWaiting.setState({ step, problem: null });
    // What could not be had while the server was away is asked for again.
    const offLink = useLink.subscribe((now, before) => {
      if (before.outage !== null && now.outage === null) pictures.tryAgain();
    });
    const state = shot.getState();
    pictures.setDocument(state.history.settled, state.draft);
    repaint();
    const offShot = shot.subscribe((now, before) => {
      if (now.document !== before.document) {
        pictures.setDocument(now.history.settled, now.draft);
        edited.current = performance.now();
        if (viewTransform) askNow(viewTransform, pictures);
        pass(false);
      }
    });
    const offView = viewStore.subscribe((now, before) => {
      if (now.frame !== before.frame) asked.current = { frame: now.frame, at: performance.now() };
      if (PAINTED.some((key) => now[key] !== before[key])) repaint();
    });
    return () => {
      offLink();
      offShot();
      offView();
    };
  }, [pictures, shot, viewStore, viewTransform, repaint, pass, askNow]);
}
