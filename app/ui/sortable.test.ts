import { describe, expect, it } from 'vitest';
import { spoken } from './sortable.tsx';

describe('what is spoken of a drag in a list', () => {
  const rows = [
    { id: '5f1c', name: 'Courier' },
    { id: '9a02', name: 'Lantern' },
  ];
  const { onDragStart, onDragOver, onDragEnd, onDragCancel } = spoken(rows);
  const at = (active: string, over: string | null) =>
    ({ active: { id: active }, over: over === null ? null : { id: over } }) as Parameters<typeof onDragEnd>[0];

  it('goes by the names of the rows and their places, never by ids', () => {
    const all = [
      onDragStart(at('5f1c', null)),
      onDragOver(at('5f1c', '9a02')),
      onDragEnd(at('5f1c', '9a02')),
      onDragEnd(at('5f1c', null)),
      onDragCancel(at('9a02', null)),
    ];
    expect(all).toEqual([
      'Courier is picked up from place 1 of 2.',
      'Courier is over place 2 of 2.',
      'Courier was put down at place 2 of 2.',
      'Courier stays where it was.',
      'Lantern stays where it was.',
    ]);
  });
});
