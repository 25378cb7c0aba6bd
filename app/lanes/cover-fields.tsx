/** On which frames placed footage shows an empty border, in words; and a scale at which it shows none. */
import { useEffect, useState } from 'react';
import { canCover, showsBorder } from '~/core/compose/cover.ts';
import type { Element } from '~/core/document/schema.ts';
import { type Animated, hasKeys } from '~/core/time/animated.ts';
import { rangesOfFrames } from '~/core/time/ranges.ts';
import { useShot, useShotStore } from '../state/shot-context.tsx';
import { useView, useWorkbench } from '../state/workbench-context.tsx';
import { Button } from '../ui/controls.tsx';
import { rangeName } from '../ui/range-name.ts';

/** Milliseconds that nothing changes before it is looked; and frames that are looked at in one go. */
const REST = 600;
const AT_ONCE = 12;
/** A rounding more than what is needed. */
const MORE = 1.002;

export function CoverFields({ item }: { item: Element }) {
  const store = useShotStore();
  const { plate, view, pictures } = useWorkbench();
  const settled = useShot((s) => s.history.settled);
  const shown = useView((s) => s.borders?.id === item.id && s.borders);
  /** By how much it would have to grow; null while that is being looked for. */
  const [most, setMost] = useState<number | null>(null);
  const asked = canCover(item) && item.footage !== null;
  useEffect(() => {
    setMost(null);
    view.getState().set({ borders: null });
    if (!asked || !pictures) return;
    let left = false;
    const look = async () => {
      const frames = new Set<number>();
      let grows = 0;
      for (let first = 0; first < plate.frames && !left; first += AT_ONCE) {
        const some = Array.from({ length: Math.min(AT_ONCE, plate.frames - first) }, (_, k) => first + k);
        const factors = await pictures.render.cover(item.id, some).catch(() => []);
        for (const [k, factor] of factors.entries()) {
          grows = Math.max(grows, factor);
          if (showsBorder(factor)) frames.add(some[k]);
        }
        // A long shot takes its time: what is known shows meanwhile.
        if (!left) view.getState().set({ borders: { id: item.id, frames: new Set(frames) } });
      }
      if (!left) setMost(grows);
    };
    const timer = setTimeout(() => void look(), REST);
    return () => {
      left = true;
      clearTimeout(timer);
    };
    // The document counts: what is followed, and the mattes of the lane, are in it.
  }, [asked, pictures, plate.frames, item.id, settled, view]);
  if (!asked || !shown || shown.frames.size === 0) return null;
  const ranges = rangesOfFrames(shown.frames);
  const named = ranges
    .slice(0, 4)
    .map((range) => rangeName(range, plate.firstNumber))
    .join(', ');
  const scale = item.settings.scale as Animated<number>;
  const grow = (v: number): number => Math.round(v * (most ?? 1) * MORE * 100) / 100;
  const cover = () => {
    const value = hasKeys(scale) ? { keys: scale.keys.map((k) => ({ ...k, value: grow(k.value) })) } : { constant: grow(scale.constant) };
    store.getState().commit('Cover', [{ kind: 'animate', id: item.id, setting: 'settings.scale', value }]);
  };
  const possible = item.corners === null && most !== null && Number.isFinite(most);
  return (
    <div className="mx-3 my-1 flex items-center gap-2 rounded border border-line px-2 py-1 text-doubt text-xs">
      <button
        type="button"
        className="min-w-0 flex-1 text-left hover:underline"
        title="Go to the first of them"
        onClick={() => view.getState().goTo(ranges[0].first)}
      >
        An empty border shows on{' '}
        {shown.frames.size === plate.frames
          ? 'all frames'
          : `${ranges.length === 1 && shown.frames.size === 1 ? 'frame' : 'frames'} ${named}${ranges.length > 4 ? ' …' : ''}`}
        {most === null && ', as far as it has been looked'}
      </button>
      {possible && (
        <Button className="!h-6 text-xs" title="The smallest scale at which no empty border shows on any frame" onClick={cover}>
          Cover
        </Button>
      )}
    </div>
  );
}
