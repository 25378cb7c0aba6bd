/** The track that moves an element, or the place of an effect. */
import type { LaneItem, Track } from '~/core/document/schema.ts';
import { ASPECTS } from '~/core/math/motion.ts';
import { FollowedTrack, FollowTakes } from '../settings/follow-fields.tsx';
import { useShot, useShotStore } from '../state/shot-context.tsx';
import { useWorkbench } from '../state/workbench-context.tsx';
import { Button } from '../ui/controls.tsx';

export function ItemFollows({ item }: { item: LaneItem }) {
  const store = useShotStore();
  const { view } = useWorkbench();
  const tracks = useShot((s) => s.history.settled.tracks);
  const follow = (track: Track | null) =>
    store
      .getState()
      .commit(track ? 'Follow a track' : 'Let the track go', [
        { kind: 'assign', id: item.id, values: { follow: track && { track: track.id, frame: view.getState().frame, takes: [...ASPECTS] } } },
      ]);
  return (
    <>
      <FollowedTrack follow={item.follow} tracks={tracks} onTrack={follow} />
      {item.follow && (
        <FollowTakes record={item.id} follow={item.follow} as={`On this frame the ${item.type} is where it was put; on all others where the track brings it`} />
      )}
      {item.follow && (
        <div className="px-3 py-1 pl-[6.25rem]">
          <Button className="!h-6 text-xs" onClick={() => item.follow && store.getState().select(item.follow.track)}>
            Open track
          </Button>
        </div>
      )}
    </>
  );
}
