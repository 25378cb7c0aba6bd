/** Plays at the true rate in both directions. A frame that is not ready in time is counted as dropped, never hidden. */
import { useEffect } from 'react';
import { clamp } from '~/core/math/clamp.ts';
import { framesPerSecond } from '~/core/time/rate.ts';
import type { Workbench } from '../state/workbench-context.tsx';
import { useView } from '../state/workbench-context.tsx';
import { requestFor } from './picture-request.ts';

export function usePlayer({ plate, view, pictures }: Workbench, subject: string | null): void {
  const playing = useView((s) => s.playing);
  useEffect(() => {
    if (playing === 0 || !pictures) return;
    const rate = framesPerSecond(plate.rate);
    let request = 0;
    let start: number | null = null;
    const origin = view.getState().frame;
    let lastCount = 0;
    const tick = (now: number) => {
      const state = view.getState();
      start ??= now;
      const { first, last } = state.range ?? { first: 0, last: plate.frames - 1 };
      const length = last - first + 1;
      const count = Math.floor(((now - start) / 1000) * rate);
      if (count > lastCount) {
        const from = clamp(origin, first, last) - first;
        const frame = first + ((((from + count * playing) % length) + length) % length);
        const wanted = requestFor(state, frame, subject, 'proxy');
        const ready = pictures.has(wanted) && (state.view !== 'tint' || pictures.hasPlate(frame, 'proxy'));
        // What is late is still asked for, so that the next round has it.
        if (!ready) pictures.ask(wanted, true);
        else {
          view.setState({ frame, dropped: state.dropped + (count - lastCount - 1) });
          lastCount = count;
        }
      }
      request = requestAnimationFrame(tick);
    };
    request = requestAnimationFrame(tick);
    return () => cancelAnimationFrame(request);
  }, [playing, plate, view, pictures, subject]);
}
