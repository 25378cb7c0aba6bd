/** What goes along with the pointer: what an edit there would change, and the magnifier. */
import { type RefObject, useImperativeHandle, useState } from 'react';
import type { ViewTransform } from '../state/view-transform.ts';
import { useView } from '../state/workbench-context.tsx';
import { Magnifier } from './magnifier.tsx';
import { ReachNote } from './reach-note.tsx';

export interface PointerNotesState {
  /** The curve that an edit here would change. */
  pathId: string | null;
  magnified: boolean;
  /** Whether the pointer is over the picture. */
  inside: boolean;
  /** In screen pixels of the viewer. */
  x: number;
  y: number;
}

const BRUSH_RING = { keep: 'border-keep', drop: 'border-drop border-dashed', soft: 'border-soft border-dashed', erase: 'border-ink border-dotted' } as const;
const NOTHING: PointerNotesState = { pathId: null, magnified: false, inside: false, x: 0, y: 0 };

/** A component of its own, told of every move by `handle`: the viewer itself does not render while the pointer moves. */
export function PointerNotes({
  handle,
  source,
  viewTransform,
  viewport,
}: {
  handle: RefObject<{ show(notes: Partial<PointerNotesState>): void } | null>;
  source: RefObject<HTMLCanvasElement | null>;
  viewTransform: ViewTransform;
  viewport: { width: number; height: number };
}) {
  const [{ pathId, magnified, inside, x, y }, set] = useState(NOTHING);
  const tool = useView((s) => s.tool);
  const brush = useView((s) => s.brush);
  useImperativeHandle(handle, () => ({ show: (notes) => set((before) => ({ ...before, ...notes })) }), []);
  return (
    <>
      {tool === 'brush' && inside && brush.kind !== 'loop' && (
        <span
          aria-hidden
          data-brush
          className={`pointer-events-none absolute rounded-full border-2 ${BRUSH_RING[brush.kind]}`}
          style={{
            left: x - brush.radius * viewTransform.scale,
            top: y - brush.radius * viewTransform.scale,
            width: 2 * brush.radius * viewTransform.scale,
            height: 2 * brush.radius * viewTransform.scale,
          }}
        />
      )}
      {magnified && <Magnifier source={source} at={{ x, y }} viewTransform={viewTransform} viewport={viewport} />}
      {pathId && <ReachNote pathId={pathId} x={Math.min(x, viewport.width - 260)} y={Math.min(y, viewport.height - 44)} />}
    </>
  );
}
