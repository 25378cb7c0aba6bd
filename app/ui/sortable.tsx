/** Lists whose rows are dragged into another order, by pointer or keyboard. */
import {
  type Announcements,
  closestCenter,
  DndContext,
  type DragEndEvent,
  KeyboardSensor,
  PointerSensor,
  type UniqueIdentifier,
  useSensor,
  useSensors,
} from '@dnd-kit/core';
import { SortableContext, sortableKeyboardCoordinates, useSortable, verticalListSortingStrategy } from '@dnd-kit/sortable';
import { CSS } from '@dnd-kit/utilities';
import { GripVertical } from 'lucide-react';
import type { CSSProperties, ReactNode } from 'react';

export interface SortableRow {
  id: string;
  name: string;
}

/** What a screen reader hears of a drag, by the names of the rows. */
export function spoken(rows: readonly SortableRow[]): Announcements {
  const name = (id: UniqueIdentifier) => rows.find((r) => r.id === id)?.name ?? 'It';
  const place = (id: UniqueIdentifier) => `place ${rows.findIndex((r) => r.id === id) + 1} of ${rows.length}`;
  return {
    onDragStart: ({ active }) => `${name(active.id)} is picked up from ${place(active.id)}.`,
    onDragOver: ({ active, over }) => (over ? `${name(active.id)} is over ${place(over.id)}.` : undefined),
    onDragEnd: ({ active, over }) => (over ? `${name(active.id)} was put down at ${place(over.id)}.` : `${name(active.id)} stays where it was.`),
    onDragCancel: ({ active }) => `${name(active.id)} stays where it was.`,
  };
}

/** `onMove` hears which row goes to which place. */
export function SortableList({ rows, onMove, children }: { rows: SortableRow[]; onMove(id: string, index: number): void; children: ReactNode }) {
  const ids = rows.map((r) => r.id);
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 4 } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }),
  );
  const onDragEnd = ({ active, over }: DragEndEvent) => {
    const index = ids.indexOf(String(over?.id ?? ''));
    if (index >= 0 && active.id !== over?.id) onMove(String(active.id), index);
  };
  return (
    <DndContext accessibility={{ announcements: spoken(rows) }} sensors={sensors} collisionDetection={closestCenter} onDragEnd={onDragEnd}>
      <SortableContext items={ids} strategy={verticalListSortingStrategy}>
        {children}
      </SortableContext>
    </DndContext>
  );
}

/** What a row needs: where to hold it, and how it is shown on its way. */
export function useSortableRow(id: string): { rowRef(node: HTMLElement | null): void; style: CSSProperties; grip: (label: string) => ReactNode } {
  const { attributes, listeners, setNodeRef, setActivatorNodeRef, transform, transition, isDragging } = useSortable({ id });
  const { 'aria-describedby': describedBy, ...rest } = attributes;
  return {
    rowRef: setNodeRef,
    style: { transform: CSS.Translate.toString(transform), transition, zIndex: isDragging ? 10 : undefined, position: 'relative' },
    grip: (label) => (
      <button
        ref={setActivatorNodeRef}
        type="button"
        {...rest}
        {...listeners}
        aria-describedby={describedBy}
        aria-label={label}
        title={`${label}: drag, or press Space and the arrow keys`}
        className="flex size-5 shrink-0 cursor-grab touch-none items-center justify-center rounded text-quiet opacity-0 hover:text-ink focus-visible:opacity-100 group-hover:opacity-100"
      >
        <GripVertical className="size-3.5" aria-hidden />
      </button>
    ),
  };
}
