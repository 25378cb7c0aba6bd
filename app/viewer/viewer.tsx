/** The viewer: the picture on a canvas, the curves above it, and the tools that act on them. */
import { Maximize } from 'lucide-react';
import { ToggleGroup } from 'radix-ui';
import { type PointerEvent, useCallback, useEffect, useMemo, useRef, useState } from 'react';
import { clamp } from '~/core/math/clamp.ts';
import { benchOf } from '../state/benches.ts';
import { isFound } from '../state/peel.ts';
import { useShot, useShotStore } from '../state/shot-context.tsx';
import { trackAgain } from '../state/track.ts';
import { fittingTransform, type ViewTransform, zoomed } from '../state/view-transform.ts';
import { currentSubject, useCurrentSubjectId, useView, useWorkbench } from '../state/workbench-context.tsx';
import { type Hit, hitTest } from '../tools/edit-tool.ts';
import { TOOLS, type ToolId, toolById } from '../tools/index.ts';
import type { ToolContext, ToolPointer } from '../tools/tool.ts';
import { Hint, IconButton } from '../ui/controls.tsx';
import { CurvesCanvas, Marquee, TransformFrame } from './curves.tsx';
import { DamageNote } from './damage-note.tsx';
import { ElementFrame, useStand } from './element-frame.tsx';
import { JudgeBar } from './judge-bar.tsx';
import { PointerNotes, type PointerNotesState } from './pointer-notes.tsx';
import { ScopesCard } from './scopes.tsx';
import { StabilisedNote, useStabilisedView } from './stabilised.tsx';
import { beforeTurn } from './stabilised-view.ts';
import { ToolOptions } from './tool-options.tsx';
import { usePictures } from './use-pictures.ts';
import { usePlayer } from './use-player.ts';
import { useSoundOfPlate } from './use-sound-of-plate.ts';
import { ViewBar } from './view-bar.tsx';
import { WaitNote } from './wait-note.tsx';

const DOUBLE_CLICK = 350;

export function Viewer() {
  const bench = useWorkbench();
  const shotStore = useShotStore();
  const { plate, view: viewStore } = bench;
  const subject = useCurrentSubjectId();
  const box = useRef<HTMLDivElement>(null);
  const canvas = useRef<HTMLCanvasElement>(null);
  const [size, setSize] = useState({ width: 0, height: 0 });
  const ownTransform = useView((s) => s.viewTransform);
  const toolId = useView((s) => s.tool);
  const benchTools = benchOf(useView((s) => s.bench)).tools;
  const viewId = useView((s) => s.view);
  const magnify = useView((s) => s.magnify);
  const outlines = useView((s) => s.outlines);
  const frame = useView((s) => s.readFrame);
  // What the tool in hand has to say depends on it.
  useView((s) => s.stand?.id);
  const activePath = useShot((s) => s.path);
  /** Where the plate lies while nothing is held still: what zooming and moving change. */
  const base = useMemo(() => ownTransform ?? (size.width > 0 ? fittingTransform(size, plate) : null), [ownTransform, size, plate]);
  const stabilised = useStabilisedView(base);
  const viewTransform = stabilised?.viewTransform ?? base;
  const [crosshair, setCrosshair] = useState({ x: plate.width / 2, y: plate.height / 2 });
  /** Whether the cross-hair was moved since the pointer was. */
  const [byKeys, setByKeys] = useState(false);
  const [focused, setFocused] = useState(false);
  /** What the pointer is over: only a change of it renders the viewer. */
  const [hovered, setHovered] = useState<Hit['kind'] | null>(null);
  const notes = useRef<{ show(notes: Partial<PointerNotesState>): void }>(null);
  const [spaceHeld, setSpaceHeld] = useState(false);
  const [tools] = useState(() => new Map(TOOLS.map((t) => [t.id, t.make?.() ?? null] as const)));
  const pressed = useRef<'tool' | 'pan' | null>(null);
  const lastPress = useRef({ at: 0, x: 0, y: 0 });
  const panFrom = useRef({ x: 0, y: 0, viewTransform: { scale: 1, x: 0, y: 0 } });

  useEffect(() => {
    const element = box.current;
    if (!element) return;
    const observer = new ResizeObserver(
      ([
        {
          contentRect: { width, height },
        },
      ]) => {
        setSize({ width, height });
        viewStore.getState().setViewport({ width, height });
      },
    );
    observer.observe(element);
    return () => observer.disconnect();
  }, [viewStore]);

  usePictures(canvas, bench, shotStore, subject, viewTransform, size);
  usePlayer(
    bench,
    subject,
    useShot((s) => s.document.timing),
  );
  const hasTiming = useShot((s) => s.document.timing !== null);
  const seesFinished = useView((s) => s.view === 'composed');
  useSoundOfPlate(bench, hasTiming && seesFinished);
  useStand();

  const context = useCallback(
    (): ToolContext => ({
      get shot() {
        return shotStore.getState();
      },
      get view() {
        return viewStore.getState();
      },
      get subject() {
        return currentSubject(shotStore.getState());
      },
      perPixel: 1 / (viewTransform?.scale ?? 1),
      newId: () => crypto.randomUUID(),
      crosshair,
      carried: isFound,
      trackAgain: (id, at) => void trackAgain(shotStore, bench, id, at),
      moveCrosshair: (x, y) => {
        setByKeys(true);
        setCrosshair({ x: clamp(x, 0, plate.width), y: clamp(y, 0, plate.height) });
      },
    }),
    [shotStore, viewStore, viewTransform, crosshair, plate, bench],
  );

  const described = toolById(toolId);
  const tool = tools.get(toolId) ?? null;
  // What is in progress with one tool is given up when another is taken.
  const inHand = useRef(tool);
  useEffect(() => {
    const before = inHand.current;
    inHand.current = tool;
    if (!before || before === tool) return;
    if (pressed.current === 'tool') pressed.current = null;
    before.cancel(context());
  });
  const panning = !tool || spaceHeld;

  // React attaches wheel handlers as passive, which cannot keep the page from scrolling.
  useEffect(() => {
    const element = box.current;
    if (!element || !base) return;
    const onWheel = (event: WheelEvent) => {
      event.preventDefault();
      const rect = element.getBoundingClientRect();
      viewStore.getState().setViewTransform(zoomed(base, base.scale * Math.exp(-event.deltaY * 0.0016), event.clientX - rect.left, event.clientY - rect.top));
    };
    element.addEventListener('wheel', onWheel, { passive: false });
    return () => element.removeEventListener('wheel', onWheel);
  }, [base, viewStore]);

  /** Of the event, in pixels of the stage before it is turned. */
  const stageAt = (event: PointerEvent) => {
    const rect = (box.current as HTMLDivElement).getBoundingClientRect();
    const at = { x: event.clientX - rect.left, y: event.clientY - rect.top };
    return stabilised ? beforeTurn(stabilised, at.x, at.y) : at;
  };
  const plateAt = (event: PointerEvent): ToolPointer => {
    const { scale, x, y } = viewTransform as ViewTransform;
    const at = stageAt(event);
    return {
      x: (at.x - x) / scale,
      y: (at.y - y) / scale,
      shift: event.shiftKey,
      alt: event.altKey,
      ctrl: event.ctrlKey || event.metaKey,
      pressure: event.pointerType === 'pen' ? event.pressure : null,
      clicks: 1,
    };
  };

  const onPointerDown = (event: PointerEvent<HTMLDivElement>) => {
    if (!viewTransform || event.button === 2) return;
    event.currentTarget.setPointerCapture(event.pointerId);
    if (panning || event.button === 1) {
      pressed.current = 'pan';
      panFrom.current = { x: event.clientX, y: event.clientY, viewTransform: base as ViewTransform };
      return;
    }
    // When the press happened, not when the page got to it.
    const now = event.timeStamp;
    const near = Math.abs(event.clientX - lastPress.current.x) < 5 && Math.abs(event.clientY - lastPress.current.y) < 5;
    const double = near && now - lastPress.current.at < DOUBLE_CLICK;
    lastPress.current = { at: double ? 0 : now, x: event.clientX, y: event.clientY };
    pressed.current = 'tool';
    tool?.down({ ...plateAt(event), clicks: double ? 2 : 1 }, context());
  };
  const onPointerMove = (event: PointerEvent<HTMLDivElement>) => {
    if (!viewTransform) return;
    setByKeys(false);
    if (pressed.current === 'pan') {
      const { x, y, viewTransform: from } = panFrom.current;
      viewStore.getState().setViewTransform({ scale: from.scale, x: from.x + event.clientX - x, y: from.y + event.clientY - y });
      return;
    }
    const p = plateAt(event);
    if (pressed.current === 'tool') tool?.move(p, context());
    const at = stageAt(event);
    const magnified = magnify || (pressed.current === 'tool' && shotStore.getState().draft !== null);
    // While something is held, that is what the pointer is about.
    if (pressed.current === 'tool') notes.current?.show({ ...at, magnified, inside: true });
    else {
      tool?.hover?.(p, context());
      const hit = toolId === 'edit' && !panning && outlines ? hitTest(p, context()) : null;
      setHovered(hit?.kind ?? null);
      notes.current?.show({ ...at, magnified, inside: true, pathId: hit?.path.id ?? null });
    }
  };
  const onPointerUp = (event: PointerEvent<HTMLDivElement>) => {
    notes.current?.show({ magnified: false });
    if (pressed.current === 'tool' && viewTransform) tool?.up(plateAt(event), context());
    pressed.current = null;
  };
  const onPointerCancel = () => {
    notes.current?.show({ magnified: false });
    if (pressed.current === 'tool') tool?.cancel(context());
    pressed.current = null;
  };

  const onKeyDown = (event: React.KeyboardEvent) => {
    if (event.key === ' ' && !event.repeat && pressed.current === null) setSpaceHeld(true);
    if (event.key === 'Escape' && pressed.current === 'tool') {
      tool?.cancel(context());
      pressed.current = null;
      event.stopPropagation();
      return;
    }
    // Of what lies over the picture, fields have all keys to themselves, and buttons those that press them and walk between them.
    const from = event.target as HTMLElement;
    if (from !== event.currentTarget && (from.matches('input, select, textarea') || /^(Enter| |Tab|Arrow.*)$/.test(event.key))) return;
    if (tool?.key(event.nativeEvent, context())) {
      event.preventDefault();
      event.stopPropagation();
    }
  };

  const cursor = panning ? 'grab' : (described.cursor ?? (hovered ? (hovered === 'curve' ? 'pointer' : 'move') : 'default'));
  const hint = tool?.hint(context()) ?? 'Drag to move the picture; the wheel zooms at the pointer.';
  const density = typeof window === 'undefined' ? 1 : window.devicePixelRatio;

  return (
    <section aria-label="Viewer" className="flex min-h-0 min-w-0 flex-1 flex-col bg-well">
      <ViewBar
        scale={viewTransform?.scale ?? 1}
        onFit={() => viewStore.getState().setViewTransform(null)}
        onActual={() => viewStore.getState().showActual(density)}
      />
      <ToolOptions />
      <div className="relative flex min-h-0 flex-1">
        <ToggleGroup.Root
          type="single"
          value={toolId}
          onValueChange={(id) => id && viewStore.getState().setTool(id as ToolId)}
          orientation="vertical"
          aria-label="Tools"
          className="flex w-9 shrink-0 flex-col items-center gap-1 border-line border-r bg-panel py-2"
        >
          {benchTools.map((id) => {
            const { label, about, icon: Icon } = toolById(id);
            return (
              <Hint key={id} label={label} shortcut={id} about={about}>
                <span>
                  <ToggleGroup.Item
                    value={id}
                    aria-label={label}
                    className="inline-flex size-7 items-center justify-center rounded border border-transparent text-quiet hover:bg-raised data-[state=on]:border-edge data-[state=on]:bg-raised data-[state=on]:text-white"
                  >
                    <Icon className="size-4" />
                  </ToggleGroup.Item>
                </span>
              </Hint>
            );
          })}
          <IconButton
            label="Fit the plate in the viewer"
            about="All of the picture, as large as it goes."
            shortcut="fit"
            onClick={() => viewStore.getState().setViewTransform(null)}
          >
            <Maximize />
          </IconButton>
        </ToggleGroup.Root>
        <div
          ref={box}
          role="application"
          aria-label={`Picture, frame ${frame + plate.firstNumber}. ${hint}`}
          tabIndex={0}
          data-viewer
          className="relative min-w-0 flex-1 touch-none overflow-hidden outline-offset-[-2px]"
          style={{ cursor }}
          onPointerDown={onPointerDown}
          onPointerMove={onPointerMove}
          onPointerUp={onPointerUp}
          onPointerCancel={onPointerCancel}
          onPointerLeave={() => {
            setHovered(null);
            tool?.leave?.(context());
            notes.current?.show({ magnified: false, inside: false, pathId: null });
          }}
          onKeyDown={onKeyDown}
          onKeyUp={(event) => {
            if (event.key === ' ') setSpaceHeld(false);
            tool?.keyUp(context());
          }}
          onFocus={() => setFocused(true)}
          onBlur={() => {
            setFocused(false);
            setSpaceHeld(false);
            tool?.keyUp(context());
          }}
        >
          <div
            className="absolute inset-0"
            style={stabilised ? { transform: `rotate(${stabilised.turn}rad)`, transformOrigin: `${stabilised.x}px ${stabilised.y}px` } : undefined}
          >
            <canvas
              ref={canvas}
              data-picture
              width={Math.max(1, Math.round(size.width * density))}
              height={Math.max(1, Math.round(size.height * density))}
              className="absolute inset-0 h-full w-full"
              aria-hidden
            />
            {viewTransform && <CurvesCanvas viewTransform={viewTransform} size={size} shown={outlines} />}
            {viewTransform && (
              <svg className="pointer-events-none absolute inset-0 h-full w-full" aria-hidden>
                {outlines && <TransformFrame viewTransform={viewTransform} />}
                <ElementFrame viewTransform={viewTransform} />
                <Marquee viewTransform={viewTransform} />
                {(described.crosshair === 'always' || (described.crosshair === 'by-keys' && byKeys)) && focused && (
                  <g stroke="#fff" strokeWidth={1}>
                    <line
                      x1={crosshair.x * viewTransform.scale + viewTransform.x - 12}
                      x2={crosshair.x * viewTransform.scale + viewTransform.x + 12}
                      y1={crosshair.y * viewTransform.scale + viewTransform.y}
                      y2={crosshair.y * viewTransform.scale + viewTransform.y}
                    />
                    <line
                      y1={crosshair.y * viewTransform.scale + viewTransform.y - 12}
                      y2={crosshair.y * viewTransform.scale + viewTransform.y + 12}
                      x1={crosshair.x * viewTransform.scale + viewTransform.x}
                      x2={crosshair.x * viewTransform.scale + viewTransform.x}
                    />
                  </g>
                )}
              </svg>
            )}
            {viewTransform && <PointerNotes handle={notes} source={canvas} viewTransform={viewTransform} viewport={size} />}
          </div>
          {stabilised && <StabilisedNote />}
          <WaitNote />
          <DamageNote />
          {viewId === 'matte' && <JudgeBar />}
        </div>
        <ScopesCard />
      </div>
      <p className="h-6 shrink-0 truncate border-line border-t bg-panel px-3 text-quiet text-xs leading-6" aria-live="polite" data-active={activePath ?? ''}>
        {hint}
      </p>
    </section>
  );
}
