/** Colours at places of a gradient: stops are dragged along it, added by a press beside them, and taken away with Delete. */
import { type KeyboardEvent, type PointerEvent, useId, useRef, useState } from 'react';
import { MOST_STOPS, STOP, stopAt } from '~/core/image/stops.ts';
import { clamp } from '~/core/math/clamp.ts';
import { roundTo } from '~/core/math/round.ts';
import type { Animated } from '~/core/time/animated.ts';
import { LISTS } from '~/core/time/reach.ts';
import { Button } from '../ui/controls.tsx';
import { CoordinateField, fromHex, KeyButton, toHex, useAnimated } from './fields.tsx';

/** Place, red, green, blue, alpha. */
type Stop = number[];
const stopsOf = (list: readonly number[]): Stop[] => Array.from({ length: list.length / STOP }, (_, i) => list.slice(STOP * i, STOP * i + STOP));
const NUDGE = 0.01;
/** Pixels by which a press may miss a stop. */
const NEAR = 8;

const cssOf = ([, r, g, b, a]: Stop) => `rgb(${[r, g, b].map((v) => Math.round(v * 255)).join(' ')} / ${a})`;

/** Stops with one more, of what lies at its place. */
function added(stops: readonly Stop[], place: number): { stops: Stop[]; index: number } {
  const index = stops.filter((s) => s[0] <= place).length;
  const stop = [place, ...stopAt(stops.flat(), place)].map((v) => roundTo(v));
  return { stops: [...stops.slice(0, index), stop, ...stops.slice(index)], index };
}

export function StopsSetting(props: { record: string; setting: string; value: Animated<number[]>; label: string; about: string }) {
  const { record, setting, value, label, about } = props;
  const field = useAnimated(record, setting, value, label, LISTS);
  const colourId = useId();
  const bar = useRef<HTMLDivElement>(null);
  const dragged = useRef<{ index: number; stops: Stop[] } | null>(null);
  const colour = useRef<Stop[] | null>(null);
  const [picked, setPicked] = useState(0);
  const stops = stopsOf(field.now);
  const chosen = Math.min(picked, stops.length - 1);
  const stop = stops[chosen];
  const placed = (from: Stop[], i: number, place: number): Stop[] =>
    from.map((s, k) => (k === i ? [roundTo(clamp(place, from[i - 1]?.[0] ?? 0, from[i + 1]?.[0] ?? 1)), ...s.slice(1)] : s));
  const changed = (i: number, k: number, to: number) => stops.map((s, n) => (n === i ? s.map((v, m) => (m === k ? roundTo(to) : v)) : s));
  const placeOf = (e: PointerEvent) => {
    const box = (bar.current as HTMLDivElement).getBoundingClientRect();
    return { place: clamp((e.clientX - box.left) / box.width, 0, 1), pixel: 1 / box.width };
  };
  const press = (e: PointerEvent) => {
    const { place, pixel } = placeOf(e);
    const near = stops.map((s, i) => ({ i, far: Math.abs(s[0] - place) })).sort((a, b) => a.far - b.far)[0];
    let at = { index: near.i, stops };
    if (near.far > NEAR * pixel) {
      if (stops.length >= MOST_STOPS) return;
      at = added(stops, place);
      field.preview(at.stops.flat());
    }
    e.currentTarget.setPointerCapture(e.pointerId);
    dragged.current = at;
    setPicked(at.index);
  };
  const drag = (e: PointerEvent) => {
    const at = dragged.current;
    if (!at) return;
    at.stops = placed(at.stops, at.index, placeOf(e).place);
    field.preview(at.stops.flat());
  };
  const drop = () => {
    const at = dragged.current;
    dragged.current = null;
    if (at && at.stops !== stops) field.commit(at.stops.flat());
  };
  const remove = () => stops.length > 1 && field.commit(stops.filter((_, i) => i !== chosen).flat());
  const add = () => {
    const next = stops[chosen + 1] ?? stops[chosen - 1];
    const place = next ? (stop[0] + next[0]) / 2 : stop[0] < 0.5 ? 1 : 0;
    const more = added(stops, place);
    setPicked(more.index);
    field.commit(more.stops.flat());
  };
  const key = (i: number) => (e: KeyboardEvent) => {
    const by = e.shiftKey ? 10 * NUDGE : NUDGE;
    if (e.key === 'ArrowLeft') field.commit(placed(stops, i, stops[i][0] - by).flat());
    else if (e.key === 'ArrowRight') field.commit(placed(stops, i, stops[i][0] + by).flat());
    else if (e.key === 'Delete' || e.key === 'Backspace') remove();
    else return;
    e.preventDefault();
    e.stopPropagation();
  };
  return (
    <div className="px-3 py-1" title={about}>
      <div className="flex items-center gap-2">
        <span className="min-w-0 flex-1 text-sm">{label}</span>
        <KeyButton label={label.toLowerCase()} keyed={field.keyed} onKey={field.onKey} onToggle={field.toggleKey} />
      </div>
      <div
        ref={bar}
        role="group"
        aria-label={label}
        className="relative mx-1.5 mt-1 h-10 cursor-copy touch-none"
        onPointerDown={press}
        onPointerMove={drag}
        onPointerUp={drop}
        onPointerCancel={drop}
      >
        <div
          className="-mx-1.5 h-6 rounded border border-line"
          style={{
            backgroundImage: `linear-gradient(to right, ${stops.map((s) => `${cssOf(s)} ${s[0] * 100}%`).join(', ')}${stops.length === 1 ? `, ${cssOf(stops[0])} 100%` : ''}), repeating-conic-gradient(#666 0 25%, #999 0 50%)`,
            backgroundSize: 'auto, 12px 12px',
          }}
        />
        {stops.map((s, i) => (
          <button
            key={i}
            type="button"
            aria-label={`${label}: stop ${i + 1} at ${Math.round(s[0] * 100)} %`}
            aria-pressed={i === chosen}
            className={`-translate-x-1/2 absolute top-5 h-5 w-3.5 rounded-sm border-2 ${i === chosen ? 'border-white' : 'border-edge'}`}
            style={{
              left: `${s[0] * 100}%`,
              backgroundColor: `rgb(${s
                .slice(1, 4)
                .map((v) => Math.round(v * 255))
                .join(' ')})`,
            }}
            onFocus={() => setPicked(i)}
            onKeyDown={key(i)}
          />
        ))}
      </div>
      <div className="flex flex-wrap items-center gap-2 text-xs">
        <label htmlFor={colourId} className="sr-only">
          {label}: colour of the chosen stop
        </label>
        <input
          id={colourId}
          type="color"
          className="h-6 w-10 shrink-0 rounded border border-line bg-well"
          value={toHex(stop.slice(1, 4))}
          onChange={(e) => {
            colour.current = stops.map((s, i) => (i === chosen ? [s[0], ...fromHex(e.target.value).map((v) => roundTo(v)), s[4]] : s));
            field.preview(colour.current.flat());
          }}
          onBlur={() => {
            if (colour.current) field.commit(colour.current.flat());
            colour.current = null;
          }}
        />
        <CoordinateField label="At %" digits={0} value={stop[0] * 100} onValue={(v) => field.commit(placed(stops, chosen, v / 100).flat())} />
        <CoordinateField label="Alpha %" digits={0} value={stop[4] * 100} onValue={(v) => field.commit(changed(chosen, 4, clamp(v / 100, 0, 1)).flat())} />
        <Button className="!h-6 !px-1.5 text-xs" disabled={stops.length >= MOST_STOPS} onClick={add}>
          Add a stop
        </Button>
        <Button className="!h-6 !px-1.5 text-xs" disabled={stops.length === 1} onClick={remove}>
          Remove
        </Button>
      </div>
    </div>
  );
}
