/** What else of the shot helps a Peel: a fence that it never leaves, and outlines to start from on a frame. */
import { Spline } from 'lucide-react';
import { DropdownMenu } from 'radix-ui';
import { useState } from 'react';
import { toast } from 'sonner';
import { canFence, regionTracks } from '~/core/document/fence.ts';
import { namedParts } from '~/core/document/parts.ts';
import { newStroke } from '~/core/document/records.ts';
import type { PeelPart, Track } from '~/core/document/schema.ts';
import { outlinesOn } from '~/core/document/tracks.ts';
import { areaOf } from '~/core/trace/outlines.ts';
import { useShot, useShotStore } from '../state/shot-context.tsx';
import { useView, useWorkbench } from '../state/workbench-context.tsx';
import { MENU, MENU_ITEM } from '../ui/controls.tsx';
import { ChoiceSetting } from './fields.tsx';

const NONE = 'none';
const GONE = 'gone';

const regionLabel = (track: Track): string => `${track.name}: tracked region`;

export function Fence({ part }: { part: PeelPart }) {
  const store = useShotStore();
  const document = useShot((s) => s.history.settled);
  const choices = [
    ...namedParts(document).flatMap(({ part: other, label }) => (canFence(other) ? [{ id: other.id, label }] : [])),
    ...regionTracks(document).map((track) => ({ id: track.id, label: regionLabel(track) })),
  ];
  const gone = part.fence !== null && !choices.some((c) => c.id === part.fence);
  return (
    <ChoiceSetting
      label="Fence"
      value={part.fence === null ? NONE : gone ? GONE : part.fence}
      options={[
        { id: NONE, label: choices.length === 0 ? 'None yet: draw a Spline' : 'None' },
        ...(gone ? [{ id: GONE, label: 'Deleted: it fences nothing in' }] : []),
        ...choices,
      ]}
      onChange={(id) => id !== GONE && store.getState().commit('Set fence', [{ kind: 'assign', id: part.id, values: { fence: id === NONE ? null : id } }])}
    />
  );
}

/** Plate pixels that an outline is drawn outside of what it is taken from, so that none of the subject is left out. */
const MARGIN = 8;
/** Pieces of fewer square pixels of the plate give no outline. */
const LEAST_AREA = 64;
/** Points of a loop lie no closer than this, plate pixels, and are no more than so many. */
const APART = 2;
const MOST_POINTS = 1500;

function thinned(outline: ArrayLike<number>): number[] {
  const apart = Math.max(APART, outline.length / 2 / MOST_POINTS);
  const points: number[] = [];
  for (let i = 0; i < outline.length; i += 2) {
    const [x, y] = [outline[i], outline[i + 1]];
    if (points.length === 0 || Math.hypot(x - points[points.length - 2], y - points[points.length - 1]) >= apart)
      points.push(Math.round(10 * x) / 10, Math.round(10 * y) / 10);
  }
  return points;
}

/** Loops on this frame along the outline of another part or matte: within them is looked for what stands out. */
export function OutlineFrom({ part }: { part: PeelPart }) {
  const store = useShotStore();
  const { view, pictures } = useWorkbench();
  const document = useShot((s) => s.history.settled);
  const frame = useView((s) => s.readFrame);
  const [busy, setBusy] = useState(false);
  const own = document.cast.find((s) => s.parts.some((p) => p.id === part.id));
  const parts = namedParts(document).filter((p) => p.part.id !== part.id);
  const mattes = document.cast.filter((s) => s !== own && s.parts.length > 0);
  const regions = regionTracks(document);
  // Before what is kept on the frame, so that it is looked into and does not only bound.
  const put = (outlines: readonly ArrayLike<number>[]): boolean => {
    const loops = outlines.map(thinned).filter((points) => points.length >= 6);
    const edits = loops.map((points, index) => ({
      kind: 'insert' as const,
      parent: part.id,
      index,
      record: newStroke(crypto.randomUUID(), frame, 'loop', points),
    }));
    if (edits.length > 0 && store.getState().commit('Outline as loop', edits)) view.getState().set({ painted: { part: part.id, frame } });
    return edits.length > 0;
  };
  const take = async (subject: string, from: string | null, label: string) => {
    if (!pictures) return;
    setBusy(true);
    try {
      const outlines = await pictures.render.outlines(subject, from, frame, LEAST_AREA, MARGIN);
      if (!put(outlines.filter((o) => areaOf(o) > 0))) toast(`${label} masks nothing on this frame.`);
    } catch (error) {
      toast.error(error instanceof Error ? error.message : 'No outline could be taken.');
    } finally {
      setBusy(false);
    }
  };
  return (
    <DropdownMenu.Root modal={false}>
      <DropdownMenu.Trigger
        disabled={busy || part.locked}
        title="Loops on this frame round another part, matte or tracked region, to start from"
        className="flex h-6 items-center gap-1 rounded border border-line px-1.5 text-xs hover:bg-raised disabled:opacity-50 [&_svg]:size-3.5"
      >
        <Spline />
        {busy ? 'Taking …' : 'Outline from …'}
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content className={`${MENU} max-h-80 overflow-auto`} align="end">
          {parts.length + mattes.length + regions.length === 0 && (
            <p className="max-w-56 px-2 py-1.5 text-quiet text-xs">
              There is no other part in the shot yet: draw a Spline, bring a matte in, or track a region.
            </p>
          )}
          {parts.map(({ subject, part: other, label }) => (
            <DropdownMenu.Item key={other.id} className={MENU_ITEM} onSelect={() => void take(subject.id, other.id, label)}>
              {label}
            </DropdownMenu.Item>
          ))}
          {mattes.map((subject) => (
            <DropdownMenu.Item key={subject.id} className={MENU_ITEM} onSelect={() => void take(subject.id, null, subject.name)}>
              {subject.name}: finished matte
            </DropdownMenu.Item>
          ))}
          {regions.map((track) => (
            <DropdownMenu.Item
              key={track.id}
              className={MENU_ITEM}
              onSelect={() => put(outlinesOn(track, frame) ?? []) || toast(`${track.name} is not tracked to this frame.`)}
            >
              {regionLabel(track)}
            </DropdownMenu.Item>
          ))}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}
