/** Placing an element by its four corners, or by position, scale and turn. */
import { toast } from 'sonner';
import type { Element, Track } from '~/core/document/schema.ts';
import { regionCorners } from '~/core/elements/pinned.ts';
import { useShot, useShotStore } from '../state/shot-context.tsx';
import { useWorkbench } from '../state/workbench-context.tsx';
import { cornersOf } from '../tools/stand-corners.ts';
import { Button } from '../ui/controls.tsx';

export function ElementCorners({ item }: { item: Element }) {
  const store = useShotStore();
  const { view, pictures } = useWorkbench();
  const track = useShot((s) => s.history.settled.tracks.find((t) => t.id === item.follow?.track));
  const set = (label: string, corners: number[] | null) =>
    store
      .getState()
      .commit(label, [{ kind: 'animate', id: item.id, setting: 'corners', value: corners && { constant: corners.map((v) => Math.round(v * 100) / 100) } }]);
  const asItStands = async () => {
    // Before it follows anything: that is what corners are told in.
    const stand = await pictures?.render.stand({ ...item, follow: null }, view.getState().frame);
    if (!stand) return void toast('There is nothing of it to see on this frame.');
    set('Place by corners', cornersOf(stand).flat());
  };
  const onRegion = (region: Track) => item.follow && set('Place on the region', regionCorners(region, item.follow.frame));
  return (
    <div className="flex flex-wrap items-center gap-1 px-3 py-1 text-sm">
      <span className="mr-1 w-20 shrink-0">Placed by</span>
      <Button
        className="!h-6 !px-1.5 text-xs aria-pressed:border-edge aria-pressed:text-white"
        aria-pressed={item.corners === null}
        title="Position, scale and turn"
        onClick={() => item.corners && set('Place by its middle', null)}
      >
        Position
      </Button>
      <Button
        className="!h-6 !px-1.5 text-xs aria-pressed:border-edge aria-pressed:text-white"
        aria-pressed={item.corners !== null}
        title="Where each of its four corners lies: drag them in the viewer"
        onClick={() => item.corners ?? void asItStands()}
      >
        Corners
      </Button>
      {track?.kind === 'region' && (
        <Button className="!h-6 !px-1.5 text-xs" title="Its corners on those of the tracked region" onClick={() => onRegion(track)}>
          On the region
        </Button>
      )}
    </div>
  );
}
