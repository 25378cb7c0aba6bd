/** The curves of the selected parts over the picture, with points and handles: SVG above the canvas, in screen pixels. */
import { memo } from 'react';
import type { OutlineColour, Path } from '~/core/document/schema.ts';
import { isFeathered, type Shape, segment } from '~/core/path/path.ts';
import { hasKeys } from '~/core/time/animated.ts';
import { pointsOf } from '../state/points.ts';
import { useShot } from '../state/shot-context.tsx';
import { useCurrentSubject, useView } from '../state/workbench-context.tsx';
import { outward } from './feather-tool.ts';
import { boxRound, HANDLES, middleOf, spotOf } from './frame-box.ts';
import { editablePaths, shapeAt } from './path-edits.ts';
import type { Place } from './place.ts';

export const OUTLINE_HEX: Record<OutlineColour, string> = {
  white: '#ffffff',
  sky: '#8fd0ff',
  lime: '#c4ee7a',
  sand: '#ffd98a',
  coral: '#ffab8f',
  orchid: '#e7b3ff',
  mint: '#8ff0cf',
  slate: '#c3cbd6',
};

export function outline(shape: Shape, closed: boolean, { scale, x, y }: Place): string {
  if (shape.length === 0) return '';
  const at = (px: number, py: number) => `${(px * scale + x).toFixed(2)} ${(py * scale + y).toFixed(2)}`;
  const parts = [`M${at(shape[0].x, shape[0].y)}`];
  const segments = closed ? shape.length : shape.length - 1;
  for (let i = 0; i < segments; i++) {
    const s = segment(shape, i);
    parts.push(`C${at(s[2], s[3])} ${at(s[4], s[5])} ${at(s[6], s[7])}`);
  }
  if (closed) parts.push('Z');
  return parts.join('');
}

/** The shape with every point moved along its normal by its feather: a good picture of where softness ends. */
const feathered = (shape: Shape, side: 'featherIn' | 'featherOut'): Shape =>
  shape.map((v, i) => {
    const n = outward(shape, i);
    const d = (v[side] ?? 0) * (side === 'featherOut' ? 1 : -1);
    return { ...v, x: v.x + n.x * d, y: v.y + n.y * d };
  });

const PathCurve = memo(function PathCurve({
  path,
  shape,
  place,
  vertices,
  active,
  points,
  drawing,
  numbers,
  colour,
}: {
  path: Path;
  shape: Shape;
  place: Place;
  vertices: ReadonlySet<number>;
  active: boolean;
  /** Whether its points show: they do on the part that is worked on. */
  points: boolean;
  drawing: boolean;
  numbers: boolean;
  colour: string;
}) {
  const d = outline(shape, path.closed, place);
  const screen = (px: number, py: number) => ({ x: px * place.scale + place.x, y: py * place.scale + place.y });
  return (
    <g>
      <path d={d} fill="none" stroke="#000" strokeOpacity={0.65} strokeWidth={active ? 4 : 3.5} />
      {/* An open curve is dashed: it masks nothing. */}
      <path
        d={d}
        fill="none"
        stroke={colour}
        strokeOpacity={active ? 1 : 0.85}
        strokeWidth={active ? 1.8 : 1.3}
        strokeDasharray={path.closed ? undefined : '6 4'}
      />
      {path.closed &&
        isFeathered(shape) &&
        (['featherOut', 'featherIn'] as const).map((side) => (
          <path
            key={side}
            d={outline(feathered(shape, side), true, place)}
            fill="none"
            stroke={colour}
            strokeOpacity={0.8}
            strokeWidth={1}
            strokeDasharray="2 3"
          />
        ))}
      {shape.map((v, i) => {
        const p = screen(v.x, v.y);
        const chosen = vertices.has(i);
        const handles = chosen
          ? [
              [v.inX, v.inY],
              [v.outX, v.outY],
            ].filter(([hx, hy]) => hx !== 0 || hy !== 0)
          : [];
        const first = i === 0 && ((!path.closed && drawing) || numbers);
        return (
          <g key={i}>
            {handles.map(([hx, hy], k) => {
              const h = screen(v.x + hx, v.y + hy);
              return (
                <g key={k}>
                  <line x1={p.x} y1={p.y} x2={h.x} y2={h.y} stroke="#000" strokeOpacity={0.6} strokeWidth={3} />
                  <line x1={p.x} y1={p.y} x2={h.x} y2={h.y} stroke="#fff" strokeWidth={1} />
                  <circle cx={h.x} cy={h.y} r={3.5} fill="#222" stroke="#fff" strokeWidth={1.4} />
                </g>
              );
            })}
            {first && <circle cx={p.x} cy={p.y} r={9} fill="none" stroke="#fff" strokeWidth={1.2} strokeDasharray="3 2" />}
            {points ? (
              <rect
                x={p.x - (chosen ? 4.5 : 3.5)}
                y={p.y - (chosen ? 4.5 : 3.5)}
                width={chosen ? 9 : 7}
                height={chosen ? 9 : 7}
                rx={v.inX || v.outX || v.inY || v.outY ? 3.5 : 0}
                fill={chosen ? '#fff' : '#222'}
                stroke={chosen ? '#000' : '#fff'}
                strokeWidth={1.3}
              />
            ) : null}
            {numbers && points && (
              <text x={p.x + 7} y={p.y - 7} fontSize={11} fill="#fff" stroke="#000" strokeWidth={3} paintOrder="stroke" className="font-mono">
                {i + 1}
              </text>
            )}
          </g>
        );
      })}
    </g>
  );
});

export function Curves({ place }: { place: Place }) {
  const document = useShot((s) => s.document);
  const selected = useShot((s) => s.selected);
  const active = useShot((s) => s.path);
  const points = useShot((s) => s.points);
  const frame = useView((s) => s.frame);
  const drawing = useView((s) => s.tool === 'draw');
  const numbers = useView((s) => s.numbers);
  const onion = useView((s) => s.onion);
  const ofPart = useShot((s) => s.document.cast.every((c) => c.id !== s.selected) && s.selected !== null);
  const paths = editablePaths(document, selected, useCurrentSubject(), frame);
  return (
    <>
      {onion > 0 &&
        paths.map(({ path, part }) => <Onion key={path.id} path={path} frame={frame} count={onion} place={place} colour={OUTLINE_HEX[part.colour]} />)}
      {paths.map(({ path, part }) => (
        <PathCurve
          key={path.id}
          path={path}
          shape={shapeAt(path, frame)}
          place={place}
          vertices={pointsOf(points, path.id)}
          active={path.id === active}
          points={path.id === active || ofPart || pointsOf(points, path.id).size > 0}
          drawing={drawing}
          numbers={numbers}
          colour={OUTLINE_HEX[part.colour]}
        />
      ))}
      <TransformFrame place={place} />
      <Marquee place={place} />
    </>
  );
}

/** The curve on the keys before (long dashes) and after (dots), fainter the farther. */
function Onion({ path, frame, count, place, colour }: { path: Path; frame: number; count: number; place: Place; colour: string }) {
  if (!hasKeys(path.shape)) return null;
  const before = path.shape.keys.filter((k) => k.frame < frame).slice(-count);
  const after = path.shape.keys.filter((k) => k.frame > frame).slice(0, count);
  return (
    <g fill="none" stroke={colour} strokeWidth={1.2}>
      {before.reverse().map((k, i) => (
        <path key={k.frame} d={outline(k.value, path.closed, place)} strokeDasharray="7 4" strokeOpacity={0.6 / (i + 1)} />
      ))}
      {after.map((k, i) => (
        <path key={k.frame} d={outline(k.value, path.closed, place)} strokeDasharray="1.5 3" strokeOpacity={0.75 / (i + 1)} />
      ))}
    </g>
  );
}

function TransformFrame({ place }: { place: Place }) {
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
  const at = (p: { x: number; y: number }) => ({ x: p.x * place.scale + place.x, y: p.y * place.scale + place.y });
  const corners = HANDLES.map((h) => ({ h, ...at(spotOf(box, h, 1 / place.scale)) }));
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

function Marquee({ place }: { place: Place }) {
  const marquee = useView((s) => s.marquee);
  if (!marquee || marquee.points.length < 4) return null;
  const d = marquee.points.map((v, i) => (v * place.scale + (i % 2 ? place.y : place.x)).toFixed(1));
  const pairs = Array.from({ length: d.length / 2 }, (_, i) => `${d[2 * i]},${d[2 * i + 1]}`).join(' ');
  return <polygon points={pairs} fill="#fff" fillOpacity={0.07} stroke="#fff" strokeWidth={1} strokeDasharray="4 3" />;
}
