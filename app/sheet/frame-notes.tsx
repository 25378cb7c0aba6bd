/** Beside the current row: its notes and markers. */
import { Flag, Trash2 } from 'lucide-react';
import { useState } from 'react';
import { useShot, useShotStore } from '../state/shot-context.tsx';
import { useView, useWorkbench } from '../state/workbench-context.tsx';
import { Button, IconButton, TEXT_FIELD } from '../ui/controls.tsx';
import { rangeName } from '../ui/range-name.ts';

export function FrameNotes() {
  const store = useShotStore();
  const { plate, view } = useWorkbench();
  const frame = useView((s) => s.readFrame);
  const range = useView((s) => s.range);
  const notes = useShot((s) => s.document.notes);
  const markers = useShot((s) => s.document.markers);
  const [text, setText] = useState('');
  const own = notes.filter((n) => n.frame === frame);
  const here = markers.filter((m) => frame >= m.range.first && frame <= m.range.last);
  const number = (f: number) => f + plate.firstNumber;
  const addNote = () => {
    if (!text.trim()) return;
    const record = { id: crypto.randomUUID(), type: 'note' as const, frame, text: text.trim() };
    if (store.getState().commit('Add note', [{ kind: 'insert', parent: 'notes', index: notes.length, record }])) setText('');
  };
  const addMarker = () => {
    const record = {
      id: crypto.randomUUID(),
      type: 'marker' as const,
      name: text.trim() || `Marker ${markers.length + 1}`,
      range: range ?? { first: frame, last: frame },
    };
    if (store.getState().commit('Add marker', [{ kind: 'insert', parent: 'markers', index: markers.length, record }])) setText('');
  };
  return (
    <div className="shrink-0 border-line border-t p-2 text-xs" role="group" aria-label={`Notes of frame ${number(frame)}`}>
      <ul className="max-h-28 space-y-1 overflow-auto">
        {own.map((note) => (
          <li key={note.id} className="flex items-start gap-1">
            <span className="min-w-0 flex-1 whitespace-pre-wrap break-words">{note.text}</span>
            <IconButton
              label="Delete this note"
              about="Undo brings it back."
              className="!size-5"
              onClick={() => store.getState().commit('Delete note', [{ kind: 'remove', id: note.id }])}
            >
              <Trash2 />
            </IconButton>
          </li>
        ))}
        {here.map((marker) => (
          <li key={marker.id} className="flex items-center gap-1">
            <Flag className="size-3.5 shrink-0 text-quiet" aria-hidden />
            <button
              type="button"
              className="min-w-0 flex-1 truncate text-left hover:underline"
              onClick={() => view.getState().setRange(marker.range)}
              title="Mark this range"
            >
              {marker.name}
              <span className="ml-1 text-quiet">{rangeName(marker.range, plate.firstNumber)}</span>
            </button>
            <IconButton
              label={`Delete marker ${marker.name}`}
              about="Undo brings it back."
              className="!size-5"
              onClick={() => store.getState().commit('Delete marker', [{ kind: 'remove', id: marker.id }])}
            >
              <Trash2 />
            </IconButton>
          </li>
        ))}
      </ul>
      <form
        className="mt-1 space-y-1"
        onSubmit={(e) => {
          e.preventDefault();
          addNote();
        }}
      >
        <input
          data-note
          aria-label="Note or name"
          className={`${TEXT_FIELD} !h-6 text-xs`}
          placeholder={`Note for frame ${number(frame)}`}
          value={text}
          maxLength={2000}
          onChange={(e) => setText(e.target.value)}
        />
        <div className="flex gap-1">
          <Button type="submit" className="!h-6 flex-1 text-xs" disabled={!text.trim()}>
            Add note
          </Button>
          <Button
            className="!h-6 flex-1 text-xs"
            onClick={addMarker}
            title={range ? 'Names the marked range' : 'Names this frame; mark a range with B and N to name that'}
          >
            Add marker
          </Button>
        </div>
      </form>
    </div>
  );
}
