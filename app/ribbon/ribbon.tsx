/** The whole shot at a glance: keys, the range and the playhead. Dragging on it scrubs. */
import { type PointerEvent, useMemo, useRef } from 'react';
import { clamp } from '~/core/math/clamp.ts';
import { type Guess, useColumns, useKeyFrames } from '../keys/columns.ts';
import { isGone, useShownDoubt } from '../state/peel.ts';
import { useReady } from '../state/ready.ts';
import { useShot } from '../state/shot-context.tsx';
import { useSettledSubject, useView, useWorkbench } from '../state/workbench-context.tsx';
import { Waveform } from './waveform.tsx';

const percentOf = (frames: number) => (f: number) => `${(100 * f) / frames}%`;

export function Ribbon() {
  const { plate, view } = useWorkbench();
  const frame = useView((s) => s.readFrame);
  const range = useView((s) => s.range);
  const bar = useRef<HTMLDivElement>(null);
  const grip = useRef<'frame' | 'first' | 'last' | null>(null);
  const { frames, firstNumber } = plate;
  const percent = percentOf(frames);
  const keys = useKeyFrames();
  const columns = useColumns();
  // Where several tracks are shown the most doubtful counts.
  const guesses = useMemo(() => {
    const worst = new Map<number, Guess>();
    for (const column of columns) for (const [f, g] of column.doubt ?? []) if (g.doubt > (worst.get(f)?.doubt ?? -1)) worst.set(f, g);
    return [...worst];
  }, [columns]);
  const approved = useSettledSubject()?.approved ?? [];
  const { found } = useShownDoubt();
  const markers = useShot((s) => s.document.markers);
  const notes = useShot((s) => s.document.notes);

  const frameAt = (event: PointerEvent) => {
    const rect = (bar.current as HTMLDivElement).getBoundingClientRect();
    return clamp(Math.floor(((event.clientX - rect.left) / rect.width) * frames), 0, frames - 1);
  };
  const follow = (event: PointerEvent) => {
    const f = frameAt(event);
    const state = view.getState();
    if (grip.current === 'frame') state.goTo(f);
    else if (grip.current && state.range) {
      state.setRange(
        grip.current === 'first' ? { ...state.range, first: Math.min(f, state.range.last) } : { ...state.range, last: Math.max(f, state.range.first) },
      );
    }
  };
  const onPointerDown = (event: PointerEvent<HTMLDivElement>) => {
    event.currentTarget.setPointerCapture(event.pointerId);
    const held = (event.target as HTMLElement).dataset.grip;
    grip.current = held === 'first' || held === 'last' ? held : 'frame';
    follow(event);
  };
  const onKeyDown = (event: React.KeyboardEvent) => {
    const by = { ArrowLeft: -1, ArrowRight: 1, ArrowDown: -1, ArrowUp: 1 }[event.key];
    if (!by || event.ctrlKey || event.metaKey || event.altKey) return;
    event.preventDefault();
    event.stopPropagation();
    view.getState().step(by * (event.shiftKey ? 10 : 1));
  };

  return (
    <div className="shrink-0 border-line border-t bg-panel px-3 py-2">
      <div
        ref={bar}
        role="slider"
        aria-label="Ribbon: the whole shot"
        aria-valuemin={firstNumber}
        aria-valuemax={firstNumber + frames - 1}
        aria-valuenow={firstNumber + frame}
        aria-valuetext={`Frame ${firstNumber + frame}`}
        tabIndex={0}
        className={`relative touch-none select-none rounded bg-well ${plate.hasSound ? 'h-15' : 'h-9'}`}
        onPointerDown={onPointerDown}
        onPointerMove={(e) => grip.current && follow(e)}
        onPointerUp={() => {
          grip.current = null;
        }}
        onPointerCancel={() => {
          grip.current = null;
        }}
        onKeyDown={onKeyDown}
      >
        {plate.hasSound && (
          <div className="absolute inset-x-0 bottom-0">
            <Waveform />
          </div>
        )}
        {/* Above the waveform, where there is one. */}
        <div className="absolute inset-x-0 top-0 h-9">
          {range && (
            <>
              <span className="absolute inset-y-0 rounded bg-raised" style={{ left: percent(range.first), width: percent(range.last + 1 - range.first) }} />
              <span data-grip="first" className="absolute inset-y-0 z-10 w-2 cursor-ew-resize rounded-l bg-edge" style={{ left: percent(range.first) }} />
              <span
                data-grip="last"
                className="-translate-x-full absolute inset-y-0 z-10 w-2 cursor-ew-resize rounded-r bg-edge"
                style={{ left: percent(range.last + 1) }}
              />
            </>
          )}
          {found.size > 0 &&
            [...found.values()].map((f) => (
              <span
                key={f.frame}
                data-found={f.frame}
                className={`pointer-events-none absolute bottom-4 ${f.anchor === f.frame ? 'bg-keep' : 'bg-doubt'}`}
                style={{
                  left: percent(f.frame),
                  // Nothing was kept: an open box.
                  ...(isGone(f) ? { background: 'none', outline: '1px solid var(--color-doubt)' } : {}),
                  width: `max(1px, calc(${percent(1)} - ${frames > 200 ? 0 : 1}px))`,
                  height: f.anchor === f.frame ? 10 : 2 + Math.round(0.12 * f.doubt),
                  opacity: f.anchor === f.frame ? 1 : 0.35 + 0.0065 * f.doubt,
                }}
              />
            ))}
          {guesses.map(([f, { doubt }]) => (
            <span
              key={f}
              data-guess={f}
              className="pointer-events-none absolute bottom-4 bg-doubt"
              style={{
                left: percent(f),
                width: `max(1px, calc(${percent(1)} - ${frames > 200 ? 0 : 1}px))`,
                height: 2 + Math.round(0.12 * doubt),
                opacity: 0.35 + 0.0065 * doubt,
              }}
            />
          ))}
          <Ready />
          {approved.map((r) => (
            <span
              key={r.first}
              className="absolute bottom-0 h-1 rounded-sm bg-ink"
              style={{ left: percent(r.first), width: percent(r.last + 1 - r.first) }}
              title={`Approved: ${r.first + firstNumber} to ${r.last + firstNumber}`}
            />
          ))}
          {markers.map((m) => (
            <span
              key={m.id}
              className="absolute top-0 h-1.5 min-w-1 rounded-b border-quiet border-x border-b bg-raised"
              style={{ left: percent(m.range.first), width: percent(m.range.last + 1 - m.range.first) }}
              title={m.name}
            />
          ))}
          {plate.damage.map(({ frame: f, why }) => (
            <span
              key={f}
              data-damaged={f}
              className="absolute top-0 h-2 min-w-[3px] bg-doubt"
              style={{ left: percent(f), width: percent(1) }}
              title={`${f + firstNumber} ${why}`}
            />
          ))}
          {notes.map((n) => (
            <span key={n.id} className="absolute top-2.5 size-1 rounded-full bg-ink" style={{ left: percent(n.frame + 0.4) }} title={n.text} />
          ))}
          {keys.map((k) => (
            <span
              key={k}
              className="absolute bottom-1.5 h-2 min-w-[3px] rounded-sm bg-quiet"
              style={{ left: percent(k), width: `calc(${percent(1)} - 2px)` }}
            />
          ))}
        </div>
        <Playhead />
      </div>
    </div>
  );
}

function Playhead() {
  const { frames, firstNumber } = useWorkbench().plate;
  const frame = useView((s) => s.frame);
  const percent = percentOf(frames);
  return (
    <>
      <span className="absolute inset-y-0 border-white border-x bg-white/20" style={{ left: percent(frame), width: `max(3px, ${percent(1)})` }} />
      <span
        className="-translate-x-1/2 pointer-events-none absolute top-0 rounded-b bg-white px-1 font-mono text-2xs text-black leading-4"
        style={{ left: `clamp(16px, ${percent(frame + 0.5)}, calc(100% - 16px))` }}
      >
        {frame + firstNumber}
      </span>
    </>
  );
}

/** A line under the frames whose pictures are ready to play. */
function Ready() {
  const { frames, firstNumber } = useWorkbench().plate;
  const ranges = useReady((s) => s.ranges);
  const percent = percentOf(frames);
  return ranges.map(({ first, last }) => (
    <span
      key={first}
      data-ready={`${first}-${last}`}
      className="absolute -bottom-0.5 h-0.5 bg-keep"
      style={{ left: percent(first), width: percent(last + 1 - first) }}
      title={`Ready to play: ${first === last ? first + firstNumber : `${first + firstNumber} to ${last + firstNumber}`}`}
    />
  ));
}
