/** The frames on which an effect or an element is there: all of them, or bursts. */
import { X } from 'lucide-react';
import { toast } from 'sonner';
import { spanOf, stretchEdits } from '~/core/compose/stretch.ts';
import { EditError } from '~/core/document/edits.ts';
import type { LaneItem } from '~/core/document/schema.ts';
import { type FrameRange, withRange } from '~/core/time/ranges.ts';
import { useShotStore } from '../state/shot-context.tsx';
import { useView, useWorkbench } from '../state/workbench-context.tsx';
import { Button, IconButton } from '../ui/controls.tsx';

export function ItemLivesOn({ item }: { item: LaneItem }) {
  const store = useShotStore();
  const { plate, view } = useWorkbench();
  const marked = useView((s) => s.range);
  const set = (label: string, lives: FrameRange[]) => store.getState().commit(label, [{ kind: 'assign', id: item.id, values: { lives } }]);
  const stretch = () => {
    if (!marked) return;
    try {
      store.getState().commit('Stretch over frames', stretchEdits(item, spanOf(item, plate.frames), marked));
    } catch (error) {
      if (!(error instanceof EditError)) throw error;
      toast.error(error.message);
    }
  };
  const name = ({ first, last }: FrameRange) => `${first + plate.firstNumber}–${last + plate.firstNumber}`;
  return (
    <div className="flex gap-2 px-3 py-1 text-sm">
      <span className="w-20 shrink-0 pt-0.5" title="The frames on which it is there">
        Active on
      </span>
      <span className="flex min-w-0 flex-1 flex-wrap items-center gap-1">
        {item.lives.length === 0 && <span className="flex-1 font-mono text-xs">all frames</span>}
        {item.lives.map((range) => (
          <span key={range.first} className="flex items-center rounded border border-line bg-well font-mono text-xs">
            <button type="button" className="px-1.5" title="Go to its first frame" onClick={() => view.getState().goTo(range.first)}>
              {name(range)}
            </button>
            <IconButton
              label={`Not on frames ${name(range)}`}
              about="It is not there on these frames."
              className="!size-6"
              onClick={() => set('Fewer frames', withRange(item.lives, range, false))}
            >
              <X />
            </IconButton>
          </span>
        ))}
        <Button
          className="!h-6 text-xs"
          disabled={!marked}
          title={marked ? 'It is there on the marked range, and on those that are listed' : 'Mark a range first: B and N, or drag in the Sheet'}
          onClick={() => marked && set('More frames', withRange(item.lives, marked, true))}
        >
          {item.lives.length === 0 ? 'Marked range' : 'And marked range'}
        </Button>
        <Button
          className="!h-6 text-xs"
          disabled={!marked}
          title={
            marked
              ? `Lays it over the marked range, with all its keys in proportion: what is on frames ${name(spanOf(item, plate.frames))} now`
              : 'Mark a range first: B and N, or drag in the Sheet'
          }
          onClick={stretch}
        >
          Stretch to it
        </Button>
      </span>
    </div>
  );
}
