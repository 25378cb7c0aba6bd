/** Tracking the curves of a part through the shot: how they may move, which way, and what came of it. */
import { Progress } from 'radix-ui';
import { useEffect, useRef, useState } from 'react';
import { toast } from 'sonner';
import type { SplinePart } from '~/core/document/schema.ts';
import { MOTION_MODELS, type MotionModel } from '~/core/math/homography.ts';
import { REASONS } from '~/core/track/quality.ts';
import { carryRange } from '../state/carry-range.ts';
import { useShotStore } from '../state/shot-context.tsx';
import { type Gap, gapsOf, outlinesOf, trackEdits, trackRegion, trusted } from '../state/track.ts';
import { useView, useWorkbench } from '../state/workbench-context.tsx';
import { Button } from '../ui/controls.tsx';
import type { Tracked } from '../workers/track-worker.ts';
import { ChoiceSetting } from './fields.tsx';

const MODEL_WORDS: Record<MotionModel, string> = {
  move: 'Move',
  similarity: 'Move, turn, scale',
  affine: 'Affine',
  perspective: 'Perspective',
};
const WAYS = [
  { way: 'back', label: 'Back', title: 'To the first frame, or to the beginning of the marked range' },
  { way: 'both', label: 'Both ways', title: 'Forwards, then backwards, over the shot or the marked range' },
  { way: 'on', label: 'On', title: 'To the last frame, or to the end of the marked range' },
] as const;
type Way = (typeof WAYS)[number]['way'];

interface Came {
  first: number;
  last: number;
  keys: number;
  gaps: Gap[];
}

export function CurveTrack({ part }: { part: SplinePart }) {
  const store = useShotStore();
  const { plate, pictures, view } = useWorkbench();
  const frame = useView((s) => s.frame);
  const range = useView((s) => s.range);
  const [model, setModel] = useState<MotionModel>('similarity');
  const [look, setLook] = useState<'full' | 'proxy'>('full');
  const [running, setRunning] = useState<{ done: number; of: number; frame: number; quality: number } | null>(null);
  const [came, setCame] = useState<Came | null>(null);
  const stop = useRef<AbortController | null>(null);
  useEffect(() => () => stop.current?.abort(), []);
  const masks = part.paths.some((p) => p.closed);

  const start = async (way: Way) => {
    if (!pictures) return;
    const { first, last } = carryRange(way, frame, range, plate.frames);
    const outlines = outlinesOf(part, frame);
    const ends = [last, first].filter((end) => end !== frame && (end < frame ? way !== 'on' : way !== 'back'));
    const control = new AbortController();
    stop.current = control;
    const tracked: Tracked[] = [];
    const of = ends.reduce((sum, end) => sum + Math.abs(end - frame), 0);
    setCame(null);
    setRunning({ done: 0, of, frame, quality: 1 });
    try {
      for (const end of ends)
        await trackRegion(
          {
            url: `${location.origin}${pictures.plateUrl}`,
            store: look,
            plate: { width: plate.width, height: plate.height },
            outlines,
            model,
            start: frame,
            end,
          },
          (t) => {
            if (control.signal.aborted) return;
            tracked.push(t);
            setRunning({ done: tracked.length, of, frame: t.frame, quality: t.quality });
          },
          control.signal,
        );
    } catch (error) {
      toast.error(error instanceof Error ? error.message : 'The curves could not be tracked.');
    }
    setRunning(null);
    const sure = trusted(tracked);
    const edits = trackEdits(part, frame, tracked);
    if (edits.length > 0 && !store.getState().commit('Track', edits)) return;
    if (tracked.length === 0) return;
    const frames = tracked.map((t) => t.frame);
    setCame({ first: Math.min(frame, ...frames), last: Math.max(frame, ...frames), keys: sure.length, gaps: gapsOf(tracked) });
  };

  if (!masks || part.locked) return null;
  const number = (f: number) => f + plate.firstNumber;
  return (
    <section aria-label="Track" className="mt-2 border-line border-t pt-2 pb-1">
      <h3 className="px-3 pb-1 font-semibold text-xs">Track</h3>
      <ChoiceSetting<MotionModel> label="Motion" value={model} options={MOTION_MODELS.map((id) => ({ id, label: MODEL_WORDS[id] }))} onChange={setModel} />
      <ChoiceSetting<'full' | 'proxy'>
        label="Look at"
        value={look}
        options={[
          { id: 'full', label: 'Full frames (fine)' },
          { id: 'proxy', label: 'Proxies (draft)' },
        ]}
        onChange={setLook}
      />
      {running ? (
        <div className="flex items-center gap-2 px-3 py-1 text-xs">
          <Progress.Root value={running.done} max={Math.max(1, running.of)} aria-label="Tracking" className="h-1.5 flex-1 overflow-hidden rounded bg-well">
            <Progress.Indicator className="h-full bg-ink" style={{ width: `${(100 * running.done) / Math.max(1, running.of)}%` }} />
          </Progress.Root>
          <span className="w-28 text-right font-mono">
            {number(running.frame)} · {Math.round(100 * running.quality)}% sure
          </span>
          <Button className="!h-6 text-xs" title="Keeps what was tracked until now" onClick={() => stop.current?.abort()}>
            Stop
          </Button>
        </div>
      ) : (
        <div className="flex gap-1 px-3 py-1">
          {WAYS.map(({ way, label, title }) => (
            <Button key={way} className="!h-7 flex-1 text-xs" title={title} aria-label={`Track: ${label.toLowerCase()}`} onClick={() => void start(way)}>
              {label}
            </Button>
          ))}
        </div>
      )}
      <div aria-live="polite" className="px-3 text-xs">
        {came && (
          <>
            <p className="py-0.5">
              {came.keys === 0 ? 'Followed on no frame' : `Keys on ${came.keys === 1 ? 'one more frame' : `${came.keys} frames`}`} of {number(came.first)} to{' '}
              {number(came.last)}.{came.gaps.length > 0 && ' No keys where it is not to be trusted:'}
            </p>
            <ul>
              {came.gaps.map((gap) => (
                <li key={gap.first}>
                  <button type="button" className="py-0.5 text-left underline" title="Go to its first frame" onClick={() => view.getState().goTo(gap.first)}>
                    {gap.first === gap.last ? number(gap.first) : `${number(gap.first)} to ${number(gap.last)}`}
                  </button>
                  : {REASONS[gap.reason]}
                </li>
              ))}
            </ul>
          </>
        )}
      </div>
      {!came && !running && (
        <p className="px-3 text-quiet text-xs">
          Follows what is inside the curves from this frame on, and gives them a key on every frame that can be trusted.
        </p>
      )}
    </section>
  );
}
