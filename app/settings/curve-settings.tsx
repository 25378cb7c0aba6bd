/** The curves of a spline part: each with its points and keys, and numbers for what is selected, so that nothing needs a pointer. */
import { Trash2 } from 'lucide-react';
import { useState } from 'react';
import { type PlacedPath, type PlacedSpline, shapeAt } from '~/core/document/follow.ts';
import { clamp } from '~/core/math/clamp.ts';
import { BETWEENS, type Between } from '~/core/path/between.ts';
import { affineAbout, makeKind, moveVertices, type PointKind, pointKind, reversedShape, transformVertices, withFirst } from '~/core/path/edit.ts';
import type { Shape } from '~/core/path/path.ts';
import { hasKeys } from '~/core/time/animated.ts';
import { everyKeyEdits, shapeEdits } from '../edits/path-edits.ts';
import { NO_POINTS, pointsOf } from '../edits/points.ts';
import { useShot, useShotStore } from '../state/shot-context.tsx';
import { useReachContext, useView, useWorkbench } from '../state/workbench-context.tsx';
import { boxRound, middleOf } from '../tools/frame-box.ts';
import { Button, EmptyNote, IconButton, TEXT_FIELD } from '../ui/controls.tsx';
import { CurveTrack } from './curve-track.tsx';
import { CoordinateField } from './fields.tsx';

const BETWEEN_WORDS: Record<Between, string> = { straight: 'straight', smooth: 'smooth way', turning: 'turning' };
const BETWEEN_ABOUT: Record<Between, string> = {
  straight: 'Between keys each point goes in a straight line',
  smooth: 'Between keys each point follows a smooth way through the keys before and after',
  turning: 'Between keys the whole moves, turns and scales first; what is left goes straight. For limbs that turn',
};

export function CurveSettings({ part }: { part: PlacedSpline }) {
  return (
    <>
      <h3 className="mt-3 border-line border-t px-3 pt-2 pb-1 font-semibold text-xs">Curves</h3>
      {part.paths.length === 0 && <EmptyNote>Nothing drawn yet. Press D and click round the subject.</EmptyNote>}
      <ul>
        {part.paths.map((path, i) => (
          <PathRow key={path.id} path={path} number={i + 1} />
        ))}
      </ul>
      <CurveTrack key={part.id} part={part} />
      <PointFields part={part} />
      <TransformFields part={part} />
    </>
  );
}

function PathRow({ path, number }: { path: PlacedPath; number: number }) {
  const store = useShotStore();
  const active = useShot((s) => s.path) === path.id;
  const frame = useView((s) => s.readFrame);
  const points = shapeAt(path, frame).length;
  const counts = hasKeys(path.shape) ? new Set(path.shape.keys.map((k) => k.value.length)) : new Set();
  const keys = hasKeys(path.shape) ? path.shape.keys.length : 0;
  const assign = (label: string, values: Record<string, string | boolean>) => store.getState().commit(label, [{ kind: 'assign', id: path.id, values }]);
  return (
    <li className={`px-3 py-0.5 text-sm ${active ? 'bg-raised' : ''}`}>
      <div className="flex items-center gap-2">
        <button
          type="button"
          aria-pressed={active}
          className="min-w-0 flex-1 truncate py-1 text-left"
          onClick={() => store.getState().selectPoints(NO_POINTS, path.id)}
        >
          Curve {number}
          <span className="ml-2 text-quiet text-xs">
            {points} points, {keys === 0 ? 'no keys' : keys === 1 ? '1 key' : `${keys} keys`}
          </span>
        </button>
        <Button
          tone="bare"
          className="!h-6 !px-1.5 text-xs"
          title={path.closed ? 'The curve is closed and masks. Press to open it.' : 'The curve is open and masks nothing. Press to close it.'}
          onClick={() => assign(path.closed ? 'Open curve' : 'Close curve', { closed: !path.closed })}
        >
          {path.closed ? 'closed' : <span className="text-doubt">open</span>}
        </Button>
        <IconButton
          label={`Delete curve ${number}`}
          about="Undo brings it back."
          className="!size-6"
          onClick={() => store.getState().commit('Delete curve', [{ kind: 'remove', id: path.id }])}
        >
          <Trash2 />
        </IconButton>
      </div>
      {active && (
        <div className="flex flex-wrap items-center gap-1 pb-1 text-xs">
          <label className="flex items-center gap-1">
            <span className="text-quiet">Between keys</span>
            <select
              aria-label="Way between keys"
              className="h-6 rounded border border-line bg-well px-1"
              value={path.between}
              title={BETWEEN_ABOUT[path.between]}
              onChange={(e) => assign('Set way between keys', { between: e.target.value })}
            >
              {BETWEENS.map((b) => (
                <option key={b} value={b}>
                  {BETWEEN_WORDS[b]}
                </option>
              ))}
            </select>
          </label>
          <Button
            className="!h-6 !px-1.5 text-xs"
            title="Runs the curve the other way round, on all keys"
            onClick={() => store.getState().commit('Turn curve round', everyKeyEdits(path, reversedShape))}
          >
            Turn round
          </Button>
        </div>
      )}
      {counts.size > 1 && (
        <p className="pb-1 text-quiet text-xs" role="note">
          Its keys have different numbers of points ({[...counts].join(', ')}): between them, points are matched along the curve.
        </p>
      )}
    </li>
  );
}

/** The track that the chosen points follow on their own. */
function PinField({ path, vertices }: { path: PlacedPath; vertices: ReadonlySet<number> }) {
  const store = useShotStore();
  const { view } = useWorkbench();
  const tracks = useShot((s) => s.history.settled.tracks);
  const frame = useView((s) => s.readFrame);
  const shape = shapeAt(path, frame);
  const ids = new Set([...vertices].map((i) => shape[i]?.pin?.track ?? ''));
  if (tracks.length === 0) return null;
  const choose = (id: string) => {
    const at = view.getState().frame;
    const pin = id ? { track: id, frame: at } : undefined;
    // On this frame they stay where they are seen; on all keys alike they follow from here on.
    const seen = shapeAt(path, at);
    const edits = everyKeyEdits(path, (s) =>
      s.map((v, i) => {
        if (!vertices.has(i) || !seen[i]) return v;
        const { pin: _pin, ...rest } = v;
        return pin ? { ...rest, x: seen[i].x, y: seen[i].y, pin } : rest;
      }),
    );
    store.getState().commit(id ? 'Points follow a track' : 'Points follow no track', edits);
  };
  return (
    <label className="flex items-center gap-2">
      <span className="w-20 shrink-0">Follow</span>
      <select
        aria-label="Track that these points follow"
        className="h-6 min-w-0 flex-1 rounded border border-line bg-well px-1 text-xs"
        value={ids.size === 1 ? [...ids][0] : ''}
        onChange={(e) => choose(e.target.value)}
      >
        <option value="">{ids.size > 1 ? 'different tracks' : 'the curve'}</option>
        {tracks.map((t) => (
          <option key={t.id} value={t.id}>
            {t.name}
          </option>
        ))}
      </select>
    </label>
  );
}

const KIND_WORDS: Record<PointKind, string> = { corner: 'Corner', smooth: 'Smooth', broken: 'Broken' };

function PointFields({ part }: { part: PlacedSpline }) {
  const store = useShotStore();
  const activeId = useShot((s) => s.path);
  const points = useShot((s) => s.points);
  const reach = useShot((s) => s.reach);
  const frame = useView((s) => s.readFrame);
  const context = useReachContext();
  const path = part.paths.find((p) => p.id === activeId);
  const vertices = pointsOf(points, activeId);
  if (!path || vertices.size === 0 || part.locked) return null;
  const shape = shapeAt(path, frame);
  const [index] = vertices;
  const vertex = shape[index];
  if (!vertex) return null;
  const put = (label: string, next: Shape) => store.getState().commit(label, shapeEdits(path, frame, next, reach, context));
  const onEveryKey = (label: string, change: (s: Shape) => Shape) => store.getState().commit(label, everyKeyEdits(path, change));
  const kinds = new Set([...vertices].map((i) => shape[i] && pointKind(shape[i])));
  return (
    <div className="mt-2 space-y-1 border-line border-t px-3 pt-2 text-sm" role="group" aria-label="Selected points">
      <div className="flex items-center gap-2">
        <span className="w-20 shrink-0">{vertices.size === 1 ? `Point ${index + 1}` : `${vertices.size} points`}</span>
        {vertices.size === 1 && (
          <>
            <CoordinateField label="x" value={vertex.x} onValue={(x) => put('Move point', moveVertices(shape, vertices, x - vertex.x, 0))} />
            <CoordinateField label="y" value={vertex.y} onValue={(y) => put('Move point', moveVertices(shape, vertices, 0, y - vertex.y))} />
          </>
        )}
      </div>
      <div className="flex flex-wrap items-center gap-1">
        {(['corner', 'smooth', 'broken'] as const).map((kind) => (
          <Button
            key={kind}
            aria-pressed={kinds.size === 1 && kinds.has(kind)}
            className="!h-6 !px-1.5 text-xs aria-pressed:border-edge aria-pressed:text-white"
            onClick={() => onEveryKey(`Make ${kind}`, (s) => makeKind(s, vertices, kind))}
          >
            {KIND_WORDS[kind]}
          </Button>
        ))}
        {vertices.size === 1 && index > 0 && path.closed && (
          <Button
            className="!h-6 !px-1.5 text-xs"
            title="Points meet between keys in their order from the first one"
            onClick={() => {
              if (onEveryKey('Make first point', (s) => withFirst(s, index))) store.getState().selectPoints(new Map([[path.id, new Set([0])]]), path.id);
            }}
          >
            Make first
          </Button>
        )}
      </div>
      <PinField path={path} vertices={vertices} />
      <div className="flex items-center gap-2">
        <span className="w-20 shrink-0">Feather</span>
        {(['featherIn', 'featherOut'] as const).map((side) => (
          <CoordinateField
            key={side}
            label={side === 'featherIn' ? 'in' : 'out'}
            value={vertex[side] ?? 0}
            onValue={(v) =>
              put(
                'Feather points',
                shape.map((w, i) => (vertices.has(i) ? { ...w, [side]: clamp(v, 0, 500) } : w)),
              )
            }
          />
        ))}
      </div>
    </div>
  );
}

/** Numbers of a transform that changes nothing. */
const NO_CHANGE = { dx: '0', dy: '0', scaleX: '100', scaleY: '100', angle: '0', skew: '0' };

/** Move, scale, turn and skew with numbers: the selected points, or the whole active curve. */
function TransformFields({ part }: { part: PlacedSpline }) {
  const store = useShotStore();
  const activeId = useShot((s) => s.path);
  const points = useShot((s) => s.points);
  const reach = useShot((s) => s.reach);
  const frame = useView((s) => s.readFrame);
  const context = useReachContext();
  const pivot = useView((s) => s.pivot);
  const [values, setValues] = useState(NO_CHANGE);
  if (part.locked || part.paths.length === 0) return null;
  let chosen = part.paths.map((path) => ({ path, shape: shapeAt(path, frame), vertices: pointsOf(points, path.id) })).filter((c) => c.vertices.size > 0);
  if (chosen.length === 0)
    chosen = part.paths
      .filter((p) => p.id === activeId)
      .map((path) => {
        const shape = shapeAt(path, frame);
        return { path, shape, vertices: new Set(shape.keys()) };
      });
  const box = boxRound(chosen);
  if (!box) return null;
  const number = (text: string) => Number(text.replace(',', '.'));
  const read = Object.fromEntries(Object.entries(values).map(([k, v]) => [k, number(v)])) as Record<keyof typeof values, number>;
  const fine = Object.values(read).every(Number.isFinite) && Math.abs(read.skew) < 89;
  const idle = Object.entries(NO_CHANGE).every(([k, v]) => read[k as keyof typeof read] === Number(v));
  const apply = () => {
    const centre = pivot ?? middleOf(box);
    const map = affineAbout(centre.x, centre.y, {
      dx: read.dx,
      dy: read.dy,
      scaleX: read.scaleX / 100,
      scaleY: read.scaleY / 100,
      angle: (read.angle * Math.PI) / 180,
      skew: (read.skew * Math.PI) / 180,
    });
    const done = store.getState().commit(
      'Transform',
      chosen.flatMap(({ path, shape, vertices }) => shapeEdits(path, frame, transformVertices(shape, vertices, map), reach, context)),
    );
    // A second Enter must not move it again.
    if (done) setValues(NO_CHANGE);
  };
  const field = (key: keyof typeof values, label: string) => (
    <label className="flex min-w-0 items-center gap-1">
      <span className="w-9 shrink-0 text-quiet text-xs">{label}</span>
      <input
        className={`${TEXT_FIELD} !h-6 !px-1 text-right font-mono text-xs`}
        inputMode="decimal"
        value={values[key]}
        onChange={(e) => setValues({ ...values, [key]: e.target.value })}
        onKeyDown={(e) => e.key === 'Enter' && fine && !idle && apply()}
      />
    </label>
  );
  return (
    <div className="mt-2 border-line border-t px-3 pt-2" role="group" aria-label="Transform">
      <div className="grid grid-cols-3 gap-x-2 gap-y-1">
        {field('dx', 'move x')}
        {field('scaleX', '% x')}
        {field('angle', 'turn °')}
        {field('dy', 'move y')}
        {field('scaleY', '% y')}
        {field('skew', 'skew °')}
      </div>
      <Button className="mt-1 !h-6 w-full text-xs" disabled={!fine || idle} onClick={apply}>
        Transform {points.size > 0 && chosen.some((c) => c.vertices.size < c.shape.length) ? 'the selected points' : 'the curve'}
      </Button>
    </div>
  );
}
