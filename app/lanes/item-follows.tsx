/** What moves an element, or the place of an effect: a track, a Spline, or another element. */
import { endsOfItem } from '~/core/compose/lane-items.ts';
import { wouldCircle } from '~/core/document/leaders.ts';
import { namedSplines } from '~/core/document/parts.ts';
import type { Element, LaneItem } from '~/core/document/schema.ts';
import type { End } from '~/core/elements/element.ts';
import { elementById } from '~/core/elements/index.ts';
import { ASPECTS } from '~/core/math/motion.ts';
import { ChoiceSetting, ShareSetting } from '../settings/fields.tsx';
import { FollowedLeader, FollowTakes } from '../settings/follow-fields.tsx';
import { useShot, useShotStore } from '../state/shot-context.tsx';
import { useWorkbench } from '../state/workbench-context.tsx';
import { Button } from '../ui/controls.tsx';

const WHOLE = 'whole';

export function ItemFollows({ item }: { item: LaneItem }) {
  const store = useShotStore();
  const { view } = useWorkbench();
  const document = useShot((s) => s.history.settled);
  const { tracks, cast, lanes } = document;
  // What would lead in a circle is not offered.
  const elements = lanes.flatMap((l) =>
    l.type === 'element' && elementById(l.element).placed && !wouldCircle(document, item.id, l.id) ? [{ id: l.id, label: l.name }] : [],
  );
  const leaders = [...tracks.map((t) => ({ id: t.id, label: t.name })), ...namedSplines(cast), ...elements];
  const follow = (id: string | null) =>
    store
      .getState()
      .commit(id ? `Follow ${leaders.find((l) => l.id === id)?.label ?? ''}`.slice(0, 120) : 'Follow nothing', [
        { kind: 'assign', id: item.id, values: { follow: id ? { track: id, frame: view.getState().frame, takes: [...ASPECTS] } : null } },
      ]);
  return (
    <>
      {item.type === 'element' && endsOfItem(item).map((end) => <FixedEnd key={end.x} item={item} end={end} leaders={leaders} />)}
      <FollowedLeader follow={item.follow} about="The track, the curve or the element that moves it." leaders={leaders} onLeader={follow} />
      {item.follow && (
        <>
          <FollowTakes
            record={item.id}
            follow={item.follow}
            as={`On this frame the ${item.type} is where it was put; on all others where what it follows brings it`}
          />
          <ShareSetting
            record={item.id}
            setting="followAmount"
            value={item.followAmount}
            label="Goes along"
            about="How far it goes along: 0 stays where it was put. Keyed, it eases into following and out of it."
          />
          {tracks.some((t) => t.id === item.follow?.track) && (
            <div className="px-3 py-1 pl-[6.25rem]">
              <Button className="!h-6 text-xs" onClick={() => item.follow && store.getState().select(item.follow.track)}>
                Open track
              </Button>
            </div>
          )}
        </>
      )}
    </>
  );
}

/** What an end of an element is fixed to: something of its own, or it goes with the whole. */
function FixedEnd({ item, end, leaders }: { item: Element; end: End; leaders: readonly { id: string; label: string }[] }) {
  const store = useShotStore();
  const { view } = useWorkbench();
  const fix = (id: string) => {
    const { [end.x]: _before, ...others } = item.pins;
    const pins = id === WHOLE ? others : { ...others, [end.x]: { track: id, frame: view.getState().frame, takes: [...ASPECTS] } };
    store
      .getState()
      .commit(id === WHOLE ? `Let go of ${end.label.toLowerCase()}` : `Fix ${end.label.toLowerCase()}`, [{ kind: 'assign', id: item.id, values: { pins } }]);
  };
  if (leaders.length === 0) return null;
  return (
    <ChoiceSetting
      label={end.label}
      about="What this end is fixed to: on this frame it is where it was put, on all others where that brings it."
      value={item.pins[end.x]?.track ?? WHOLE}
      options={[{ id: WHOLE, label: 'Goes with the whole' }, ...leaders.map((l) => ({ id: l.id, label: `Fixed to ${l.label}` }))]}
      onChange={fix}
    />
  );
}
