/** Bringing something into a subject: curves from a file, a shape of the library, or another shot as an imported matte. */
import { Trash2 } from 'lucide-react';
import { Dialog } from 'radix-ui';
import { useEffect, useRef, useState } from 'react';
import { toast } from 'sonner';
import type { ItemOf } from '~/core/document/library.ts';
import { newImported } from '~/core/document/part-kinds/imported.ts';
import type { Subject } from '~/core/document/schema.ts';
import { shapeOver } from '~/core/path/between.ts';
import { extentOf } from '~/core/path/path.ts';
import { insertCurves, readCurves } from '../interchange/curves-in-out.ts';
import { pathData } from '../interchange/svg.ts';
import type { ChosenFootage } from '../state/footage.ts';
import { listLibrary, takeFromLibrary } from '../state/library.ts';
import { useShotStore } from '../state/shot-context.tsx';
import { useWorkbench } from '../state/workbench-context.tsx';
import { Button, EmptyNote, IconButton } from '../ui/controls.tsx';
import { BringPictures, FILE_FIELD } from './bring-pictures.tsx';

const newId = () => crypto.randomUUID();

export function BringIn({ subject, onClose }: { subject: Subject | null; onClose(): void }) {
  const store = useShotStore();
  const { otherShots, productionId, view } = useWorkbench();
  const [shapes, setShapes] = useState<(ItemOf<'shape'> & { id: string })[] | null>(null);
  const file = useRef<HTMLInputElement>(null);
  useEffect(() => {
    if (!subject) return;
    listLibrary(productionId)
      .then((all) => setShapes(all.filter((entry) => entry.kind === 'shape')))
      .catch((error: Error) => {
        setShapes([]);
        toast.error(error.message);
      });
  }, [subject, productionId]);
  const insert = (label: string, made: ReturnType<typeof insertCurves>) => {
    if (!store.getState().commit(label, made.edits)) return;
    store.getState().select(made.partId);
    onClose();
  };
  const onFile = async (chosen: File | undefined) => {
    if (!chosen || !subject) return;
    try {
      insert('Import curves', insertCurves(subject, readCurves(chosen.name, await chosen.text(), view.getState().frame), newId));
    } catch (error) {
      toast.error(error instanceof Error ? error.message : 'This file cannot be read.');
    }
    if (file.current) file.current.value = '';
  };
  /** The subject whose dialog is open now: work begun for another one must not close it. */
  const open = useRef<string | null>(null);
  open.current = subject?.id ?? null;
  const addMatte = (subjectId: string, { plateId, name, frames }: ChosenFootage) => {
    const { document, commit, select } = store.getState();
    const index = document.cast.find((s) => s.id === subjectId)?.parts.length ?? 0;
    const record = newImported(newId(), name.slice(0, 120), plateId, frames);
    if (!commit('Import matte', [{ kind: 'insert', parent: subjectId, index, record }])) return;
    select(record.id);
    if (open.current === subjectId) onClose();
  };
  return (
    <Dialog.Root open={subject !== null} onOpenChange={onClose}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-black/60" />
        <Dialog.Content
          aria-describedby={undefined}
          className="-translate-x-1/2 fixed top-24 left-1/2 z-50 max-h-[75vh] w-[30rem] space-y-4 overflow-auto rounded-lg border border-line bg-panel p-5 text-sm shadow-xl"
        >
          <Dialog.Title className="font-semibold text-base">Bring into {subject?.name}</Dialog.Title>
          <section aria-label="Curves from a file">
            <h3 className="mb-1 font-medium">Curves from a file</h3>
            <p className="mb-2 text-quiet text-xs">SVG (its units are taken as plate pixels) or curves written by Mottrel.</p>
            <input
              ref={file}
              type="file"
              aria-label="File of curves"
              accept=".svg,.json,image/svg+xml,application/json"
              onChange={(e) => void onFile(e.target.files?.[0])}
              className={FILE_FIELD}
            />
          </section>
          <section aria-label="From the library">
            <h3 className="mb-1 font-medium">From the library</h3>
            {shapes?.length === 0 && <EmptyNote>Empty. The menu of a part saves its curves here as they are on the frame.</EmptyNote>}
            <ul className="grid grid-cols-4 gap-2">
              {shapes?.map((s) => (
                <li key={s.id} className="group relative">
                  <button
                    type="button"
                    title={`Add ${s.name}`}
                    className="w-full rounded border border-line p-1 hover:border-edge"
                    onClick={() => subject && insert(`Add ${s.name}`.slice(0, 120), insertCurves(subject, s.content, newId))}
                  >
                    <Thumbnail entry={s} />
                    <span className="block truncate text-xs">{s.name}</span>
                  </button>
                  <IconButton
                    label={`Delete ${s.name} from the library`}
                    about="For all shots of the production."
                    className="!absolute !size-5 top-0.5 right-0.5 opacity-0 focus-visible:opacity-100 group-hover:opacity-100"
                    onClick={() =>
                      takeFromLibrary(productionId, s.id)
                        .then(() => setShapes(shapes.filter((o) => o.id !== s.id)))
                        .catch((error: Error) => toast.error(error.message))
                    }
                  >
                    <Trash2 />
                  </IconButton>
                </li>
              ))}
            </ul>
          </section>
          <section aria-label="A picture as matte">
            <h3 className="mb-1 font-medium">A picture or sequence as matte</h3>
            <p className="mb-2 text-quiet text-xs">
              Its luma is the matte: a still, the files of a numbered sequence, or a video. It stays in the production as a shot of its own.
            </p>
            {subject && <BringPictures key={subject.id} target={subject.id} label="Pictures of a matte" onBroughtIn={addMatte} />}
            {otherShots.length > 0 && <p className="mb-1 text-quiet text-xs">Or a shot that is in the production:</p>}
            <div className="flex flex-wrap gap-1">
              {otherShots.map((s) => (
                <Button key={s.id} onClick={() => subject && addMatte(subject.id, s)}>
                  {s.name}
                </Button>
              ))}
            </div>
          </section>
          <div className="flex justify-end">
            <Button onClick={onClose}>Close</Button>
          </div>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}

function Thumbnail({ entry }: { entry: ItemOf<'shape'> }) {
  const shapes = entry.content.curves.map((c) => ({ closed: c.closed, shape: shapeOver(c.shape, c.between, c.closed, 0) }));
  const [x, y, right, bottom] = extentOf(
    shapes.map(({ shape }) => shape),
    1,
  );
  const [w, h] = [Math.max(1, right - x), Math.max(1, bottom - y)];
  return (
    <svg viewBox={`${x - w * 0.05} ${y - h * 0.05} ${w * 1.1} ${h * 1.1}`} className="h-14 w-full" role="img" aria-label={`Picture of ${entry.name}`}>
      <path d={shapes.map(({ shape, closed }) => pathData(shape, closed)).join('')} fill="#d6d6d6" fillRule="evenodd" />
    </svg>
  );
}
