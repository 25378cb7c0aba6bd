/** The exposure sheet: frames run down, one row a frame; columns are approval, notes, parts and keyed settings. */
import { useVirtualizer } from '@tanstack/react-virtual';
import { clsx } from 'clsx';
import { Check, ChevronsLeftRight, ChevronsRightLeft, Flag, StickyNote } from 'lucide-react';
import { type PointerEvent, useEffect, useMemo, useRef, useState } from 'react';
import { isApproved } from '~/core/document/approval.ts';
import { clamp } from '~/core/math/clamp.ts';
import { REASONS } from '~/core/peel/uncertainty/uncertainty.ts';
import { toTimecode } from '~/core/time/timecode.ts';
import type { FoundFrame } from '~/server/peel/results.ts';
import { type Column, foldColumns, isTrack, useColumns } from '../keys/columns.ts';
import { approvalEdits, isGone, useShownDoubt, wordFor } from '../state/peel.ts';
import { useShot, useShotStore } from '../state/shot-context.tsx';
import { useSettledSubject, useView, useWorkbench } from '../state/workbench-context.tsx';
import { keyName } from '../tools/tool.ts';
import { EmptyNote, PanelTitle } from '../ui/controls.tsx';
import { DoubtNote } from '../ui/doubt-note.tsx';
import { FrameNotes } from './frame-notes.tsx';
import { KeyMenu, useKeyWork } from './key-menu.tsx';

const ROW = 22;
const FRAME_WIDTH = 84;
const STATE_WIDTH = 36;
const COLUMN_WIDTH = 62;
const DOUBT_WIDTH = 84;

export function Sheet() {
  const { plate, view } = useWorkbench();
  const store = useShotStore();
  const frame = useView((s) => s.readFrame);
  const range = useView((s) => s.range);
  const select = useShot((s) => s.select);
  const notes = useShot((s) => s.document.notes);
  const markers = useShot((s) => s.document.markers);
  const subject = useSettledSubject();
  const all = useColumns();
  const { peels, found, of: doubtOf } = useShownDoubt();
  const [folded, setFolded] = useState<ReadonlySet<string>>(new Set());
  const [picked, setPicked] = useState<string | null>(null);
  const columns = useMemo(() => foldColumns(all, folded), [all, folded]);
  const scroller = useRef<HTMLDivElement>(null);
  const dragFrom = useRef<number | null>(null);
  const extending = useRef<number | null>(null);
  const noted = useMemo(() => new Set(notes.map((n) => n.frame)), [notes]);
  const rows = useVirtualizer({
    count: plate.frames,
    getScrollElement: () => scroller.current,
    estimateSize: () => ROW,
    overscan: 12,
    initialRect: { width: 240, height: 600 },
  });
  useEffect(() => {
    rows.scrollToIndex(frame, { align: 'center' });
  }, [frame, rows]);

  const chosen = columns.filter((c) => c.id === picked);
  // A track has a place on nearly every frame: what is done to all keys leaves it alone.
  const working = chosen.length > 0 ? chosen : columns.filter((c) => !isTrack(c));
  const span = range ?? { first: frame, last: frame };
  const work = useKeyWork(working, span);
  const number = (f: number) => f + plate.firstNumber;
  const words = `${chosen.length > 0 ? `${chosen[0].owner}, ${chosen[0].label}` : 'All columns'}, ${range ? `frames ${number(span.first)} to ${number(span.last)}` : `frame ${number(frame)} (drag over frames, or press B and N, to mark a range)`}`;

  const approve = (approved: boolean, at = span) =>
    subject && store.getState().commit(approved ? 'Approve' : 'Release', approvalEdits(store.getState().history.settled, subject, at, approved));

  const onKeyDown = (event: React.KeyboardEvent) => {
    const key = keyName(event);
    const by = key === 'ArrowDown' || key === 'Shift+ArrowDown' ? 1 : key === 'ArrowUp' || key === 'Shift+ArrowUp' ? -1 : 0;
    const state = view.getState();
    const command = (event.ctrlKey || event.metaKey) && !event.altKey && !event.shiftKey;
    let used = true;
    if (by !== 0 && event.shiftKey) {
      const from = extending.current ?? state.frame;
      extending.current = from;
      state.step(by);
      const to = view.getState().frame;
      state.setRange({ first: Math.min(from, to), last: Math.max(from, to) });
    } else if (by !== 0) {
      extending.current = null;
      state.step(by);
    } else if (key === 'ArrowRight' || key === 'ArrowLeft') {
      const now = columns.findIndex((c) => c.id === picked);
      const next = now + (key === 'ArrowRight' ? 1 : -1);
      setPicked(next < 0 ? null : (columns[Math.min(columns.length - 1, next)]?.id ?? null));
    } else if (command && event.key === 'a') state.setRange({ first: 0, last: plate.frames - 1 });
    else if (command && event.key === 'c') work.copy();
    else if (command && event.key === 'v') work.paste();
    else if (key === 'Delete' || key === 'Backspace') work.remove();
    else if (key === 'Enter') approve(!(subject && isApproved(subject, state.frame)));
    else if (key === 'Escape') {
      state.setRange(null);
      setPicked(null);
    } else used = false;
    if (!used) return;
    event.preventDefault();
    event.stopPropagation();
  };

  const rowAt = (event: PointerEvent): number => {
    const box = scroller.current?.querySelector('[data-rows]')?.getBoundingClientRect();
    return clamp(Math.floor((event.clientY - (box?.top ?? 0)) / ROW), 0, plate.frames - 1);
  };
  const onPointerDown = (event: PointerEvent<HTMLDivElement>) => {
    if (event.button !== 0) return;
    const index = rowAt(event);
    if (event.shiftKey) {
      view.getState().setRange({ first: Math.min(frame, index), last: Math.max(frame, index) });
      return;
    }
    dragFrom.current = index;
    extending.current = null;
    view.getState().goTo(index);
  };
  const onPointerMove = (event: PointerEvent<HTMLDivElement>) => {
    const from = dragFrom.current;
    if (from === null || event.buttons === 0) return;
    const to = rowAt(event);
    if (to !== from) view.getState().setRange({ first: Math.min(from, to), last: Math.max(from, to) });
  };

  const owners = new Map<string, number>();
  for (const c of all) owners.set(c.owner, (owners.get(c.owner) ?? 0) + 1);
  const width = FRAME_WIDTH + STATE_WIDTH + (peels.length > 0 ? DOUBT_WIDTH : 0) + columns.length * COLUMN_WIDTH;

  return (
    <section aria-label="Sheet" className="flex h-full min-h-0 flex-col bg-panel">
      <PanelTitle actions={<KeyMenu columns={working} range={span} words={words} />}>Sheet</PanelTitle>
      <div ref={scroller} className="min-h-0 flex-1 overflow-auto [scrollbar-color:#4a4a4a_transparent]">
        <div
          role="grid"
          aria-label="Frames"
          aria-rowcount={plate.frames + 1}
          aria-colcount={columns.length + (peels.length > 0 ? 3 : 2)}
          aria-multiselectable
          tabIndex={0}
          onKeyDown={onKeyDown}
          style={{ width: `max(100%, ${width}px)` }}
          className="outline-offset-[-2px]"
        >
          <div role="row" aria-rowindex={1} className="sticky top-0 z-10 flex h-9 items-end border-line border-b bg-panel text-2xs text-quiet" tabIndex={-1}>
            <span role="columnheader" tabIndex={-1} style={{ width: FRAME_WIDTH }} className="shrink-0 px-2 pb-1">
              Frame
            </span>
            <span role="columnheader" tabIndex={-1} style={{ width: STATE_WIDTH }} className="shrink-0 pb-1" title="Approved frames, notes and markers">
              State
            </span>
            {peels.length > 0 && (
              <span
                role="columnheader"
                tabIndex={-1}
                style={{ width: DOUBT_WIDTH }}
                className="shrink-0 pb-1 leading-tight"
                title={`Doubt of what the Peel has found${doubtOf ? ` of ${doubtOf}; the selected subject has no Peel` : ''}, 0 to 100: good, partial, or lost`}
              >
                {doubtOf && <span className="block truncate text-ink">{doubtOf}</span>}
                Doubt
              </span>
            )}
            {columns.map((c) => (
              <span
                role="columnheader"
                tabIndex={-1}
                key={c.id}
                style={{ width: COLUMN_WIDTH }}
                aria-selected={picked === c.id}
                className={clsx('relative h-full shrink-0 overflow-hidden px-1 pt-1 leading-tight', picked === c.id && 'bg-raised')}
              >
                <button
                  type="button"
                  tabIndex={-1}
                  className="w-full text-left"
                  title={`${c.owner}: ${c.label}. Press to work on this column alone.`}
                  onClick={() => setPicked(picked === c.id ? null : c.id)}
                >
                  <span className="block truncate text-ink">{c.owner}</span>
                  <span className="block truncate">{c.label}</span>
                </button>
                {((owners.get(c.owner) ?? 0) > 1 || folded.has(c.owner)) && (
                  <button
                    type="button"
                    tabIndex={-1}
                    className="absolute right-0 bottom-0 rounded bg-panel p-0.5 text-quiet hover:text-ink"
                    aria-label={folded.has(c.owner) ? `Unfold the columns of ${c.owner}` : `Fold the columns of ${c.owner}`}
                    onClick={() => {
                      const next = new Set(folded);
                      if (!next.delete(c.owner)) next.add(c.owner);
                      setFolded(next);
                    }}
                  >
                    {folded.has(c.owner) ? <ChevronsLeftRight className="size-3" /> : <ChevronsRightLeft className="size-3" />}
                  </button>
                )}
              </span>
            ))}
          </div>
          <div
            style={{ height: rows.getTotalSize() }}
            className="relative"
            role="rowgroup"
            data-rows
            onPointerDown={onPointerDown}
            onPointerMove={onPointerMove}
            onPointerUp={() => (dragFrom.current = null)}
          >
            {rows.getVirtualItems().map(({ index, start }) => {
              const current = index === frame;
              const marked = range !== null && index >= range.first && index <= range.last;
              const approved = subject !== null && isApproved(subject, index);
              const marker = markers.find((m) => index >= m.range.first && index <= m.range.last);
              return (
                <div
                  key={index}
                  role="row"
                  aria-rowindex={index + 2}
                  aria-selected={current || marked}
                  tabIndex={-1}
                  style={{ height: ROW, transform: `translateY(${start}px)` }}
                  className={clsx(
                    'absolute top-0 left-0 flex w-full select-none items-center border-line/60 border-b text-xs',
                    current ? 'bg-raised text-white' : marked ? 'bg-raised/50' : 'hover:bg-raised/60',
                    range !== null && !marked && 'text-quiet',
                  )}
                >
                  <span
                    role="gridcell"
                    tabIndex={-1}
                    style={{ width: FRAME_WIDTH }}
                    className={clsx(
                      'flex h-full shrink-0 items-center justify-between gap-2 border-l-2 px-2 font-mono',
                      marked ? 'border-ink' : 'border-transparent',
                    )}
                  >
                    <span className={current ? 'font-bold' : undefined}>{number(index)}</span>
                    <span className="text-2xs text-quiet">{toTimecode(index, plate.rate).slice(-5)}</span>
                  </span>
                  <span role="gridcell" tabIndex={-1} style={{ width: STATE_WIDTH }} className="flex h-full shrink-0 items-center gap-0.5">
                    {approved && <Check className="size-3.5" role="img" aria-label="approved" />}
                    {noted.has(index) && <StickyNote className="size-3 text-quiet" role="img" aria-label="has a note" />}
                    {marker && <Flag className="size-3 text-quiet" role="img" aria-label={`marker ${marker.name}`} />}
                  </span>
                  {peels.length > 0 && (
                    <span role="gridcell" tabIndex={-1} style={{ width: DOUBT_WIDTH }} className="flex h-full shrink-0 items-center">
                      <DoubtMark found={found.get(index)} />
                    </span>
                  )}
                  {columns.map((c) => (
                    <span
                      role="gridcell"
                      tabIndex={-1}
                      key={c.id}
                      style={{ width: COLUMN_WIDTH }}
                      className="relative flex h-full shrink-0 items-center justify-center"
                      onClick={() => select(c.record)}
                    >
                      <KeyMark column={c} frame={index} />
                    </span>
                  ))}
                </div>
              );
            })}
          </div>
        </div>
        {columns.length === 0 && <EmptyNote>A column appears here for each part and each keyed setting.</EmptyNote>}
      </div>
      {subject && (
        <div className="flex shrink-0 items-center gap-1 border-line border-t px-2 py-1">
          <button
            type="button"
            className="h-6 flex-1 rounded border border-line bg-raised px-1 text-xs hover:border-edge"
            title="Approved frames are guarded against every later change (Enter in the Sheet, or V)"
            onClick={() => approve(true)}
          >
            Approve {range ? 'range' : 'frame'}
          </button>
          <button type="button" className="h-6 flex-1 rounded border border-line px-1 text-xs hover:border-edge" onClick={() => approve(false)}>
            Release
          </button>
        </div>
      )}
      <DoubtNote />
      <FrameNotes />
    </section>
  );
}

/** How doubtful a found frame is: a bar with its number; painted frames have the colour of keep strokes. */
function DoubtMark({ found }: { found: FoundFrame | undefined }) {
  if (!found) return null;
  if (found.anchor === found.frame) return <span role="img" aria-label="painted" title="Painted" className="size-2.5 rounded-full bg-keep" />;
  const stand = wordFor(found);
  return (
    <>
      <DoubtBar doubt={found.doubt} words={found.reasons.map((r) => REASONS[r]).join('; ')} text={isGone(found) ? '–' : String(found.doubt)} />
      <span className={`text-2xs ${stand === 'good' ? 'text-quiet' : 'text-ink'}`}>{stand}</span>
    </>
  );
}

function DoubtBar({ doubt, words, text }: { doubt: number; words: string; text: string }) {
  return (
    <span className="relative w-9 font-mono text-2xs" title={words}>
      <span className="absolute inset-y-0 left-0 rounded-sm bg-doubt/45" style={{ width: `${doubt}%` }} aria-hidden />
      <span className="relative pl-0.5">{text}</span>
    </span>
  );
}

/** A key is a filled bar across its row; a thin line runs through the frames between two keys. */
function KeyMark({ column, frame }: { column: Column; frame: number }) {
  const { keys } = column;
  const guess = column.doubt?.get(frame);
  if (guess) return <DoubtBar doubt={guess.doubt} words={`Not to be trusted: ${guess.reason}`} text={guess.text ?? String(guess.doubt)} />;
  if (column.doubt && keys.length === 0) return null;
  if (keys.length === 0) return <span className="text-2xs text-quiet">{frame === 0 ? 'no keys' : ''}</span>;
  const isKey = column.has.has(frame);
  if (isKey) return <span role="img" className="h-2 w-6 rounded-sm bg-ink" aria-label={`Key of ${column.owner}: ${column.label}`} />;
  if (frame > keys[0] && frame < keys[keys.length - 1]) return <span className="h-full w-px bg-edge" />;
  return null;
}
