/** The sound of the plate, heard while the picture plays forwards, and of each frame that is stepped to where that is asked for. */
import { useEffect } from 'react';
import { toast } from 'sonner';
import { framesPerSecond } from '~/core/time/rate.ts';
import { takeKeptSound, useSound } from '../state/sound.ts';
import type { Workbench } from '../state/workbench-context.tsx';

/** Seconds that sound and picture may be apart before the sound jumps to where the picture is: less is not noticed (ITU-R BT.1359: 45 ms early). */
const APART = 0.045;
/** Seconds of sound that are heard of one frame, at least. */
const LEAST = 0.06;

/** @param isTimed whether what is seen has a speed of its own: then the plate's sound does not fit, and is not heard */
export function useSoundOfPlate({ plate, view }: Pick<Workbench, 'plate' | 'view'>, isTimed: boolean): void {
  useEffect(() => {
    if (!plate.hasSound) return;
    takeKeptSound();
    const rate = framesPerSecond(plate.rate);
    const audio = new Audio(`/plates/${plate.id}/sound`);
    audio.preload = 'auto';
    audio.dataset.sound = '';
    document.body.append(audio);
    const onError = () => void toast.error('The sound of this footage cannot be played. The picture goes on without it.', { id: 'sound' });
    audio.addEventListener('error', onError);
    let ends: ReturnType<typeof setTimeout> | undefined;
    const quiet = () => {
      clearTimeout(ends);
      if (!audio.paused) audio.pause();
    };
    // A browser may not let a page be heard that nobody has touched.
    const hear = () => void audio.play().catch(() => {});
    const goTo = (frame: number) => {
      audio.currentTime = frame / rate;
    };
    const end = view.subscribe((state, before) => {
      const { playing, stepping } = useSound.getState();
      if (state.playing === 1 && playing && !isTimed) {
        clearTimeout(ends);
        // Of a frame that is seen, the sound may be anywhere from its beginning to its end.
        const late = audio.currentTime - state.frame / rate;
        if (audio.paused || late < -APART || late > 1 / rate + APART) goTo(state.frame);
        if (audio.paused && !audio.ended) hear();
      } else if (state.playing !== 0 || before.playing !== 0) quiet();
      else if (stepping && state.frame !== before.frame) {
        quiet();
        goTo(state.frame);
        hear();
        ends = setTimeout(() => audio.pause(), 1000 * Math.max(LEAST, 1 / rate));
      }
    });
    return () => {
      end();
      quiet();
      audio.removeEventListener('error', onError);
      audio.removeAttribute('src');
      audio.load();
      audio.remove();
    };
  }, [plate, view, isTimed]);
}
