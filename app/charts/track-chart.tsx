/** The way of a track over time: where it is, turn, scale and quality, with a click to go. */
import { useMemo, useState } from 'react';
import { isSure, placesOf } from '~/core/document/follow.ts';
import type { Track } from '~/core/document/schema.ts';
import { turnAndScale, wholeAt } from '~/core/math/motion.ts';
import { useWorkbench } from '../state/workbench-context.tsx';
import { type ChartLine, FrameChart, type Scale } from './frame-chart.tsx';

const GROUPS = [
  {
    id: 'place',
    label: 'x and y',
    unit: 'px',
    lines: [
      { key: 'x', name: 'x', dash: undefined },
      { key: 'y', name: 'y', dash: '4 2' },
    ],
  },
  { id: 'turn', label: 'Turn', unit: '°', lines: [{ key: 'turn', name: 'Turn', dash: undefined }] },
  { id: 'scale', label: 'Scale', unit: '%', lines: [{ key: 'scale', name: 'Scale', dash: undefined }] },
] as const;
type Group = (typeof GROUPS)[number]['id'];

interface Row {
  frame: number;
  quality: number;
  x: number | null;
  y: number | null;
  turn: number | null;
  scale: number | null;
}

/** A row a frame; places that are not trusted leave a gap. */
function rowsOf(track: Track, firstNumber: number): Row[] {
  return placesOf(track).map(({ frame, value }) => {
    const sure = isSure(value);
    const [x, y, ...stretch] = wholeAt(value.at);
    const { turn, scale } = turnAndScale(stretch);
    return {
      frame: frame + firstNumber,
      quality: value.quality,
      x: sure ? x : null,
      y: sure ? y : null,
      turn: sure ? (turn * 180) / Math.PI : null,
      scale: sure ? scale * 100 : null,
    };
  });
}

/** The scales and lines of a group, with the quality at the right. */
function shapeOf({ unit, lines }: (typeof GROUPS)[number]): { scales: Scale[]; lines: ChartLine[] } {
  return {
    scales: [
      { id: 'value', colour: '#d8d8d8', width: 52, domain: ['auto', 'auto'], tick: (v) => `${Math.round(v * 10) / 10} ${unit}` },
      { id: 'quality', colour: '#e0a458', width: 34, domain: [0, 1] },
    ],
    lines: [
      ...lines.map((l): ChartLine => ({ scale: 'value', name: l.name, value: l.key, dash: l.dash, format: (v) => `${v.toFixed(2)} ${unit}` })),
      { scale: 'quality', name: 'Quality', value: 'quality', dash: '2 2', format: (v) => v.toFixed(2) },
    ],
  };
}

export function TrackChart({ track }: { track: Track }) {
  const { plate } = useWorkbench();
  const [group, setGroup] = useState<Group>('place');
  const rows = useMemo(() => rowsOf(track, plate.firstNumber), [track, plate.firstNumber]);
  const { scales, lines } = useMemo(() => shapeOf(GROUPS.find((g) => g.id === group) ?? GROUPS[0]), [group]);
  return (
    <section aria-label="Track over time" className="flex h-52 shrink-0 flex-col border-line border-t bg-panel">
      <div className="flex h-8 items-center gap-3 px-3 text-xs">
        <h2 className="truncate font-semibold">{track.name} over time</h2>
        <select
          aria-label="What the chart shows"
          className="h-6 rounded border border-line bg-well px-1"
          value={group}
          onChange={(e) => setGroup(e.target.value as Group)}
        >
          {GROUPS.map((g) => (
            <option key={g.id} value={g.id}>
              {g.label}
            </option>
          ))}
        </select>
        <span className="truncate text-quiet">{rows.length < 2 ? 'Not tracked yet.' : 'Click a frame to go there.'}</span>
      </div>
      <FrameChart rows={rows} first={0} last={plate.frames - 1} scales={scales} lines={lines} />
    </section>
  );
}
