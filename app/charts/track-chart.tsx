/** The way of a track over time: where it is, turn, scale and quality, with a click to go. */
import { useMemo, useState } from 'react';
import { CartesianGrid, Legend, Line, LineChart, ReferenceLine, ResponsiveContainer, Tooltip, XAxis, YAxis } from 'recharts';
import { isSure, placesOf } from '~/core/document/follow.ts';
import type { Track } from '~/core/document/schema.ts';
import { turnAndScale, wholeAt } from '~/core/math/motion.ts';
import { useView, useWorkbench } from '../state/workbench-context.tsx';

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

export function TrackChart({ track }: { track: Track }) {
  const { plate, view } = useWorkbench();
  const frame = useView((s) => s.frame);
  const [group, setGroup] = useState<Group>('place');
  const rows = useMemo(() => rowsOf(track, plate.firstNumber), [track, plate.firstNumber]);
  const shown = GROUPS.find((g) => g.id === group) ?? GROUPS[0];
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
      <div className="min-h-0 flex-1">
        <ResponsiveContainer width="100%" height="100%">
          <LineChart
            data={rows}
            margin={{ left: 4, right: 8, top: 4, bottom: 0 }}
            accessibilityLayer
            onClick={(state) => {
              const label = Number(state?.activeLabel);
              if (Number.isFinite(label)) view.getState().goTo(label - plate.firstNumber);
            }}
          >
            <CartesianGrid stroke="#333" vertical={false} />
            <XAxis
              dataKey="frame"
              stroke="#b4b4b4"
              fontSize={10}
              tickLine={false}
              type="number"
              domain={[plate.firstNumber, plate.firstNumber + plate.frames - 1]}
            />
            <YAxis
              yAxisId="value"
              stroke="#d8d8d8"
              fontSize={10}
              width={52}
              domain={['auto', 'auto']}
              tickFormatter={(v: number) => `${Math.round(v * 10) / 10} ${shown.unit}`}
            />
            <YAxis yAxisId="quality" orientation="right" stroke="#e0a458" fontSize={10} width={34} domain={[0, 1]} />
            <Tooltip
              isAnimationActive={false}
              contentStyle={{ background: '#161616', border: '1px solid #444', fontSize: 11 }}
              labelFormatter={(f) => `Frame ${f}`}
              formatter={(v, name) => [name === 'Quality' ? Number(v).toFixed(2) : `${Number(v).toFixed(2)} ${shown.unit}`, name]}
            />
            <Legend wrapperStyle={{ fontSize: 11 }} verticalAlign="top" height={18} />
            <ReferenceLine yAxisId="value" x={frame + plate.firstNumber} stroke="#fff" />
            {shown.lines.map((l) => (
              <Line key={l.key} yAxisId="value" name={l.name} dataKey={l.key} stroke="#d8d8d8" strokeDasharray={l.dash} dot={false} isAnimationActive={false} />
            ))}
            <Line yAxisId="quality" name="Quality" dataKey="quality" stroke="#e0a458" strokeDasharray="2 2" dot={false} isAnimationActive={false} />
          </LineChart>
        </ResponsiveContainer>
      </div>
    </section>
  );
}
