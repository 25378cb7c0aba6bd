/** The curves of the selected parts over the picture, with points and handles: SVG above the canvas, in screen pixels. */
import { memo } from 'react';
import type { Path } from '~/core/document/schema.ts';
import { type Shape, segment } from '~/core/path/path.ts';
import { useShot } from '../state/shot-context.tsx';
import type { Place } from '../state/view-store.ts';
import { useCurrentSubject, useView } from '../state/workbench-context.tsx';
import { editablePaths, shapeAt } from './path-edits.ts';

function outline(shape: Shape, closed: boolean, { scale, x, y }: Place): string {
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

const PathCurve = memo(function PathCurve({
  path,
  shape,
  place,
  vertices,
  active,
  points,
  drawing,
}: {
  path: Path;
  shape: Shape;
  place: Place;
  vertices: ReadonlySet<number>;
  active: boolean;
  /** Whether its points show: they do on the part that is worked on. */
  points: boolean;
  drawing: boolean;
}) {
  const d = outline(shape, path.closed, place);
  const screen = (px: number, py: number) => ({ x: px * place.scale + place.x, y: py * place.scale + place.y });
  return (
    <g>
      <path d={d} fill="none" stroke="#000" strokeOpacity={0.65} strokeWidth={3.5} />
      {/* An open curve is dashed: it masks nothing. */}
      <path d={d} fill="none" stroke={active ? '#fff' : '#d6d6d6'} strokeWidth={1.4} strokeDasharray={path.closed ? undefined : '6 4'} />
      {shape.map((v, i) => {
        const p = screen(v.x, v.y);
        const chosen = active && vertices.has(i);
        const handles = chosen
          ? [
              [v.inX, v.inY],
              [v.outX, v.outY],
            ].filter(([hx, hy]) => hx !== 0 || hy !== 0)
          : [];
        const first = i === 0 && !path.closed && drawing;
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
  const vertices = useShot((s) => s.vertices);
  const frame = useView((s) => s.frame);
  const drawing = useView((s) => s.tool === 'draw');
  const part = useShot((s) => s.document.cast.every((c) => c.id !== s.selected) && s.selected !== null);
  const paths = editablePaths(document, selected, useCurrentSubject());
  return (
    <>
      {paths.map((path) => (
        <PathCurve
          key={path.id}
          path={path}
          shape={shapeAt(path, frame)}
          place={place}
          vertices={vertices}
          active={path.id === active}
          points={path.id === active || part}
          drawing={drawing}
        />
      ))}
    </>
  );
}
