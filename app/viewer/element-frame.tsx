/** The frame of the element that can be placed by hand. */
import { useEffect } from 'react';
import { framingOver } from '~/core/compose/framing-over.ts';
import { aimOn, endsOn } from '~/core/compose/lane-items.ts';
import { applyTo, scaleAt } from '~/core/math/homography.ts';
import { useShot } from '../state/shot-context.tsx';
import type { Stand } from '../state/view-store.ts';
import type { ViewTransform } from '../state/view-transform.ts';
import { useView, useWorkbench } from '../state/workbench-context.tsx';
import { cornersOf, turnHandleOf } from '../tools/stand-corners.ts';

/** Keeps where the selected effect or element stands known while the tool that places it is in hand. */
export function useStand(): void {
  const { view, pictures } = useWorkbench();
  const tool = useView((s) => s.tool);
  // Whoever makes pictures has no time for it while they are played.
  const frame = useView((s) => s.readFrame);
  const document = useShot((s) => s.document);
  const item = useShot((s) => s.document.lanes.find((l) => l.id === s.selected));
  const placed = tool === 'place' && item?.enabled ? item : null;
  useEffect(() => {
    if (!placed || !pictures) {
      view.getState().set({ stand: null });
      return;
    }
    let left = false;
    const known = (stand: Pick<Stand, 'box' | 'motion'> | null) => {
      if (!left) view.getState().set({ stand: stand && { ...stand, id: placed.id, frame } });
    };
    pictures.render.stand(placed, frame).then(known, () => known(null));
    return () => {
      left = true;
    };
    // The document counts: what is followed and what is shown is in it.
  }, [view, pictures, placed, document, frame]);
}

/** Takes places of the plate to the screen for an item: through Framing, where that is over it in what is shown. */
function useSeenAt(
  id: string | null | undefined,
  { scale, x: left, y: top }: ViewTransform,
): { at(place: readonly [number, number]): [number, number]; grows: number } {
  const frame = useView((s) => s.readFrame);
  const composed = useView((s) => s.view === 'composed');
  const document = useShot((s) => s.document);
  const item = composed ? document.lanes.find((l) => l.id === id) : undefined;
  const over = item ? framingOver(document, item, frame) : null;
  return {
    at(place) {
      const [x, y] = over ? applyTo(over, ...place) : place;
      return [x * scale + left, y * scale + top];
    },
    grows: over ? scaleAt(over, document.plate.width / 2, document.plate.height / 2) : 1,
  };
}

export function ElementFrame({ viewTransform }: { viewTransform: ViewTransform }) {
  const stand = useView((s) => s.stand);
  const tool = useView((s) => s.tool);
  const pinned = useShot((s) => s.document.lanes.some((l) => l.id === stand?.id && l.type === 'element' && l.corners !== null));
  const { at, grows } = useSeenAt(stand?.id, viewTransform);
  if (tool !== 'place') return null;
  if (!stand) return <ElementEnds viewTransform={viewTransform} />;
  const corners = cornersOf(stand).map(at);
  const points = corners.map((c) => c.join()).join(' ');
  if (stand.box.width === 0) {
    const [x, y] = corners[0];
    return (
      <g data-element-frame>
        <circle cx={x} cy={y} r={7} fill="none" stroke="#000" strokeOpacity={0.6} strokeWidth={3.4} />
        <circle cx={x} cy={y} r={7} fill="none" stroke="#fff" strokeWidth={1.4} />
        <path d={`M${x - 13} ${y}h26M${x} ${y - 13}v26`} stroke="#fff" strokeWidth={1.2} />
      </g>
    );
  }
  const [hx, hy] = at(turnHandleOf(stand, 1 / (viewTransform.scale * grows)));
  const [mx, my] = [(corners[0][0] + corners[1][0]) / 2, (corners[0][1] + corners[1][1]) / 2];
  return (
    <g data-element-frame>
      <polygon points={points} fill="none" stroke="#000" strokeOpacity={0.6} strokeWidth={3} />
      <polygon points={points} fill="none" stroke="#fff" strokeWidth={1} strokeDasharray={pinned ? undefined : '5 3'} />
      {!pinned && (
        <>
          <path d={`M${mx} ${my}L${hx} ${hy}`} stroke="#fff" strokeWidth={1} />
          <circle cx={hx} cy={hy} r={5} fill="#111" stroke="#fff" strokeWidth={1.4} />
        </>
      )}
      {corners.map(([x, y], i) => (
        <rect key={i} x={x - 5} y={y - 5} width={10} height={10} fill="#111" stroke="#fff" strokeWidth={1.4} />
      ))}
    </g>
  );
}

/** The ends of an element that lies between such, or of what an effect is aimed at, and the way between them. */
function ElementEnds({ viewTransform }: { viewTransform: ViewTransform }) {
  const frame = useView((s) => s.readFrame);
  const document = useShot((s) => s.document);
  const item = useShot((s) => s.document.lanes.find((l) => l.id === s.selected));
  const { at: seen } = useSeenAt(item?.id, viewTransform);
  if (!item?.enabled) return null;
  const aimed = aimOn(document, item, frame).map((at, i) => ({ key: String(i), label: '', at }));
  const ends = [...endsOn(document, item, frame).map(({ end, at }) => ({ key: end.label, label: end.label, at })), ...aimed].map(({ at, ...of }) => {
    const [x, y] = seen(at);
    return { ...of, x, y };
  });
  if (ends.length === 0) return null;
  const way = ends.map(({ x, y }) => `${x},${y}`).join(' ');
  return (
    <g data-element-ends>
      <polyline points={way} fill="none" stroke="#000" strokeOpacity={0.6} strokeWidth={3} />
      <polyline points={way} fill="none" stroke="#fff" strokeWidth={1} strokeDasharray="5 3" />
      {ends.map(({ key, label, x, y }) => (
        <g key={key}>
          <circle cx={x} cy={y} r={7} fill="#111" stroke="#fff" strokeWidth={1.6} />
          <text x={x + 12} y={y + 4} fontSize={11} fill="#fff" stroke="#000" strokeWidth={3} paintOrder="stroke">
            {label}
          </text>
        </g>
      ))}
    </g>
  );
}
