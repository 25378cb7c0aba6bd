/** The exposure sheet: frames run down, one row a frame; columns are parts and keyed settings. */
import { useVirtualizer } from '@tanstack/react-virtual';
import { clsx } from 'clsx';
import { useEffect, useRef } from 'react';
import { toTimecode } from '~/core/time/timecode.ts';
import { useShot } from '../state/shot-context.tsx';
import { useView, useWorkbench } from '../state/workbench-context.tsx';
import { EmptyNote, PanelTitle } from '../ui/controls.tsx';
import { type Column, useColumns } from './columns.ts';

const ROW = 22;
const FRAME_WIDTH = 92;
const COLUMN_WIDTH = 62;

export function Sheet() {
  const { plate, view } = useWorkbench();
  const frame = useView((s) => s.frame);
  const range = useView((s) => s.range);
  const select = useShot((s) => s.select);
  const columns = useColumns();
  const scroller = useRef<HTMLDivElement>(null);
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

  const onKeyDown = (event: React.KeyboardEvent) => {
    const by = event.key === 'ArrowDown' ? 1 : event.key === 'ArrowUp' ? -1 : 0;
    if (by === 0) return;
    event.preventDefault();
    view.getState().step(by);
  };
  const width = FRAME_WIDTH + columns.length * COLUMN_WIDTH;

  return (
    <section aria-label="Sheet" className="flex h-full min-h-0 flex-col bg-panel">
      <PanelTitle>Sheet</PanelTitle>
      <div ref={scroller} className="min-h-0 flex-1 overflow-auto [scrollbar-color:#4a4a4a_transparent]">
        <div
          role="grid"
          aria-label="Frames"
          aria-rowcount={plate.frames + 1}
          aria-colcount={columns.length + 1}
          tabIndex={0}
          onKeyDown={onKeyDown}
          style={{ width: `max(100%, ${width}px)` }}
          className="outline-offset-[-2px]"
        >
          <div role="row" aria-rowindex={1} className="sticky top-0 z-10 flex h-9 items-end border-line border-b bg-panel text-2xs text-quiet" tabIndex={-1}>
            <span role="columnheader" tabIndex={-1} style={{ width: FRAME_WIDTH }} className="shrink-0 px-2 pb-1">
              Frame
            </span>
            {columns.map((c) => (
              <span
                role="columnheader"
                tabIndex={-1}
                key={c.id}
                style={{ width: COLUMN_WIDTH }}
                className="shrink-0 overflow-hidden px-1 pb-1 leading-tight"
                title={`${c.owner}: ${c.label}`}
              >
                <span className="block truncate text-ink">{c.owner}</span>
                <span className="block truncate">{c.label}</span>
              </span>
            ))}
          </div>
          <div style={{ height: rows.getTotalSize() }} className="relative" role="rowgroup">
            {rows.getVirtualItems().map(({ index, start }) => {
              const current = index === frame;
              const outside = range !== null && (index < range.first || index > range.last);
              return (
                <div
                  key={index}
                  role="row"
                  aria-rowindex={index + 2}
                  aria-selected={current}
                  tabIndex={-1}
                  onClick={() => view.getState().goTo(index)}
                  style={{ height: ROW, transform: `translateY(${start}px)` }}
                  className={clsx(
                    'absolute top-0 left-0 flex w-full items-center border-line/60 border-b text-xs',
                    current ? 'bg-raised text-white' : 'hover:bg-raised/60',
                    outside && 'text-quiet',
                  )}
                >
                  <span role="gridcell" tabIndex={-1} style={{ width: FRAME_WIDTH }} className="flex shrink-0 justify-between gap-2 px-2 font-mono">
                    <span className={current ? 'font-bold' : undefined}>{index + plate.firstNumber}</span>
                    <span className="text-2xs text-quiet">{toTimecode(index, plate.rate).slice(-5)}</span>
                  </span>
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
    </section>
  );
}

/** A key is a filled bar across its row; a thin line runs through the frames between two keys. */
function KeyMark({ column, frame }: { column: Column; frame: number }) {
  const { keys } = column;
  if (keys.length === 0) return <span className="text-2xs text-quiet">{frame === 0 ? 'no keys' : ''}</span>;
  const isKey = column.has.has(frame);
  if (isKey) return <span role="img" className="h-2 w-6 rounded-sm bg-ink" aria-label={`Key of ${column.owner}: ${column.label}`} />;
  if (frame > keys[0] && frame < keys[keys.length - 1]) return <span className="h-full w-px bg-edge" />;
  return null;
}
