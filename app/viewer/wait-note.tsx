/** Says on the picture that it is not yet what was asked for, what it waits for, and how far that is. */
import { Loader } from 'lucide-react';
import { Progress } from 'radix-ui';
import { useEffect, useState } from 'react';
import { useWaiting, waitWords } from '../state/wait.ts';
import { useView, useWorkbench } from '../state/workbench-context.tsx';
import { Button } from '../ui/controls.tsx';

/** Milliseconds after which a wait is told of, and after which it shows how far it is. */
const TOLD_AFTER = 250;
const LONG_AFTER = 2000;

export function WaitNote() {
  const { pictures } = useWorkbench();
  const playing = useView((s) => s.playing !== 0);
  const { shown, since, step, problem } = useWaiting();
  const [told, setTold] = useState<'no' | 'short' | 'long'>('no');
  useEffect(() => {
    setTold('no');
    if (shown === 'whole') return;
    const past = performance.now() - since;
    const timers = [setTimeout(() => setTold('short'), Math.max(0, TOLD_AFTER - past)), setTimeout(() => setTold('long'), Math.max(0, LONG_AFTER - past))];
    return () => timers.forEach(clearTimeout);
  }, [shown, since]);
  // While it plays, what was left out is counted beside the transport.
  if (shown === 'whole' || playing || (told === 'no' && !problem)) return null;
  const share = step?.of ? (100 * (step.done ?? 0)) / step.of : null;
  return (
    <div
      role="status"
      aria-label="What the picture waits for"
      className="pointer-events-none absolute bottom-2 left-2 z-10 max-w-[75%] rounded bg-black/80 px-2.5 py-1.5 text-xs"
    >
      {problem ? (
        <span className="flex items-center gap-2 text-doubt">
          {problem}
          <Button className="!h-6 pointer-events-auto text-ink text-xs" onPointerDown={(e) => e.stopPropagation()} onClick={() => pictures?.tryAgain()}>
            Try again
          </Button>
        </span>
      ) : (
        <span className="flex items-center gap-2">
          <Loader className="size-3.5 shrink-0 animate-spin motion-reduce:animate-none" aria-hidden />
          {waitWords(shown, step)}
        </span>
      )}
      {!problem && told === 'long' && (
        <Progress.Root value={share} aria-label="How far the picture is" className="mt-1 h-1 overflow-hidden rounded bg-line">
          <Progress.Indicator
            className={share === null ? 'h-full w-1/3 animate-pulse bg-ink motion-reduce:animate-none' : 'h-full bg-ink'}
            style={share === null ? undefined : { width: `${Math.max(4, share)}%` }}
          />
        </Progress.Root>
      )}
    </div>
  );
}
