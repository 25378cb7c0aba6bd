/** On which frames the pictures of the view are ready. */
import { useEffect } from 'react';
import { create } from 'zustand';
import { type FrameRange, rangesOfFrames } from '~/core/time/ranges.ts';
import { requestFor } from './picture-request.ts';
import { useCurrentSubjectId, useView, useWorkbench } from './workbench-context.tsx';

/** Ranges of them, rising. */
export const useReady = create<{ ranges: readonly FrameRange[] }>(() => ({ ranges: [] }));

/** Milliseconds after which it is looked again. */
const EVERY = 500;

/** Looks for them while a view is shown that has to be made. */
export function useReadyWatch(): void {
  const { pictures, view } = useWorkbench();
  const subject = useCurrentSubjectId();
  const isMade = useView((s) => s.view !== 'plate' && s.view !== 'outline');
  useEffect(() => {
    let told = '';
    const look = () => {
      const ranges = pictures && isMade ? rangesOfFrames(pictures.ready(requestFor(view.getState(), 0, subject, 'proxy'))) : [];
      const words = JSON.stringify(ranges);
      if (words !== told) useReady.setState({ ranges });
      told = words;
    };
    look();
    const timer = setInterval(look, EVERY);
    return () => clearInterval(timer);
  }, [pictures, view, subject, isMade]);
}
