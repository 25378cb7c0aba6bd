/** The tracks of the shot: what they are, how far they are trusted, and what can be done with them as a whole. */
import { Crosshair, Plus, ScanLine } from 'lucide-react';
import { useRef } from 'react';
import { toast } from 'sonner';
import type { Track } from '~/core/document/schema.ts';
import { removeTrackEdits, tally } from '~/core/document/tracks.ts';
import { fileStem } from '../interchange/curves-in-out.ts';
import { MatchMoveError, matchMove, matchMoveCsv, trackFromFile } from '../interchange/match-move.ts';
import { saveFile } from '../state/save-file.ts';
import { useShot, useShotStore } from '../state/shot-context.tsx';
import { useTracking } from '../state/track.ts';
import { useView, useWorkbench } from '../state/workbench-context.tsx';
import { IconButton } from '../ui/controls.tsx';
import { FileInput } from '../ui/file-input.tsx';
import { RowMenu } from '../ui/row-menu.tsx';

const LARGEST = 20_000_000;

/** "58 of 60 frames", or what else there is to say in few words. */
function stateOf(track: Track, frames: number): string {
  const { frames: placed, lost } = tally(track);
  if (placed < 2) return 'not tracked yet';
  return placed - lost === frames ? 'all frames' : `${placed - lost} of ${frames} frames`;
}

export function TrackList({ onRename }: { onRename(id: string, name: string): void }) {
  const store = useShotStore();
  const { plate, view } = useWorkbench();
  const tracks = useShot((s) => s.history.settled.tracks);
  const selected = useShot((s) => s.selected);
  const marking = useView((s) => s.tool === 'mark');
  const tracking = useTracking();
  const input = useRef<HTMLInputElement>(null);
  if (tracks.length === 0 && !marking) return null;
  const bringIn = async (file: File) => {
    try {
      if (file.size > LARGEST) throw new MatchMoveError('This file is too large to be a track.');
      const track = trackFromFile(file.name, await file.text(), crypto.randomUUID(), plate);
      if (store.getState().commit('Bring in a track', [{ kind: 'insert', parent: 'tracks', index: tracks.length, record: track }]))
        store.getState().select(track.id);
    } catch (error) {
      toast.error(error instanceof MatchMoveError ? `${file.name}: ${error.message}` : 'The file could not be read.');
    }
  };
  const write = (track: Track, kind: 'json' | 'csv') => {
    const stem = fileStem(track.name, 'track');
    const out = matchMove(track, plate);
    saveFile({ name: `${stem}.${kind}`, content: kind === 'csv' ? matchMoveCsv(out) : `${JSON.stringify(out, null, 1)}\n` });
  };
  return (
    <section aria-label="Tracks" className="mt-2 border-line border-t pt-1">
      <div className="flex items-center gap-1 px-2">
        <h3 className="flex-1 font-semibold text-xs">Tracks</h3>
        <button type="button" className="px-1 text-quiet text-xs underline hover:text-ink" onClick={() => input.current?.click()}>
          Bring in …
        </button>
        <FileInput input={input} label="File with a track" accept=".json,.csv,.txt" onFiles={([file]) => void bringIn(file)} />
        <IconButton
          label="Set points to track"
          about="Takes the tool with which details are clicked on."
          shortcut="mark"
          className="!size-6"
          onClick={() => view.getState().setTool('mark')}
        >
          <Plus />
        </IconButton>
      </div>
      {tracks.length === 0 && <p className="px-2 py-1 text-quiet text-xs">No track yet: click on a detail in the picture.</p>}
      <ul>
        {tracks.map((track) => (
          <li key={track.id} className={`group flex h-7 items-center gap-1 rounded px-1 text-sm ${selected === track.id ? 'bg-raised' : 'hover:bg-raised/60'}`}>
            {track.kind === 'point' ? (
              <Crosshair className="size-4 shrink-0 text-quiet" aria-hidden />
            ) : (
              <ScanLine className="size-4 shrink-0 text-quiet" aria-hidden />
            )}
            <button
              type="button"
              className="min-w-0 flex-1 truncate text-left"
              aria-pressed={selected === track.id}
              onClick={() => store.getState().select(track.id)}
              onDoubleClick={() => view.getState().setTool('mark')}
            >
              {track.name}{' '}
              <span className="ml-1.5 text-quiet text-xs">{tracking?.ids.includes(track.id) ? 'being tracked' : stateOf(track, plate.frames)}</span>
            </button>
            <RowMenu
              quiet
              name={track.name}
              onRename={() => onRename(track.id, track.name)}
              onDelete={() => store.getState().commit('Delete track', removeTrackEdits(store.getState().history.settled, track.id))}
              more={[
                { label: 'Write as JSON', act: () => write(track, 'json') },
                { label: 'Write as CSV', act: () => write(track, 'csv') },
              ]}
            />
          </li>
        ))}
      </ul>
    </section>
  );
}
