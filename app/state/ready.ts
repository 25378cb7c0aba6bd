/** On which frames the pictures of the view are ready. */
import { useEffect } from 'react';
import { create } from 'zustand';
import type { FrameRange } from '~/core/time/ranges.ts';
import { requestFor } from './picture-request.ts';
import { useCurrentSubjectId, useView, useWorkbench } from './workbench-context.tsx';

/** Ranges of them, rising. */
export const useReady = create<{ ranges: readonly FrameRange[] }>(() => ({ ranges: [] }));

/** Milliseconds after which it is looked again. */
const EVERY = 500;

const rangesOf = (frames: readonly number[]): FrameRange[] => {
  const ranges: FrameRange[] = [];
  for (const frame of frames) {
    const last = ranges.at(-1);
    if (last?.last === frame - 1) last.last = frame;
    else ranges.push({ first: frame, last: frame });
  }
  return ranges;
};

/** Looks for them while a view is shown that has to be made. */
export function useReadyWatch(): void {
  const { pictures, view } = useWorkbench();
  const subject = useCurrentSubjectId();
  const isMade = useView((s) => s.view !== 'plate' && s.view !== 'outline');
  useEffect(() => {
    let told = '';
    const look = () => {
      const ranges = pictures && isMade ? rangesOf(pictures.ready(requestFor(view.getState(), 0, subject, 'proxy'))) : [];
      const words = JSON.stringify(ranges);
      if (words !== told) useReady.setState({ ranges });
      told = words;
    };
    look();
    const timer = setInterval(look, EVERY);
    return () => clearInterval(timer);
  }, [pictures, view, subject, isMade]);
}
