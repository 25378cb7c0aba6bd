/** In and out: the frames that a part lives on. */
import type { FrameRange } from '~/core/time/ranges.ts';
import { useShotStore } from '../state/shot-context.tsx';
import { useView, useWorkbench } from '../state/workbench-context.tsx';
import { Button } from '../ui/controls.tsx';

export function LivesOn({ record, range }: { record: string; range: FrameRange | null }) {
  const store = useShotStore();
  const { plate } = useWorkbench();
  const marked = useView((s) => s.range);
  const set = (next: FrameRange | null) =>
    store.getState().commit(next ? 'Set range of part' : 'Part on all frames', [{ kind: 'assign', id: record, values: { range: next } }]);
  return (
    <div className="flex items-center gap-2 px-3 py-1 text-sm">
      <span className="w-20 shrink-0">Lives on</span>
      <span className="min-w-0 flex-1 font-mono text-xs">{range ? `${range.first + plate.firstNumber}–${range.last + plate.firstNumber}` : 'all frames'}</span>
      {range && (
        <Button className="!h-6 text-xs" onClick={() => set(null)}>
          All frames
        </Button>
      )}
      <Button
        className="!h-6 text-xs"
        disabled={!marked}
        title={marked ? 'The part masks on the marked range only' : 'Mark a range first: B and N, or drag in the Sheet'}
        onClick={() => marked && set(marked)}
      >
        Marked range
      </Button>
    </div>
  );
}
