/** The top bar of the workbench: where you are, the benches, undo, whether all is saved, and the running work. */
import { ChevronRight, CloudOff, Redo2, Search, Undo2 } from 'lucide-react';
import { Link } from 'react-router';
import { BENCHES, type BenchId } from '../state/benches.ts';
import { useLink } from '../state/link.ts';
import { useShot } from '../state/shot-context.tsx';
import { IconButton } from '../ui/controls.tsx';
import { HelpLinks } from '../ui/help-links.tsx';
import { RunningJobs } from '../ui/running-jobs.tsx';

export function TopBar({
  production,
  name,
  bench,
  onCommands,
}: {
  production: { id: string; name: string };
  name: string;
  bench: BenchId;
  onCommands(): void;
}) {
  const shotId = useShot((s) => s.shotId);
  const undo = useShot((s) => s.undo);
  const redo = useShot((s) => s.redo);
  const undoLabel = useShot((s) => s.undoLabel);
  const redoLabel = useShot((s) => s.redoLabel);
  return (
    <header className="flex min-h-11 shrink-0 items-center gap-x-2 border-line border-b bg-panel px-3 max-[62rem]:flex-wrap">
      <Link to="/" aria-label="All productions" className="shrink-0">
        <img src="/icon.svg" alt="" className="size-6" />
      </Link>
      <nav aria-label="Where you are" className="flex min-w-0 flex-1 items-center gap-1 text-sm">
        <Link to={`/productions/${production.id}`} className="truncate text-quiet hover:text-ink">
          {production.name}
        </Link>
        <ChevronRight className="size-4 shrink-0 text-quiet" aria-hidden />
        <h1 className="truncate font-medium">{name}</h1>
      </nav>
      <nav aria-label="Benches" className="flex h-11 shrink-0">
        {BENCHES.map(({ id, label }) => (
          <Link
            key={id}
            to={`/shots/${shotId}/${id}`}
            preventScrollReset
            aria-current={bench === id ? 'page' : undefined}
            className="flex items-center border-transparent border-b-2 px-4 text-quiet text-sm hover:text-ink aria-[current]:border-ink aria-[current]:text-white"
          >
            {label}
          </Link>
        ))}
      </nav>
      <div className="flex min-w-0 flex-1 items-center justify-end gap-2">
        <IconButton
          label={undoLabel ? `Undo: ${undoLabel}` : 'Nothing to undo'}
          about="Takes the last step back, also after a reload."
          shortcut="undo"
          disabled={!undoLabel}
          onClick={undo}
        >
          <Undo2 />
        </IconButton>
        <IconButton
          label={redoLabel ? `Redo: ${redoLabel}` : 'Nothing to redo'}
          about="Does again what was taken back last."
          shortcut="redo"
          disabled={!redoLabel}
          onClick={redo}
        >
          <Redo2 />
        </IconButton>
        <SaveMark />
        <RunningJobs />
        <IconButton label="Commands" shortcut="commands" about="All that can be done or gone to, by name; guides too." onClick={onCommands}>
          <Search />
        </IconButton>
        <HelpLinks />
      </div>
    </header>
  );
}

function SaveMark() {
  const save = useShot((s) => s.save);
  const { outage, unsent } = useLink();
  if (outage === 'server' || outage === 'database' || save === 'offline')
    return (
      <output className="flex w-36 shrink-0 items-center justify-end gap-1.5 text-doubt text-sm" aria-label="Saving">
        <CloudOff className="size-4" aria-hidden /> {unsent > 0 ? `Offline, ${unsent} kept here` : 'Offline'}
      </output>
    );
  return (
    <output className="flex w-36 shrink-0 items-center justify-end gap-1.5 text-sm" aria-label="Saving">
      {save === 'saved' && <span className="text-quiet">Saved</span>}
      {save === 'saving' && <span>Saving …</span>}
    </output>
  );
}
