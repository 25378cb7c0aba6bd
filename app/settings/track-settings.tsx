/** A track: how it looks, running it, and editing its way. */
import { useState } from 'react';
import { nameOf } from '~/core/compose/lane-items.ts';
import { followersOf, placedOn } from '~/core/document/follow.ts';
import { namedSplines } from '~/core/document/parts.ts';
import type { Track } from '~/core/document/schema.ts';
import { anchorsOf, averageOf, clearEdit, joinEdit, smoothEdit } from '~/core/document/tracks.ts';
import { useShot, useShotStore } from '../state/shot-context.tsx';
import { runTracks } from '../state/track.ts';
import { useView, useWorkbench } from '../state/workbench-context.tsx';
import { Button } from '../ui/controls.tsx';
import { LOOK_CHOICES, MODELS } from './curve-track.tsx';
import { ChoiceSetting, PlainNumber } from './fields.tsx';
import { HoldStill } from './hold-still.tsx';
import { TrackOn, TrackOutcome, TrackWays } from './track-controls.tsx';

const SMALL = '!h-6 !px-1.5 text-xs';
const NONE = 'none';

export function TrackSettings({ track }: { track: Track }) {
  const store = useShotStore();
  const bench = useWorkbench();
  const document = useShot((s) => s.history.settled);
  const points = document.tracks.filter((t) => t.kind === 'point');
  const [all, setAll] = useState(false);
  const together = all && track.kind === 'point' ? points : [track];
  const assign = (label: string, values: Record<string, string | number | null>) => store.getState().commit(label, [{ kind: 'assign', id: track.id, values }]);
  const splines = namedSplines(document.cast);
  const gone = track.ignore !== null && !splines.some((s) => s.id === track.ignore);
  const { parts, items } = followersOf(document, track.id);
  const followers = [...parts.map((p) => p.name), ...items.map(nameOf)];
  return (
    <>
      <ChoiceSetting
        label="Motion"
        value={track.model}
        options={track.kind === 'point' ? MODELS.slice(0, 2) : MODELS}
        onChange={(model) => assign('Set motion of track', { model })}
      />
      <ChoiceSetting<Track['look']> label="Look at" value={track.look} options={LOOK_CHOICES} onChange={(look) => assign('Set size looked at', { look })} />
      {track.kind === 'point' && (
        <PlainNumber
          label="Pattern"
          unit="px"
          value={track.pattern}
          min={3}
          max={200}
          slider={60}
          step={1}
          about="Half of the side of the square round the point that is recognised"
          onValue={(pattern) => assign('Set pattern', { pattern })}
        />
      )}
      <PlainNumber
        label="Search"
        unit="px"
        value={track.search}
        min={4}
        max={2000}
        slider={200}
        step={1}
        about="How far from where it is expected it is looked for"
        onValue={(search) => assign('Set search', { search })}
      />
      <ChoiceSetting<Track['lost']>
        label="When lost"
        value={track.lost}
        options={[
          { id: 'look', label: 'Look for it again' },
          { id: 'stop', label: 'Stop there' },
        ]}
        onChange={(lost) => assign('Set what is done when lost', { lost })}
      />
      {track.kind === 'region' && (
        <ChoiceSetting
          label="Ignores"
          value={track.ignore === null ? NONE : gone ? 'gone' : track.ignore}
          options={[{ id: NONE, label: 'Nothing' }, ...(gone ? [{ id: 'gone', label: 'Deleted: ignores nothing' }] : []), ...splines]}
          onChange={(id) => id !== 'gone' && assign('Set what a track ignores', { ignore: id === NONE ? null : id })}
        />
      )}
      {track.kind === 'point' && points.length > 1 && (
        <ChoiceSetting<'this' | 'all'>
          label="Runs"
          value={all ? 'all' : 'this'}
          options={[
            { id: 'this', label: 'This point' },
            { id: 'all', label: `All ${points.length} points` },
          ]}
          onChange={(which) => setAll(which === 'all')}
        />
      )}
      <TrackOn />
      <TrackWays ids={together.map((t) => t.id)} onRun={(range) => void runTracks(store, bench, together, range)} />
      <TrackOutcome track={track} />
      <HoldStill track={track} />
      <TrackEditing track={track} />
      <p className="px-3 py-1 text-quiet text-xs">
        {followers.length === 0
          ? 'Nothing follows it yet: select a Spline, or an element on the Compose bench, and choose this track under Follows.'
          : `Followed by ${followers.join(', ')}.`}
      </p>
    </>
  );
}

/** What can be done to its way by hand. */
function TrackEditing({ track }: { track: Track }) {
  const store = useShotStore();
  const { plate, view } = useWorkbench();
  const frame = useView((s) => s.readFrame);
  const range = useView((s) => s.range);
  const tracks = useShot((s) => s.history.settled.tracks);
  const others = tracks.filter((t) => t.id !== track.id);
  const here = placedOn(track, frame);
  const number = (f: number) => f + plate.firstNumber;
  const span = range ?? { first: 0, last: plate.frames - 1 };
  const words = range ? `${number(range.first)} to ${number(range.last)}` : 'all frames';
  const commit = (label: string, edit: ReturnType<typeof clearEdit>) => edit && store.getState().commit(label, [edit]);
  const points = tracks.filter((t) => t.kind === 'point');
  const average = () => {
    const made = averageOf(crypto.randomUUID(), `Middle of ${points.length} points`, points);
    if (made && store.getState().commit('Average tracks', [{ kind: 'insert', parent: 'tracks', index: tracks.length, record: made }]))
      store.getState().select(made.id);
  };
  return (
    <section aria-label="Edit the track" className="mt-1 border-line border-t px-3 pt-1 text-xs">
      <p className="py-1" data-place>
        {here ? (
          <>
            Here: <span className="font-mono">{here.at[0].toFixed(2)}</span>, <span className="font-mono">{here.at[1].toFixed(2)}</span>
            {here.anchor ? ', set by hand' : `, quality ${here.quality.toFixed(2)}`}
          </>
        ) : (
          'No place on this frame.'
        )}
      </p>
      <div className="flex flex-wrap gap-1 pb-1">
        <Button
          className={SMALL}
          title="Press Shift M, then drag the cross: tracking passes through where you put it"
          onClick={() => view.getState().setTool('mark')}
        >
          Set by hand
        </Button>
        {here?.anchor && anchorsOf(track).length > 1 && (
          <Button
            className={SMALL}
            title="Takes this place away, so that tracking finds its own way past"
            onClick={() => store.getState().commit('Release a place', [{ kind: 'keys', id: track.id, setting: 'motion', set: [], clear: [frame] }])}
          >
            Release
          </Button>
        )}
        <Button className={SMALL} title={`Takes the places on ${words} away`} onClick={() => commit('Delete places', clearEdit(track, span))}>
          Delete {range ? words : 'all places'}
        </Button>
        <Button className={SMALL} title={`Evens out the way on ${words}`} onClick={() => commit('Smooth track', smoothEdit(track, span, 0.7))}>
          Smooth
        </Button>
        {track.kind === 'point' && points.length > 1 && (
          <Button className={SMALL} title="A new track in the middle of all points" onClick={average}>
            Average of points
          </Button>
        )}
      </div>
      {others.length > 0 && (
        <label className="flex items-center gap-2 pb-1">
          <span className="w-20 shrink-0 text-sm">Goes on as</span>
          <select
            className="h-6 min-w-0 flex-1 rounded border border-line bg-well px-1"
            title="Where this track has no place, the motion of the other is taken, from where the two meet"
            value=""
            onChange={(e) => {
              const other = tracks.find((t) => t.id === e.target.value);
              if (other) commit('Join tracks', joinEdit(track, other));
            }}
          >
            <option value="">choose a track …</option>
            {others.map((t) => (
              <option key={t.id} value={t.id}>
                {t.name}
              </option>
            ))}
          </select>
        </label>
      )}
    </section>
  );
}
