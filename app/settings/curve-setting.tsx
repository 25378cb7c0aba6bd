/** A curve of brightness: points are dragged, added by a press beside the curve, and taken away with Delete. */
import { type KeyboardEvent, type PointerEvent, useCallback, useId, useRef, useState } from 'react';
import { clamp } from '~/core/math/clamp.ts';
import { curveOf, MOST_POINTS } from '~/core/math/curve.ts';
import { roundTo } from '~/core/math/round.ts';
import type { Animated } from '~/core/time/animated.ts';
import { LISTS } from '~/core/time/reach.ts';
import { useShot } from '../state/shot-context.tsx';
import { useLooked } from '../state/use-looked.ts';
import { useView, useWorkbench } from '../state/workbench-context.tsx';
import { barsArea } from '../ui/bars-area.ts';
import { KeyButton, useAnimated } from './fields.tsx';

const SIZE = 100;
/** How near to one another points may come. */
const APART = 0.01;
/** How near to a point a press is meant for it. */
const NEAR = 0.04;
const NUDGE = 0.01;

type Point = [number, number];
const pointsOf = (list: readonly number[]): Point[] => Array.from({ length: list.length / 2 }, (_, i) => [list[2 * i], list[2 * i + 1]]);

/** A point of a curve at another place, kept between its neighbours. */
function moved(list: readonly number[], i: number, x: number, y: number): number[] {
  const [least, most] = [i > 0 ? list[2 * i - 2] + APART : 0, 2 * i + 2 < list.length ? list[2 * i + 2] - APART : 1];
  return list.map((v, k) => (k === 2 * i ? roundTo(clamp(x, least, most)) : k === 2 * i + 1 ? roundTo(clamp(y, 0, 1)) : v));
}

/** A curve with a point more; null where there is no room for it. */
function added(list: readonly number[], x: number, y: number): { list: number[]; index: number } | null {
  const index = pointsOf(list).filter(([px]) => px < x).length;
  const clear = pointsOf(list).every(([px]) => Math.abs(px - x) >= APART);
  if (!clear || list.length >= 2 * MOST_POINTS) return null;
  return { list: [...list.slice(0, 2 * index), roundTo(x), roundTo(clamp(y, 0, 1)), ...list.slice(2 * index)], index };
}

/** The line of a curve in a square of 100. */
const lineOf = (list: readonly number[]): string => {
  const of = curveOf(list);
  return Array.from({ length: 65 }, (_, i) => `${(i / 64) * SIZE},${SIZE - of(i / 64) * SIZE}`).join(' ');
};

/** Milliseconds that nothing changes before values are counted. */
const REST = 300;

/** How often values are there in what an effect is given, from dark to bright, as the path of an area; null where that is not known. */
function useHistogram(record: string, channel: string): string | null {
  const { pictures } = useWorkbench();
  const frame = useView((s) => s.readFrame);
  const settled = useShot((s) => s.history.settled);
  // The document counts: what lies below the effect is what it is given.
  const bars = useLooked(
    REST,
    useCallback(() => pictures?.render.histogram(record, frame), [pictures, frame, settled, record]),
  )?.[channel];
  return bars ? barsArea(bars) : null;
}

export function CurveSetting(props: { record: string; setting: string; value: Animated<number[]>; label: string; about: string }) {
  const { record, setting, value, label, about } = props;
  const field = useAnimated(record, setting, value, label, LISTS);
  const aboutId = useId();
  const area = useHistogram(record, setting.slice('settings.'.length));
  const square = useRef<SVGSVGElement>(null);
  const dragged = useRef<{ index: number; list: number[]; before: string } | null>(null);
  const [chosen, setChosen] = useState<number | null>(null);
  const list = field.now;
  const placeOf = (e: PointerEvent): Point => {
    const box = (square.current as SVGSVGElement).getBoundingClientRect();
    return [clamp((e.clientX - box.left) / box.width, 0, 1), clamp(1 - (e.clientY - box.top) / box.height, 0, 1)];
  };
  const press = (e: PointerEvent) => {
    const [x, y] = placeOf(e);
    const near = pointsOf(list).findIndex(([px, py]) => Math.hypot(px - x, py - y) < NEAR);
    const start = near >= 0 ? { index: near, list: [...list] } : added(list, x, y);
    if (!start) return;
    e.preventDefault();
    (e.currentTarget as Element).setPointerCapture(e.pointerId);
    dragged.current = { ...start, before: list.join() };
    setChosen(start.index);
    if (near < 0) field.preview(start.list);
    square.current?.querySelectorAll<SVGElement>('[data-point]')[start.index]?.focus();
  };
  const drag = (e: PointerEvent) => {
    const at = dragged.current;
    if (!at) return;
    at.list = moved(at.list, at.index, ...placeOf(e));
    field.preview(at.list);
  };
  const drop = () => {
    const at = dragged.current;
    dragged.current = null;
    if (at && at.list.join() !== at.before) field.commit(at.list);
  };
  const key = (i: number) => (e: KeyboardEvent) => {
    const [x, y] = pointsOf(list)[i];
    const by = e.shiftKey ? 10 * NUDGE : NUDGE;
    const to = { ArrowLeft: [x - by, y], ArrowRight: [x + by, y], ArrowUp: [x, y + by], ArrowDown: [x, y - by] }[e.key];
    if (to) field.commit(moved(list, i, to[0], to[1]));
    else if ((e.key === 'Delete' || e.key === 'Backspace') && list.length > 4) field.commit(list.filter((_, k) => k !== 2 * i && k !== 2 * i + 1));
    else if (e.key === 'Insert' || e.key === '+') {
      const next = pointsOf(list)[i + 1] ?? pointsOf(list)[i - 1];
      const more = added(list, (x + next[0]) / 2, curveOf(list)((x + next[0]) / 2));
      if (more) field.commit(more.list);
    } else return;
    e.preventDefault();
    e.stopPropagation();
  };
  const straight = list.length === 4 && list[0] === 0 && list[1] === 0 && list[2] === 1 && list[3] === 1;
  return (
    <div className="px-3 py-1" title={about}>
      <div className="flex items-center gap-2">
        <span className="w-20 shrink-0 text-sm">{label}</span>
        <span className="min-w-0 flex-1 truncate text-quiet text-xs">
          {chosen !== null && pointsOf(list)[chosen]
            ? `${Math.round(pointsOf(list)[chosen][0] * 100)} → ${Math.round(pointsOf(list)[chosen][1] * 100)} %`
            : straight
              ? 'changes nothing'
              : `${list.length / 2} points`}
        </span>
        <button
          type="button"
          className="rounded px-1 text-quiet text-xs hover:bg-raised hover:text-ink disabled:invisible"
          disabled={straight}
          title={`${label} as it began`}
          onClick={() => field.commit([0, 0, 1, 1])}
        >
          Straight
        </button>
        <KeyButton label={label.toLowerCase()} keyed={field.keyed} onKey={field.onKey} onToggle={field.toggleKey} />
      </div>
      <span id={aboutId} className="sr-only">
        {about} Arrow keys move a point, Insert adds one after it, Delete takes it away.
      </span>
      <svg
        ref={square}
        viewBox={`0 0 ${SIZE} ${SIZE}`}
        preserveAspectRatio="none"
        role="group"
        aria-label={`${label} curve`}
        aria-describedby={aboutId}
        className="mt-1 h-36 w-full cursor-crosshair touch-none overflow-visible rounded border border-line bg-well"
        onPointerDown={press}
        onPointerMove={drag}
        onPointerUp={drop}
        onPointerCancel={drop}
      >
        {area && <path d={area} className="fill-line" aria-hidden />}
        {[25, 50, 75].map((v) => (
          <path key={v} d={`M ${v} 0 V ${SIZE} M 0 ${v} H ${SIZE}`} className="stroke-line" vectorEffect="non-scaling-stroke" />
        ))}
        <path d={`M 0 ${SIZE} L ${SIZE} 0`} className="stroke-edge" strokeDasharray="3 3" vectorEffect="non-scaling-stroke" />
        <polyline points={lineOf(list)} fill="none" strokeWidth={1.5} className="stroke-ink" vectorEffect="non-scaling-stroke" />
        {pointsOf(list).map(([x, y], i) => (
          // A dot that keeps its size, however the square is drawn out: a line of no length with a round end.
          <path
            key={i}
            data-point
            tabIndex={0}
            role="button"
            aria-label={`${label}: point ${i + 1}, ${Math.round(x * 100)} % becomes ${Math.round(y * 100)} %`}
            d={`M ${x * SIZE} ${SIZE - y * SIZE} h 0.01`}
            strokeLinecap="round"
            strokeWidth={chosen === i ? 11 : 9}
            vectorEffect="non-scaling-stroke"
            className={`cursor-grab ${chosen === i ? 'stroke-white' : 'stroke-quiet'}`}
            onFocus={() => setChosen(i)}
            onBlur={() => setChosen((now) => (now === i ? null : now))}
            onKeyDown={key(i)}
          />
        ))}
      </svg>
    </div>
  );
}
