/**
 * Plays at the true rate in both directions. Where pictures take longer than that, those are made that are in time when they are done. A
 * frame that is not ready in time is counted as dropped, never hidden.
 */
import { useEffect } from 'react';
import { timeMap } from '~/core/compose/timing.ts';
import type { Timing } from '~/core/document/schema.ts';
import { clamp } from '~/core/math/clamp.ts';
import { framesPerSecond } from '~/core/time/rate.ts';
import { requestFor } from '../state/picture-request.ts';
import type { Workbench } from '../state/workbench-context.tsx';
import { useView } from '../state/workbench-context.tsx';

/** Frames at a speed of its own that are played in one round, at most. */
const MOST_TIMED = 100_000;
/** Frames that are wished for at once. */
const AHEAD = 24;
/** What a picture takes at most, of what they took of late. */
const SPARE = 1.25;
/** Seconds by which a picture may be late, or as long as one takes, and is still shown where there is no newer one. */
const LATE = 0.25;

/** @param timing of the finished picture: it counts where that is played */
export function usePlayer({ plate, view, pictures }: Workbench, subject: string | null, timing: Timing | null): void {
  const playing = useView((s) => s.playing);
  useEffect(() => {
    if (playing === 0 || !pictures) return;
    const rate = framesPerSecond(plate.rate);
    /** Frames of the shot that a range shows one after the other, worked out once. */
    let known: { first: number; last: number; frames: number[] } | null = null;
    const timesIn = (first: number, last: number): number[] => {
      if (known?.first === first && known.last === last) return known.frames;
      const map = timeMap(timing as Timing, { first, last });
      const frames = Array.from({ length: Math.min(map.frames, MOST_TIMED) }, (_, k) => Math.round(map.timeAt(k)));
      known = { first, last, frames };
      return frames;
    };
    let request = 0;
    let start: number | null = null;
    const origin = view.getState().frame;
    let lastCount = 0;
    let wished = -1;
    const tick = (now: number) => {
      const state = view.getState();
      start ??= now;
      const { first, last } = state.range ?? { first: 0, last: plate.frames - 1 };
      // The frames that follow one another: those of the shot, or those that the finished picture shows at its own speed.
      const times = timing && state.view === 'composed' ? timesIn(first, last) : null;
      const length = times ? times.length : last - first + 1;
      const count = Math.floor(((now - start) / 1000) * rate);
      const begin = clamp(origin, first, last);
      const from = times ? Math.max(0, times.indexOf(begin)) : begin - first;
      const wantedAt = (c: number) => {
        const k = (((from + c * playing) % length) + length) % length;
        return requestFor(state, times ? times[k] : first + k, subject, 'proxy');
      };
      const isReady = (c: number) => {
        const wanted = wantedAt(c);
        return pictures.has(wanted) && (state.view !== 'tint' || pictures.hasPlate(wanted.frame, 'proxy'));
      };
      const isOfPlate = state.view === 'plate' || state.view === 'tint';
      const pace = pictures.pace ?? 0;
      if (count > lastCount) {
        const oldest = Math.max(lastCount + 1, count - Math.floor(Math.max(LATE, pace / 1000) * rate));
        let newest = count;
        while (newest >= oldest && !isReady(newest)) newest--;
        if (newest >= oldest) {
          view.setState({ frame: wantedAt(newest).frame, dropped: state.dropped + (newest - lastCount - 1) });
          lastCount = newest;
        } else if (isOfPlate) pictures.ask({ ...wantedAt(count), view: 'plate' }, true);
      }
      // What is begun now comes so many frames from now.
      const lead = Math.max(1, Math.ceil((pace * SPARE * rate) / 1000));
      if (count > wished) pictures.wish(Array.from({ length: Math.min(AHEAD, length) }, (_, k) => wantedAt(count + lead + k)));
      wished = count;
      request = requestAnimationFrame(tick);
    };
    request = requestAnimationFrame(tick);
    return () => cancelAnimationFrame(request);
  }, [playing, plate, view, pictures, subject, timing]);
}
