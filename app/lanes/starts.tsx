/** Starts: usual jobs laid out at once. What one needs is asked for, and what to do next is told beside the lanes. */
import { LayoutTemplate, X } from 'lucide-react';
import { Dialog } from 'radix-ui';
import { useId, useState } from 'react';
import { toast } from 'sonner';
import { create } from 'zustand';
import { type Edit, EditError } from '~/core/document/edits.ts';
import { addedEdits, type ItemOf } from '~/core/document/library.ts';
import { namedSplines } from '~/core/document/parts.ts';
import type { ShownFootage } from '~/core/document/schema.ts';
import { keptStartEdits, needsSubject } from '~/core/starts/kept.ts';
import { type Asks, laidOut, STARTS, type Start } from '~/core/starts/starts.ts';
import type { LibraryEntry } from '~/server/library.ts';
import { ChoiceSetting } from '../settings/fields.tsx';
import { shownFootage } from '../state/footage.ts';
import { listLibrary, takeFromLibrary } from '../state/library.ts';
import { useShot, useShotStore } from '../state/shot-context.tsx';
import { useCurrentSubjectId, useWorkbench } from '../state/workbench-context.tsx';
import { Button, IconButton, TEXT_FIELD } from '../ui/controls.tsx';
import { FootageChoice } from './footage-choice.tsx';
import { Gallery, type GalleryKind } from './gallery.tsx';

type KeptStart = LibraryEntry & ItemOf<'start'>;
const isKept = (entry: LibraryEntry): entry is KeptStart => entry.kind === 'start';

/** What can be chosen: one of the program's, or one that was kept. */
interface Choice extends GalleryKind {
  asks: readonly Asks[];
  steps: readonly string[];
  start?: Start;
  kept?: KeptStart;
}

/** What there is to do after a start, until it is put away. */
const useSteps = create<{ title: string; steps: readonly string[] } | null>(() => null);

const OURS: Choice[] = STARTS.map((start) => ({ ...start, picture: `start-${start.id}`, start }));

export function Starts() {
  const { productionId } = useWorkbench();
  const [kept, setKept] = useState<readonly KeptStart[]>([]);
  const [chosen, setChosen] = useState<Choice | null>(null);
  const load = () =>
    void listLibrary(productionId)
      .then((all) => setKept(all.filter(isKept)))
      .catch(() => {});
  const own = kept.map(
    (entry): Choice => ({
      ...{
        id: entry.id,
        label: entry.name,
        about: `Kept by you: ${entry.content.items.length === 1 ? 'one thing' : `${entry.content.items.length} things`}, of a shot of ${entry.content.frames} frames.`,
        picture: null,
      },
      ...{ asks: needsSubject(entry.content) ? ['subject'] : [], steps: [], kept: entry },
    }),
  );
  return (
    <>
      <Gallery<Choice>
        title="Starts: usual jobs, laid out"
        groups={[...(own.length > 0 ? [{ title: 'Your own', kinds: own }] : []), { title: 'Usual jobs', kinds: OURS }]}
        onOpen={load}
        onChoose={setChosen}
        button={
          <Button className="!h-6 text-xs" title="Usual jobs, laid out with their keys: choose one and say what it needs">
            <LayoutTemplate className="size-3.5" aria-hidden /> Starts
          </Button>
        }
      />
      <Dialog.Root open={chosen !== null} onOpenChange={(open) => !open && setChosen(null)}>
        <Dialog.Portal>
          <Dialog.Overlay className="fixed inset-0 z-40 bg-black/60" />
          <Dialog.Content
            aria-describedby={undefined}
            className="-translate-x-1/2 fixed top-1/4 left-1/2 z-50 w-[26rem] rounded-lg border border-line bg-panel p-5 text-sm shadow-xl"
          >
            <Dialog.Title className="mb-1 font-semibold text-base">{chosen?.label}</Dialog.Title>
            {chosen && <Asking key={chosen.id} choice={chosen} onClose={() => setChosen(null)} />}
          </Dialog.Content>
        </Dialog.Portal>
      </Dialog.Root>
    </>
  );
}

const NOTHING = 'nothing';

function Asking({ choice, onClose }: { choice: Choice; onClose(): void }) {
  const store = useShotStore();
  const { view, productionId } = useWorkbench();
  const { cast, tracks } = useShot((s) => s.history.settled);
  const current = useCurrentSubjectId();
  const wordsId = useId();
  const [subject, setSubject] = useState(current);
  const [footage, setFootage] = useState<ShownFootage | null>(null);
  const [leader, setLeader] = useState<string | null>(null);
  const [words, setWords] = useState('');
  const asks = (what: Asks) => choice.asks.includes(what);
  const missing = asks('subject') && !subject ? 'a subject' : asks('footage') && !footage ? 'footage' : null;
  const leaders = [...tracks.map((t) => ({ id: t.id, label: t.name })), ...namedSplines(cast)];
  const lay = () => {
    const { document, commit, select } = store.getState();
    const newId = () => crypto.randomUUID();
    try {
      const edits: Edit[] = choice.kept
        ? keptStartEdits(choice.kept.content, document, subject, newId)
        : addedEdits(document, laidOut(choice.start as Start, document, { subject, footage, words: words.trim(), leader }, newId));
      if (!commit(`Start: ${choice.label}`.slice(0, 120), edits)) return;
      const inserted = edits.flatMap((e) => (e.kind === 'insert' ? [e.record.id] : []));
      select(inserted.at(-1) ?? null);
      view.getState().setView('composed');
      useSteps.setState(choice.steps.length > 0 ? { title: choice.label, steps: choice.steps } : null, true);
      onClose();
    } catch (error) {
      if (!(error instanceof EditError)) throw error;
      toast.error(error.message);
    }
  };
  return (
    <form
      onSubmit={(event) => {
        event.preventDefault();
        if (!missing) lay();
      }}
    >
      <p className="mb-2 text-quiet">{choice.about}</p>
      <div className="-mx-3">
        {asks('subject') && (
          <ChoiceSetting
            label="Subject"
            about="The one that it is about."
            value={subject ?? NOTHING}
            options={[
              ...(subject ? [] : [{ id: NOTHING, label: cast.length > 0 ? 'Choose …' : 'None isolated yet' }]),
              ...cast.map((s) => ({ id: s.id, label: s.name })),
            ]}
            onChange={(id) => id !== NOTHING && setSubject(id)}
          />
        )}
        {asks('footage') && (
          <FootageChoice label="Footage" about="What it shows." none="Choose …" shown={footage} onChoose={(of) => setFootage(shownFootage(of))} />
        )}
        {asks('leader') && (
          <ChoiceSetting
            label="Follows"
            about="The track, or the curve, that it goes with; it can be chosen later as well."
            value={leader ?? NOTHING}
            options={[{ id: NOTHING, label: 'Nothing' }, ...leaders]}
            onChange={(id) => setLeader(id === NOTHING ? null : id)}
          />
        )}
        {asks('words') && (
          <div className="flex items-center gap-2 px-3 py-1">
            <label htmlFor={wordsId} className="w-20 shrink-0">
              Words
            </label>
            <input id={wordsId} className={TEXT_FIELD} maxLength={500} placeholder="Title" value={words} onChange={(e) => setWords(e.target.value)} />
          </div>
        )}
      </div>
      <p className="mt-2 text-quiet text-xs">
        {asks('subject') && cast.length === 0
          ? 'It needs a subject: isolate one first, on the Isolate bench.'
          : missing
            ? `It needs ${missing}.`
            : 'Its keys are laid over the whole shot in proportion. One undo takes all of it back.'}
      </p>
      <div className="mt-3 flex justify-end gap-2">
        {choice.kept && (
          <Button
            className="mr-auto"
            onClick={() => {
              takeFromLibrary(productionId, choice.id)
                .then(onClose)
                .catch((error: Error) => void toast.error(error.message));
            }}
          >
            Delete it
          </Button>
        )}
        <Dialog.Close asChild>
          <Button>Cancel</Button>
        </Dialog.Close>
        <Button type="submit" tone="strong" disabled={missing !== null}>
          Lay out
        </Button>
      </div>
    </form>
  );
}

/** What to do next with what a start has laid out. */
export function StartSteps() {
  const shown = useSteps();
  if (!shown) return null;
  return (
    <section aria-label={`Next with ${shown.title}`} className="border-line border-b bg-raised/60 py-1 pr-1 pl-3 text-xs">
      <div className="flex items-center">
        <h3 className="min-w-0 flex-1 truncate font-semibold">{shown.title}: next</h3>
        <IconButton label="Put these steps away" about="What was laid out stays." className="!size-6" onClick={() => useSteps.setState(null, true)}>
          <X />
        </IconButton>
      </div>
      <ol className="list-decimal space-y-0.5 pr-2 pb-1 pl-4">
        {shown.steps.map((step) => (
          <li key={step}>{step}</li>
        ))}
      </ol>
    </section>
  );
}
