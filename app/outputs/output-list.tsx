/** Outputs that are to be written in one pass. */
import { X } from 'lucide-react';
import type { ReactNode } from 'react';
import type { OutputSpec } from '~/server/outputs/format.ts';
import { useShot } from '../state/shot-context.tsx';
import { useWorkbench } from '../state/workbench-context.tsx';
import { Button, IconButton } from '../ui/controls.tsx';
import { specWords } from './output-words.ts';

export function OutputList({
  list,
  busy,
  onList,
  onWrite,
  children,
}: {
  list: readonly OutputSpec[];
  busy: boolean;
  onList(list: OutputSpec[]): void;
  onWrite(): void;
  children: ReactNode;
}) {
  const { plate, formats } = useWorkbench();
  const cast = useShot((s) => s.document.cast);
  return (
    <section aria-label="List of outputs" className="border-line border-t px-3 py-2">
      <h3 className="pb-1 font-semibold text-xs">In one pass</h3>
      <ul>
        {list.map((spec, i) => {
          const format = formats.find((f) => f.id === spec.kind);
          const words = specWords(spec, format, plate, cast.find((s) => s.id === spec.subject)?.name);
          return (
            // Two of them may be the same.
            <li key={i} className="flex items-center gap-1 text-sm">
              <p className="min-w-0 flex-1 truncate" title={words}>
                {format?.label} <span className="text-quiet text-xs">{words}</span>
              </p>
              <IconButton
                label={`Take ${format?.label} off the list`}
                about="Nothing that was written goes away."
                onClick={() => onList(list.filter((_, k) => k !== i))}
              >
                <X />
              </IconButton>
            </li>
          );
        })}
      </ul>
      <Button tone="strong" className="mt-1 w-full" disabled={busy} onClick={onWrite}>
        Write the list
      </Button>
      {children}
    </section>
  );
}
