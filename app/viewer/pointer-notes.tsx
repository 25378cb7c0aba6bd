/** What goes along with the pointer: what an edit there would change, and the magnifier. */
import { type RefObject, useImperativeHandle, useState } from 'react';
import { Magnifier } from './magnifier.tsx';
import type { Place } from './place.ts';
import { ReachNote } from './reach-note.tsx';

export interface PointerNotesState {
  /** The curve that an edit here would change. */
  pathId: string | null;
  magnified: boolean;
  /** In screen pixels of the viewer. */
  x: number;
  y: number;
}

const NOTHING: PointerNotesState = { pathId: null, magnified: false, x: 0, y: 0 };

/** A component of its own, told of every move by `handle`: the viewer itself does not render while the pointer moves. */
export function PointerNotes({
  handle,
  source,
  place,
  viewport,
}: {
  handle: RefObject<{ show(notes: Partial<PointerNotesState>): void } | null>;
  source: RefObject<HTMLCanvasElement | null>;
  place: Place;
  viewport: { width: number; height: number };
}) {
  const [{ pathId, magnified, x, y }, set] = useState(NOTHING);
  useImperativeHandle(handle, () => ({ show: (notes) => set((before) => ({ ...before, ...notes })) }), []);
  return (
    <>
      {magnified && <Magnifier source={source} at={{ x, y }} place={place} viewport={viewport} />}
      {pathId && <ReachNote pathId={pathId} x={Math.min(x, viewport.width - 260)} y={Math.min(y, viewport.height - 44)} />}
    </>
  );
}
