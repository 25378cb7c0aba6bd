/** A Spline and tracks: its curves are tracked, or follow a track that is there; what of it they take, and the way back to keys. */
import { useState } from 'react';
import { type PlacedSpline, writtenKeys } from '~/core/document/follow.ts';
import { findPart } from '~/core/document/parts.ts';
import type { Follow, Track } from '~/core/document/schema.ts';
import { clamp } from '~/core/math/clamp.ts';
import { MOTION_MODELS, type MotionModel } from '~/core/math/homography.ts';
import { distanceBetween } from '~/core/path/between.ts';
import { hasKeys, keyFrames } from '~/core/time/animated.ts';
import { thinKeys } from '~/core/time/key-cleaning.ts';
import type { FrameRange } from '~/core/time/ranges.ts';
import { kindOf } from '../edits/path-edits.ts';
import { useShot, useShotStore } from '../state/shot-context.tsx';
import { followEdits, runTracks, settleEdits, trackPart } from '../state/track.ts';
import { useView, useWorkbench } from '../state/workbench-context.tsx';
import { Button } from '../ui/controls.tsx';
import { ChoiceSetting, CoordinateField } from './fields.tsx';
import { FollowedLeader, FollowTakes } from './follow-fields.tsx';
import { HoldStill } from './hold-still.tsx';
import { TrackOn, TrackOutcome, TrackWays } from './track-controls.tsx';

const MODEL_WORDS: Record<MotionModel, string> = {
  move: 'Move',
  similarity: 'Move, turn, scale',
  affine: 'Affine',
  perspective: 'Perspective',
};
export const MODELS = MOTION_MODELS.map((id) => ({ id, label: MODEL_WORDS[id] }));
export const LOOK_CHOICES = [
  { id: 'full', label: 'Full frames (fine)' },
  { id: 'proxy', label: 'Proxies (draft)' },
] as const;
/** Pixels by which a curve may be off where its written keys are thinned. */
const THINNED = 0.25;

export function CurveTrack({ part }: { part: PlacedSpline }) {
  const tracks = useShot((s) => s.history.settled.tracks);
  if (part.locked) return null;
  const track = part.follow && tracks.find((t) => t.id === part.follow?.track);
  return (
    <section aria-label="Track" className="mt-2 border-line border-t pt-2 pb-1">
      <h3 className="px-3 pb-1 font-semibold text-xs">Track</h3>
      <FollowChoice part={part} tracks={tracks} />
      {part.follow && track ? <Following part={part} follow={part.follow} track={track} /> : part.paths.some((p) => p.closed) && <TrackCurves part={part} />}
    </section>
  );
}

/** Which track the curves follow. */
function FollowChoice({ part, tracks }: { part: PlacedSpline; tracks: readonly Track[] }) {
  const store = useShotStore();
  const { view } = useWorkbench();
  const choose = (track: Track | null) => {
    const document = store.getState().history.settled;
    const own = findPart(document, part.id);
    if (own?.type !== 'spline') return;
    if (track) store.getState().commit('Follow a track', followEdits(document, own, track, view.getState().frame, 'stay'));
    else store.getState().commit('Let the track go', [{ kind: 'assign', id: part.id, values: { follow: null } }]);
  };
  return (
    <FollowedLeader
      follow={part.follow}
      about="The track that moves it."
      leaders={tracks.map((t) => ({ id: t.id, label: t.name }))}
      onLeader={(id) => choose(tracks.find((t) => t.id === id) ?? null)}
    />
  );
}

/** Tracks what is inside the curves, and lets them follow. */
function TrackCurves({ part }: { part: PlacedSpline }) {
  const store = useShotStore();
  const bench = useWorkbench();
  const frame = useView((s) => s.readFrame);
  const [model, setModel] = useState<MotionModel>('similarity');
  const [look, setLook] = useState<Track['look']>('full');
  const [own, setOwn] = useState<'stay' | 'go'>('stay');
  const [id] = useState(() => crypto.randomUUID());
  const keyed = part.paths.some((p) => keyFrames(p.shape).some((f) => f !== frame));
  const run = (range: FrameRange) => trackPart(store, bench, part.id, { model, look, own }, range, id);
  return (
    <>
      <ChoiceSetting<MotionModel> label="Motion" value={model} options={MODELS} onChange={setModel} />
      <ChoiceSetting<Track['look']> label="Look at" value={look} options={LOOK_CHOICES} onChange={setLook} />
      {keyed && (
        <ChoiceSetting<'stay' | 'go'>
          label="Other keys"
          value={own}
          options={[
            { id: 'stay', label: 'Stay, as corrections' },
            { id: 'go', label: 'Go' },
          ]}
          onChange={setOwn}
        />
      )}
      <TrackOn />
      <TrackWays ids={[id]} onRun={(range) => void run(range)} />
      <p className="px-3 text-quiet text-xs">
        Finds what is inside the curves on the other frames, to the ends of the shot or of the marked range, and lets the curves follow it.
      </p>
    </>
  );
}

/** What the curves take of their track, running it again, and the way back to keys. */
function Following({ part, follow, track }: { part: PlacedSpline; follow: Follow; track: Track }) {
  const store = useShotStore();
  const bench = useWorkbench();
  const { plate } = bench;
  const [band, setBand] = useState(4);
  const [strength, setStrength] = useState(100);
  const settle = async () => {
    const { settled } = store.getState().history;
    const own = findPart(settled, part.id);
    if (own?.type !== 'spline') return;
    const range = bench.view.getState().range ?? { first: 0, last: plate.frames - 1 };
    const edits = await settleEdits(settled, own, track, range, { band, strength: strength / 100 }, bench);
    if (edits) store.getState().commit('Settle on edges', edits);
  };
  const write = (thinned: boolean) => {
    const shapes = part.paths.map((path) => {
      const keys = writtenKeys(path);
      const all = { first: keys[0].frame, last: keys[keys.length - 1].frame };
      return {
        kind: 'animate' as const,
        id: path.id,
        setting: 'shape',
        value: { keys: thinned ? thinKeys(keys, all, THINNED, kindOf(path), distanceBetween) : keys },
      };
    });
    store.getState().commit('Write the track as keys', [...shapes, { kind: 'assign', id: part.id, values: { follow: null } }]);
  };
  return (
    <>
      <FollowTakes record={part.id} follow={follow} as="On this frame the curves are where they were drawn; on all others where the track brings them" />
      <TrackOn />
      <TrackWays ids={[track.id]} onRun={(range) => void runTracks(store, bench, [track], range)} />
      <TrackOutcome track={track} />
      <HoldStill track={track} />
      <div
        className="flex items-center gap-2 px-3 py-1 text-xs"
        title="For outlines that bend: on each trusted frame the curves move onto the edge they lie on here, by no more than this from the frame before"
      >
        <span className="w-20 shrink-0 text-sm">Settle</span>
        <CoordinateField label="by" digits={0} value={band} onValue={(v) => setBand(clamp(Math.round(v), 1, 40))} />
        <CoordinateField label="px, at %" digits={0} value={strength} onValue={(v) => setStrength(clamp(Math.round(v), 1, 100))} />
        <Button className="!h-6 !px-1.5 text-xs" onClick={() => void settle()}>
          On edges
        </Button>
      </div>
      <div className="flex flex-wrap items-center gap-1 px-3 py-1 text-xs">
        <span className="w-20 shrink-0 text-sm">As keys</span>
        <Button className="!h-6 !px-1.5 text-xs" title="A key on every frame that is trusted; the curves stand alone again" onClick={() => write(false)}>
          Each frame
        </Button>
        <Button
          className="!h-6 !px-1.5 text-xs"
          title={`The fewest keys that keep the curves within ${THINNED} pixels of where they are`}
          onClick={() => write(true)}
        >
          Fewest
        </Button>
        <Button className="!h-6 !px-1.5 text-xs" onClick={() => store.getState().select(track.id)}>
          Open track
        </Button>
      </div>
      {part.paths.some((p) => hasKeys(p.shape) && p.shape.keys.length > 1) && (
        <p className="px-3 text-quiet text-xs">Keys of the curves are corrections on top of the track.</p>
      )}
    </>
  );
}
