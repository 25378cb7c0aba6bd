/** Presets of one kind: keep what is set under a name, and use it again, on any shot of any production; and the whole library as a file. */
import { BookMarked, Trash2 } from 'lucide-react';
import { DropdownMenu } from 'radix-ui';
import { useRef, useState } from 'react';
import { toast } from 'sonner';
import type { Edit } from '~/core/document/edits.ts';
import type { LibraryItem } from '~/core/document/library.ts';
import type { LibraryEntry } from '~/server/library.ts';
import { bringInLibrary, keepInLibrary, listLibrary, takeFromLibrary, writeLibrary } from '../state/library.ts';
import { useShotStore } from '../state/shot-context.tsx';
import { useWorkbench } from '../state/workbench-context.tsx';
import { Hint, MENU, MENU_ITEM } from '../ui/controls.tsx';
import { FileInput } from '../ui/file-input.tsx';
import { NameDialog } from '../ui/name-dialog.tsx';

export function PresetsMenu({
  of,
  start,
  fits,
  item,
  edits,
  onUse,
}: {
  /** Whose settings they are, in words: "edge", "gaussian blur". */
  of: string;
  /** The name that is offered for a new preset. */
  start: string;
  fits(entry: LibraryEntry): boolean;
  /** The settings as they are now, as a preset of this name. */
  item(name: string): LibraryItem;
  /** Edits that set what the preset holds, its keys beginning on `frame`. */
  edits?(entry: LibraryEntry, frame: number): Edit[];
  /** Where it sets nothing of the document. */
  onUse?(entry: LibraryEntry): void;
}) {
  const store = useShotStore();
  const { productionId, view } = useWorkbench();
  const [entries, setEntries] = useState<LibraryEntry[] | null>(null);
  const [naming, setNaming] = useState(false);
  const file = useRef<HTMLInputElement>(null);
  const say = (error: Error) => void toast.error(error.message);
  const load = (open: boolean) => {
    if (open)
      listLibrary(productionId)
        .then((all) => setEntries(all.filter(fits)))
        .catch(say);
  };
  const keep = (name: string) =>
    keepInLibrary(productionId, item(name))
      .then(() => toast.success(`The preset ${name} is in the library, for all productions.`))
      .catch(say);
  const remove = (entry: LibraryEntry) =>
    takeFromLibrary(productionId, entry.id)
      .then(() => setEntries((list) => list?.filter((e) => e.id !== entry.id) ?? null))
      .catch(say);
  const use = (entry: LibraryEntry) => {
    onUse?.(entry);
    if (edits) store.getState().commit(`Use preset ${entry.name}`.slice(0, 120), edits(entry, view.getState().frame));
  };
  return (
    <>
      <DropdownMenu.Root modal={false} onOpenChange={load}>
        <Hint label={`Presets of ${of}`}>
          <DropdownMenu.Trigger
            aria-label={`Presets of ${of}`}
            className="flex size-7 items-center justify-center rounded text-quiet hover:bg-raised hover:text-ink [&_svg]:size-4"
          >
            <BookMarked />
          </DropdownMenu.Trigger>
        </Hint>
        <DropdownMenu.Portal>
          <DropdownMenu.Content className={`${MENU} max-h-80 overflow-auto`} align="end">
            <DropdownMenu.Item className={MENU_ITEM} onSelect={() => setNaming(true)}>
              Save as preset …
            </DropdownMenu.Item>
            <DropdownMenu.Separator className="my-1 h-px bg-line" />
            {entries?.length === 0 && <p className="max-w-56 px-2 py-1.5 text-quiet text-xs">No presets of this kind yet.</p>}
            {entries?.map((entry) => (
              <div key={entry.id} className="flex items-center">
                <DropdownMenu.Item className={`${MENU_ITEM} min-w-0 flex-1`} onSelect={() => use(entry)}>
                  <span className="max-w-56 truncate">{entry.name}</span>
                </DropdownMenu.Item>
                <DropdownMenu.Item
                  aria-label={`Delete the preset ${entry.name}`}
                  className={`${MENU_ITEM} text-quiet`}
                  onSelect={(e) => {
                    e.preventDefault();
                    void remove(entry);
                  }}
                >
                  <Trash2 />
                </DropdownMenu.Item>
              </div>
            ))}
            {edits && (entries?.length ?? 0) > 0 && <p className="max-w-56 px-2 py-1.5 text-quiet text-xs">Keys of a preset begin on the current frame.</p>}
            <DropdownMenu.Separator className="my-1 h-px bg-line" />
            <DropdownMenu.Item className={MENU_ITEM} onSelect={() => void writeLibrary(productionId).catch(say)}>
              Write the library as JSON
            </DropdownMenu.Item>
            <DropdownMenu.Item className={MENU_ITEM} onSelect={() => file.current?.click()}>
              Bring in a library …
            </DropdownMenu.Item>
          </DropdownMenu.Content>
        </DropdownMenu.Portal>
      </DropdownMenu.Root>
      <FileInput
        input={file}
        label="Library file"
        accept="application/json,.json"
        onFiles={([chosen]) =>
          void bringInLibrary(productionId, chosen)
            .then((count) => toast.success(`${count} ${count === 1 ? 'thing is' : 'things are'} in the library now that were not before.`))
            .catch(say)
        }
      />
      <NameDialog title={`Save a preset of ${of}`} label="Name" start={start} confirm="Save" open={naming} onOpenChange={setNaming} onName={keep} />
    </>
  );
}
