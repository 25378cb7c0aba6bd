/** Curves over time: the value or the speed of one setting, its keys and their timing handles, to be dragged or typed. */
import { X } from 'lucide-react';
import { type PointerEvent, useEffect, useMemo, useRef, useState } from 'react';
import { hasKeys, type Key } from '~/core/time/animated.ts';
import { EASES, type Ease } from '~/core/time/ease.ts';
import { CHOICES } from '~/core/time/reach.ts';
import { keysEdit } from '../edits/path-edits.ts';
import { isTrack, type KeyedSetting, useColumns } from '../keys/columns.ts';
import { useShot, useShotStore } from '../state/shot-context.tsx';
import { useView, useWorkbench } from '../state/workbench-context.tsx';
import { keyName } from '../tools/tool.ts';
import { Button, EmptyNote, IconButton } from '../ui/controls.tsx';
import { easeFor, graphAt, graphBounds, graphKeys, type Handle, handlesOf, type Mode, moveKeys } from './curve-graph.ts';

const EASE_WORDS: Record<(typeof EASES)[number], string> = {
  linear: 'Even',
  hold: 'Hold',
  'ease-in': 'Ease in',
  'ease-out': 'Ease out',
  'ease-both': 'Ease both',
};
const HEIGHT = 172;
const LEFT = 52;

interface Choice {
  id: string;
  label: string;
  setting: KeyedSetting;
}

/** Everything that is keyed, of the current subject and its lanes. */
function useChoices(): Choice[] {
  const columns = useColumns();
  return useMemo(
    () =>
      columns.flatMap((c) =>
        c.settings
          // A choice stands until the next: there is no curve to shape.
          .filter((s) => hasKeys(s.value) && s.kind !== CHOICES && !isTrack(c))
          .map((s, i) => ({ id: `${s.record}.${s.setting}`, label: `${c.owner}: ${c.label}${c.settings.length > 1 ? ` ${i + 1}` : ''}`, setting: s })),
      ),
    [columns],
  );
}

export function CurveEditor() {
  const { view } = useWorkbench();
  const choices = useChoices();
  const selected = useShot((s) => s.selected);
  const [picked, setPicked] = useState<string | null>(null);
  const [mode, setMode] = useState<Mode>('value');
  const choice = choices.find((c) => c.id === picked) ?? choices.find((c) => c.setting.record === selected) ?? choices[0];
  return (
    <section aria-label="Curves over time" className="flex shrink-0 flex-col border-line border-t bg-panel">
      <div className="flex h-8 items-center gap-2 border-line border-b px-2 text-xs">
        <h2 className="font-semibold">Curves over time</h2>
        {choice && (
          <>
            <select
              aria-label="Setting"
              className="h-6 max-w-64 rounded border border-line bg-well px-1"
              value={choice.id}
              onChange={(e) => setPicked(e.target.value)}
            >
              {choices.map((c) => (
                <option key={c.id} value={c.id}>
                  {c.label}
                </option>
              ))}
            </select>
            <div role="group" aria-label="What the curve shows" className="flex">
              {(['value', 'speed'] as const).map((m) => (
                <button
                  key={m}
                  type="button"
                  aria-pressed={mode === m}
                  onClick={() => setMode(m)}
                  className="h-6 border border-line px-2 text-quiet first:rounded-l last:rounded-r aria-pressed:bg-raised aria-pressed:text-white"
                >
                  {m === 'value' ? 'Value' : 'Speed'}
                </button>
              ))}
            </div>
          </>
        )}
        <span className="flex-1" />
        <IconButton
          label="Close the curves"
          about="The keys stay as they are."
          shortcut="curves"
          className="!size-6"
          onClick={() => view.getState().set({ curvesOpen: false })}
        >
          <X />
        </IconButton>
      </div>
      {choice ? (
        <Graph key={choice.id} setting={choice.setting} mode={mode} />
      ) : (
        <EmptyNote>Nothing is keyed yet. Key a setting with the bar beside its number, or a shape with K.</EmptyNote>
      )}
    </section>
  );
}

type Drag =
  | { kind: 'keys'; x: number; y: number; keys: readonly Key<unknown>[]; which: ReadonlySet<number> }
  | { kind: 'handle'; handle: Handle; keys: readonly Key<unknown>[] }
  | { kind: 'box'; x: number; y: number; toX: number; toY: number }
  | { kind: 'frame' };

function Graph({ setting, mode }: { setting: KeyedSetting; mode: Mode }) {
  const store = useShotStore();
  const { plate, view } = useWorkbench();
  const frame = useView((s) => s.readFrame);
  const range = useView((s) => s.range);
  const [width, setWidth] = useState(600);
  const [chosen, setChosen] = useState<ReadonlySet<number>>(new Set());
  const [drag, setDrag] = useState<Drag | null>(null);
  const svg = useRef<SVGSVGElement>(null);
  const frozen = useRef<[number, number] | null>(null);
  useEffect(() => {
    const element = svg.current;
    if (!element) return;
    const observer = new ResizeObserver(([e]) => setWidth(e.contentRect.width));
    observer.observe(element);
    return () => observer.disconnect();
  }, []);
  const { keys } = setting.value as { keys: Key<unknown>[] };
  const graph = graphKeys(keys);
  const isNumber = typeof keys[0].value === 'number';
  const [first, last] = [range?.first ?? 0, Math.max((range?.first ?? 0) + 1, range?.last ?? plate.frames - 1)];
  // The scale stands still while something is dragged.
  const [low, high] = (drag && frozen.current) || graphBounds(graph, first, last, mode);
  const toX = (f: number) => LEFT + ((f - first) / (last - first)) * (width - LEFT - 12);
  const toY = (v: number) => HEIGHT - 18 - ((v - low) / (high - low)) * (HEIGHT - 28);
  const fromX = (x: number) => first + ((x - LEFT) / (width - LEFT - 12)) * (last - first);
  const fromY = (y: number) => low + ((HEIGHT - 18 - y) / (HEIGHT - 28)) * (high - low);
  const edits = (next: readonly Key<unknown>[]) => [keysEdit(setting.record, setting.setting, originals(), next)];
  /** The keys without the edit in progress: what a draft is laid on. */
  const originals = (): readonly Key<unknown>[] => (drag && 'keys' in drag ? drag.keys : keys);
  const commit = (label: string, next: readonly Key<unknown>[]) => store.getState().commit(label, [keysEdit(setting.record, setting.setting, keys, next)]);
  const withEase = (which: ReadonlySet<number>, ease: Ease) => keys.map((k, i) => (which.has(i) ? { ...k, ease } : k));

  const at = (event: PointerEvent) => {
    const rect = (svg.current as SVGSVGElement).getBoundingClientRect();
    return { x: event.clientX - rect.left, y: event.clientY - rect.top };
  };
  const onPointerDown = (event: PointerEvent<SVGSVGElement>) => {
    event.currentTarget.setPointerCapture(event.pointerId);
    frozen.current = [low, high];
    const p = at(event);
    const near = (x: number, y: number) => (x - p.x) ** 2 + (y - p.y) ** 2 < 64;
    for (const i of chosen)
      for (const handle of handlesOf(graph, i, mode))
        if (near(toX(handle.frame), toY(handle.value))) {
          setDrag({ kind: 'handle', handle, keys });
          return;
        }
    const hit = graph.findIndex((k) => near(toX(k.frame), toY(graphAt(graph, k.frame, mode))));
    if (hit >= 0) {
      const which = event.shiftKey ? new Set([...chosen, hit]) : chosen.has(hit) ? chosen : new Set([hit]);
      setChosen(which);
      setDrag({ kind: 'keys', ...p, keys, which });
    } else if (p.y > HEIGHT - 16) setDrag({ kind: 'frame' });
    else {
      if (!event.shiftKey) setChosen(new Set());
      setDrag({ kind: 'box', ...p, toX: p.x, toY: p.y });
    }
    if (hit < 0 && p.y > HEIGHT - 16) view.getState().goTo(fromX(p.x));
  };
  const onPointerMove = (event: PointerEvent<SVGSVGElement>) => {
    if (!drag) return;
    const p = at(event);
    if (drag.kind === 'frame') view.getState().goTo(fromX(p.x));
    else if (drag.kind === 'box') setDrag({ ...drag, toX: p.x, toY: p.y });
    else if (drag.kind === 'keys') {
      const rise = isNumber && mode === 'value' ? fromY(p.y) - fromY(drag.y) : 0;
      const next = moveKeys(drag.keys, drag.which, fromX(p.x) - fromX(drag.x), event.shiftKey ? 0 : rise, plate.frames);
      store.getState().setDraft(edits(next));
    } else {
      const ease = easeFor(graphKeys(drag.keys), drag.handle, fromX(p.x), fromY(p.y), mode);
      store.getState().setDraft(edits(drag.keys.map((k, i) => (i === drag.handle.key ? { ...k, ease } : k))));
    }
  };
  const onPointerUp = () => {
    if (drag?.kind === 'box') {
      const inside = (a: number, b: number, v: number) => v >= Math.min(a, b) && v <= Math.max(a, b);
      const found = graph.flatMap((k, i) =>
        inside(drag.x, drag.toX, toX(k.frame)) && inside(drag.y, drag.toY, toY(graphAt(graph, k.frame, mode))) ? [i] : [],
      );
      setChosen(new Set([...chosen, ...found]));
    } else if (store.getState().draft) store.getState().commit(drag?.kind === 'handle' ? 'Shape the speed' : 'Move keys');
    setDrag(null);
    frozen.current = null;
  };
  const onKeyDown = (event: React.KeyboardEvent) => {
    const arrows: Record<string, [number, number]> = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, 1], ArrowDown: [0, -1] };
    const key = keyName(event);
    const move = key ? arrows[event.key] : undefined;
    if (move && chosen.size > 0) {
      const step = (high - low) / (event.shiftKey ? 20 : 200);
      commit('Move keys', moveKeys(keys, chosen, move[0] * (event.shiftKey ? 10 : 1), isNumber ? move[1] * step : 0, plate.frames));
    } else if (key === 'n' || key === 'Shift+n') {
      const now = chosen.size > 0 ? Math.max(...chosen) : -1;
      setChosen(new Set([(now + (event.shiftKey ? keys.length - 1 : 1)) % keys.length]));
    } else if (key === 'a') setChosen(new Set(keys.keys()));
    else if ((key === 'Delete' || key === 'Backspace') && chosen.size > 0) {
      commit(
        'Delete keys',
        keys.filter((_, i) => !chosen.has(i)),
      );
      setChosen(new Set());
    } else if (key === 'Escape') setChosen(new Set());
    else return;
    event.preventDefault();
  };

  const samples = Math.max(2, Math.round(width / 2));
  const line = Array.from({ length: samples + 1 }, (_, i) => {
    const f = first + ((last - first) * i) / samples;
    return `${toX(f).toFixed(1)},${toY(graphAt(graph, f, mode)).toFixed(1)}`;
  }).join(' ');
  const ticks = [0.15, 0.5, 0.85].map((s) => low + (high - low) * s);
  const [one] = chosen;
  return (
    <>
      <svg
        ref={svg}
        role="application"
        aria-label={`${mode === 'value' ? 'Value' : 'Speed'} over frames. N goes to the next key, arrows move it, Delete takes it away.`}
        tabIndex={0}
        height={HEIGHT}
        className="w-full touch-none select-none bg-well outline-offset-[-2px]"
        onPointerDown={onPointerDown}
        onPointerMove={onPointerMove}
        onPointerUp={onPointerUp}
        onKeyDown={onKeyDown}
      >
        {ticks.map((v) => (
          <g key={v}>
            <line x1={LEFT} x2={width} y1={toY(v)} y2={toY(v)} stroke="#3a3a3a" />
            <text x={LEFT - 6} y={toY(v) + 3} textAnchor="end" fontSize={10} fill="#b4b4b4" className="font-mono">
              {Math.abs(v) >= 100 ? v.toFixed(0) : v.toFixed(2)}
            </text>
          </g>
        ))}
        <rect x={LEFT} y={HEIGHT - 16} width={width} height={16} fill="#242424" />
        <line x1={toX(frame)} x2={toX(frame)} y1={0} y2={HEIGHT} stroke="#fff" strokeOpacity={0.7} />
        <text x={toX(frame) + 4} y={HEIGHT - 4} fontSize={10} fill="#fff" className="font-mono">
          {frame + plate.firstNumber}
        </text>
        <polyline points={line} fill="none" stroke="#e8e8e8" strokeWidth={1.6} />
        {[...chosen].flatMap((i) =>
          handlesOf(graph, i, mode).map((h) => (
            <g key={`${i}.${h.end}`}>
              <line x1={toX(graph[i].frame)} y1={toY(graphAt(graph, graph[i].frame, mode))} x2={toX(h.frame)} y2={toY(h.value)} stroke="#b4b4b4" />
              <circle cx={toX(h.frame)} cy={toY(h.value)} r={4} fill="#222" stroke="#fff" strokeWidth={1.4} data-handle={h.end} />
            </g>
          )),
        )}
        {graph.map((k, i) => {
          const [x, y] = [toX(k.frame), toY(graphAt(graph, k.frame, mode))];
          return (
            <rect key={k.frame} x={x - 5} y={y - 3} width={10} height={6} rx={1.5} fill={chosen.has(i) ? '#fff' : '#8a8a8a'} stroke="#000" data-key={k.frame} />
          );
        })}
        {drag?.kind === 'box' && (
          <rect
            x={Math.min(drag.x, drag.toX)}
            y={Math.min(drag.y, drag.toY)}
            width={Math.abs(drag.toX - drag.x)}
            height={Math.abs(drag.toY - drag.y)}
            fill="#fff"
            fillOpacity={0.08}
            stroke="#fff"
            strokeDasharray="4 3"
          />
        )}
      </svg>
      <div className="flex h-8 items-center gap-2 px-2 text-xs">
        {chosen.size === 0 ? (
          <span className="text-quiet">
            Click a key for its handles; drag a box for several. {isNumber ? '' : 'The curve of a shape says how far along its keys it is.'}
          </span>
        ) : (
          <>
            <span>{chosen.size === 1 ? `Key on ${graph[one]?.frame + plate.firstNumber}` : `${chosen.size} keys`}</span>
            <span className="text-quiet">then</span>
            {EASES.map((ease) => (
              <Button
                key={ease}
                className="!h-6 !px-1.5 text-xs"
                aria-pressed={keys[one]?.ease === ease}
                onClick={() => commit('Set ease', withEase(chosen, ease))}
              >
                {EASE_WORDS[ease]}
              </Button>
            ))}
            {keys[one] && typeof keys[one].ease !== 'string' && (
              <span className="font-mono text-quiet">cubic-bezier({(keys[one].ease as number[]).map((v) => v.toFixed(2)).join(', ')})</span>
            )}
          </>
        )}
      </div>
    </>
  );
}
