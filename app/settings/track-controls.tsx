/** Running a track: which way, how far it has come, where it was lost. */
import { Progress } from 'radix-ui';
import { placesOf } from '~/core/document/follow.ts';
import type { Track } from '~/core/document/schema.ts';
import { acceptEdit, dropGuessesEdit, gapsOf, tally } from '~/core/document/tracks.ts';
import type { FrameRange } from '~/core/time/ranges.ts';
import { REASONS } from '~/core/track/quality.ts';
import { carryRange } from '../state/carry-range.ts';
import { useShotStore } from '../state/shot-context.tsx';
import { type Tracking, useTracking } from '../state/track.ts';
import { useView, useWorkbench } from '../state/workbench-context.tsx';
import { Button } from '../ui/controls.tsx';
import { SwitchSetting } from './fields.tsx';

const WAYS = [
  { way: 'both', label: 'Track both ways', words: 'Both ways' },
  { way: 'back', label: 'Track back', words: 'Back' },
  { way: 'one-back', label: 'Track one frame back', words: '1 back' },
  { way: 'one-on', label: 'Track one frame on', words: '1 on' },
  { way: 'on', label: 'Track on', words: 'On' },
] as const;

const SECONDS_LEFT = 2;
const SMALL = '!h-5 !px-1.5 text-2xs';

function left({ done, of, began }: Tracking): string {
  if (done < 3) return '';
  const seconds = (((performance.now() - began) / done) * (of - done)) / 1000;
  return seconds < SECONDS_LEFT ? '' : seconds < 90 ? `${Math.round(seconds)} s left` : `${Math.round(seconds / 60)} min left`;
}

/** Whether tracks run in the page or on the server. */
export function TrackOn() {
  const { view } = useWorkbench();
  const on = useView((s) => s.trackOn);
  return (
    <SwitchSetting label="On server" checked={on === 'server'} onChange={(server) => view.getState().set({ trackOn: server ? 'server' : 'page' })}>
      {on === 'server' ? 'goes on when this page is closed' : 'runs in this page'}
    </SwitchSetting>
  );
}

/** Buttons for each way to track; while it runs, how far it is and a way to stop it. `ids` are of the tracks these buttons run. */
export function TrackWays({ ids, onRun }: { ids: readonly string[]; onRun(range: FrameRange): void }) {
  const { plate } = useWorkbench();
  const frame = useView((s) => s.readFrame);
  const range = useView((s) => s.range);
  const tracking = useTracking();
  if (tracking?.ids.some((id) => ids.includes(id)))
    return (
      <div className="px-3 py-1 text-xs">
        <div className="flex items-center gap-2">
          <Progress.Root
            value={Math.min(tracking.done, tracking.of)}
            max={Math.max(1, tracking.of)}
            aria-label="Tracking"
            className="h-1.5 flex-1 overflow-hidden rounded bg-well"
          >
            <Progress.Indicator className="h-full bg-ink" style={{ width: `${(100 * tracking.done) / Math.max(1, tracking.of)}%` }} />
          </Progress.Root>
          <Button className="!h-6 text-xs" title="Keeps what was tracked until now" onClick={tracking.stop}>
            Stop
          </Button>
        </div>
        <p className="pt-1 text-quiet">
          Frame <span className="font-mono text-ink">{tracking.frame + plate.firstNumber}</span>, quality{' '}
          <span className="font-mono text-ink">{tracking.quality.toFixed(2)}</span> <span className="float-right">{left(tracking)}</span>
        </p>
      </div>
    );
  return (
    <div className="flex gap-1 px-3 py-1" role="group" aria-label="Ways to track">
      {WAYS.map(({ way, label, words }) => (
        <Button
          key={way}
          aria-label={label}
          title={label}
          className="!h-7 !px-1 flex-auto text-xs"
          disabled={tracking !== null}
          onClick={() => onRun(carryRange(way, frame, range, plate.frames))}
        >
          {words}
        </Button>
      ))}
    </div>
  );
}

/** What came of it: how many frames are trusted, and where it was lost, with a way there. */
export function TrackOutcome({ track }: { track: Track }) {
  const { plate, view } = useWorkbench();
  const keys = placesOf(track);
  const gaps = gapsOf(track);
  const { lost } = tally(track);
  const store = useShotStore();
  const number = (f: number) => f + plate.firstNumber;
  const accept = (range: FrameRange) => {
    const edit = acceptEdit(track, range);
    if (edit) store.getState().commit('Accept guesses', [edit]);
  };
  const drop = (range: FrameRange) => {
    const edit = dropGuessesEdit(track, range);
    if (edit) store.getState().commit('Delete guesses', [edit]);
  };
  const spanOf = ({ first, last }: FrameRange) => (first === last ? String(number(first)) : `${number(first)} to ${number(last)}`);
  const every = { first: keys[0]?.frame ?? 0, last: keys.at(-1)?.frame ?? 0 };
  const sure = keys.length - lost;
  if (keys.length < 2) return null;
  return (
    <div aria-live="polite" className="px-3 text-xs" data-outcome>
      <p className="py-0.5">
        {sure <= 1 && lost > 0 ? 'Followed on no frame' : `Followed on ${sure} ${sure === 1 ? 'frame' : 'frames'}`} of {number(keys[0].frame)} to{' '}
        {number(keys[keys.length - 1].frame)}.{gaps.length > 0 && ' Not to be trusted, and passed over:'}
      </p>
      <ul>
        {gaps.map((gap) => (
          <li key={gap.first} className="flex items-center gap-1">
            <span className="min-w-0 flex-1">
              <button type="button" className="py-0.5 text-left underline" title="Go to its first frame" onClick={() => view.getState().goTo(gap.first)}>
                {spanOf(gap)}
              </button>
              : {REASONS[gap.reason]}
            </span>
            <Button className={SMALL} aria-label={`Accept ${spanOf(gap)}`} title="They are right: what follows goes by them" onClick={() => accept(gap)}>
              Accept
            </Button>
            <Button className={SMALL} aria-label={`Delete ${spanOf(gap)}`} title="Takes these guesses away" onClick={() => drop(gap)}>
              Delete
            </Button>
          </li>
        ))}
      </ul>
      {gaps.length > 1 && (
        <div className="flex items-center justify-end gap-1 pt-1">
          <span className="flex-1 text-quiet">All {gaps.length} stretches</span>
          <Button className={SMALL} onClick={() => accept(every)}>
            Accept all
          </Button>
          <Button className={SMALL} onClick={() => drop(every)}>
            Delete all
          </Button>
        </div>
      )}
    </div>
  );
}
