/** How many remarks there are on the shot, and the list of them, each with a way there. */
import { TriangleAlert } from 'lucide-react';
import { Popover } from 'radix-ui';
import { useRemarks } from '../state/remarks.ts';
import { useShotStore } from '../state/shot-context.tsx';
import { useToBench } from '../state/to-bench.ts';

export function RemarksNote() {
  const store = useShotStore();
  const toBench = useToBench();
  const remarks = useRemarks();
  if (remarks.length === 0) return null;
  const words = remarks.length === 1 ? 'One thing has no effect' : `${remarks.length} things have no effect`;
  const go = (id: string) => {
    const inLanes = store.getState().document.lanes.some((l) => l.id === id);
    toBench(inLanes ? 'compose' : 'isolate');
    store.getState().select(id);
  };
  return (
    <Popover.Root>
      <Popover.Trigger className="inline-flex h-7 shrink-0 items-center gap-1.5 rounded border border-line px-2 text-doubt text-xs hover:border-edge">
        <TriangleAlert className="size-3.5" aria-hidden /> {words}
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          side="top"
          align="end"
          sideOffset={6}
          aria-label="What has no effect"
          className="z-50 w-96 rounded-md border border-line bg-panel p-2 text-sm shadow-xl"
        >
          <ul className="space-y-1">
            {remarks.map((r) => (
              <li key={r.id}>
                <Popover.Close asChild>
                  <button type="button" className="w-full rounded px-2 py-1 text-left hover:bg-raised" onClick={() => go(r.id)}>
                    <b className="font-medium">{r.name}</b> <span className="text-quiet">{r.words}.</span>
                  </button>
                </Popover.Close>
              </li>
            ))}
          </ul>
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}
