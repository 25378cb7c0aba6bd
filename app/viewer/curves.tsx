/** What lies over the picture: the curves on a canvas, and the frame and the box of the selection, in screen pixels. */
import { useEffect, useRef } from 'react';
import { shapeAt } from '~/core/document/follow.ts';
import { partWith } from '~/core/document/parts.ts';
import type { Part, ShotDocument } from '~/core/document/schema.ts';
import { editablePaths } from '../edits/path-edits.ts';
import { pointsOf } from '../edits/points.ts';
import { doubtfulPlaces, onFound } from '../state/peel.ts';
import { useShot, useShotStore } from '../state/shot-context.tsx';
import { onTracking, trackingNow, withPlaces } from '../state/track.ts';
import type { ViewTransform } from '../state/view-transform.ts';
import { currentSubject, useCurrentSubject, useView, useWorkbench } from '../state/workbench-context.tsx';
import { currentPeel } from '../tools/brush-tool.ts';
import { boxRound, HANDLES, middleOf, spotOf } from '../tools/frame-box.ts';
import { paintCurves } from './curves-canvas.ts';
import type { ShownStroke } from './strokes-canvas.ts';
import type { ShownTrack } from './tracks-canvas.ts';

/** The track that is worked on, or followed by what is; and all of them where tracks are what it is about. A run shows as it goes. */
function shownTracks({ tracks }: ShotDocument, selected: string | null, part: Part | null | undefined, marking: boolean): ShownTrack[] {
  const running = trackingNow();
  const followed = part?.type === 'spline' ? part.follow?.track : undefined;
  const own = tracks.find((t) => t.id === selected);
  const beginning = running?.tracks.filter((t) => !tracks.some((k) => k.id === t.id)) ?? [];
  return [...tracks, ...beginning]
    .filter((t) => marking || own || t.id === followed || running?.ids.includes(t.id))
    .map((track) => {
      const found = running?.found.get(track.id);
      const places = found ? [...found].map(([frame, value]) => ({ frame, value })) : [];
      return {
        track: places.length > 0 ? withPlaces(track, places) : track,
        chosen: track.id === selected || track.id === followed || beginning.includes(track),
      };
    });
}

/** The curves that can be worked on, repainted once a screen frame however often they change. */
export function CurvesCanvas({ viewTransform, size, shown }: { viewTransform: ViewTransform; size: { width: number; height: number }; shown: boolean }) {
  const store = useShotStore();
  const { view, plate } = useWorkbench();
  const canvas = useRef<HTMLCanvasElement>(null);
  const density = typeof window === 'undefined' ? 1 : window.devicePixelRatio;
  useEffect(() => {
    let scheduled = 0;
    const paint = () => {
      if (!canvas.current) return;
      if (!shown) return paintCurves(canvas.current, null);
      const { document, selected, points, path } = store.getState();
      const { frame, tool, numbers, onion, painting, pointedStroke } = view.getState();
      const subject = currentSubject(store.getState());
      const chosen = subject && partWith(subject, selected);
      const peel = chosen?.type === 'peel' ? chosen : tool === 'brush' ? currentPeel({ shot: store.getState(), subject }) : undefined;
      const strokes: ShownStroke[] = (peel?.strokes ?? []).filter((s) => s.frame === frame).map((s) => ({ ...s, pointed: s.id === pointedStroke }));
      if (painting) strokes.push({ ...painting, enabled: true, pointed: false });
      paintCurves(canvas.current, {
        strokes,
        doubtful: peel ? doubtfulPlaces(peel.id, frame, plate) : [],
        tracks: shownTracks(document, selected, chosen, tool === 'mark'),
        paths: editablePaths(document, selected, subject, frame),
        frame,
        viewTransform,
        points,
        active: path,
        ofPart: selected !== null && document.cast.every((s) => s.id !== selected),
        drawing: tool === 'draw',
        numbers,
        onion,
        density,
      });
    };
    const schedule = () => {
      cancelAnimationFrame(scheduled);
      scheduled = requestAnimationFrame(paint);
    };
    schedule();
    const leave = [store.subscribe(schedule), view.subscribe(schedule), onFound(schedule), onTracking(schedule)];
    return () => {
      cancelAnimationFrame(scheduled);
      for (const end of leave) end();
    };
  }, [store, view, plate, viewTransform, size, shown, density]);
  return (
    <canvas
      ref={canvas}
      width={Math.max(1, Math.round(size.width * density))}
      height={Math.max(1, Math.round(size.height * density))}
      className="pointer-events-none absolute inset-0 h-full w-full"
      aria-hidden
    />
  );
}

export function TransformFrame({ viewTransform }: { viewTransform: ViewTransform }) {
  const shown = useView((s) => s.transforming);
  const pivot = useView((s) => s.pivot);
  const frame = useView((s) => s.frame);
  const tool = useView((s) => s.tool);
  const document = useShot((s) => s.document);
  const selected = useShot((s) => s.selected);
  const points = useShot((s) => s.points);
  const subject = useCurrentSubject();
  if (!shown || tool !== 'edit') return null;
  const chosen = editablePaths(document, selected, subject, frame).map(({ path }) => ({ shape: shapeAt(path, frame), vertices: pointsOf(points, path.id) }));
  const box = boxRound(chosen);
  if (!box) return null;
  const at = (p: { x: number; y: number }) => ({ x: p.x * viewTransform.scale + viewTransform.x, y: p.y * viewTransform.scale + viewTransform.y });
  const corners = HANDLES.map((h) => ({ h, ...at(spotOf(box, h, 1 / viewTransform.scale)) }));
  const [topLeft, bottomRight] = [corners[0], corners[corners.length - 1]];
  const centre = at(pivot ?? middleOf(box));
  return (
    <g data-transform-frame>
      <rect
        x={topLeft.x}
        y={topLeft.y}
        width={bottomRight.x - topLeft.x}
        height={bottomRight.y - topLeft.y}
        fill="none"
        stroke="#000"
        strokeOpacity={0.6}
        strokeWidth={3}
      />
      <rect
        x={topLeft.x}
        y={topLeft.y}
        width={bottomRight.x - topLeft.x}
        height={bottomRight.y - topLeft.y}
        fill="none"
        stroke="#fff"
        strokeWidth={1}
        strokeDasharray="5 3"
      />
      {corners.map(({ h, x, y }) => (
        <g key={`${h.across},${h.down}`}>
          {h.across !== 0 && h.down !== 0 && (
            <path
              d={`M${x + h.across * 8} ${y + h.down * 18} A 12 12 0 0 ${h.across * h.down > 0 ? 0 : 1} ${x + h.across * 18} ${y + h.down * 8}`}
              fill="none"
              stroke="#fff"
              strokeWidth={1.4}
            />
          )}
          <rect x={x - 5} y={y - 5} width={10} height={10} fill="#111" stroke="#fff" strokeWidth={1.4} />
        </g>
      ))}
      <circle cx={centre.x} cy={centre.y} r={5} fill="none" stroke="#fff" strokeWidth={1.4} />
      <path d={`M${centre.x - 9} ${centre.y}h18M${centre.x} ${centre.y - 9}v18`} stroke="#fff" strokeWidth={1.2} />
    </g>
  );
}

export function Marquee({ viewTransform }: { viewTransform: ViewTransform }) {
  const marquee = useView((s) => s.marquee);
  if (!marquee || marquee.points.length < 4) return null;
  const d = marquee.points.map((v, i) => (v * viewTransform.scale + (i % 2 ? viewTransform.y : viewTransform.x)).toFixed(1));
  const pairs = Array.from({ length: d.length / 2 }, (_, i) => `${d[2 * i]},${d[2 * i + 1]}`).join(' ');
  return <polygon points={pairs} fill="#fff" fillOpacity={0.07} stroke="#fff" strokeWidth={1} strokeDasharray="4 3" />;
}
