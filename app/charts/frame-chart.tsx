/** A chart of values over the frames of the shot, with a line at this frame and a click to go. */
import { type ReactElement, useMemo } from 'react';
import { CartesianGrid, Legend, Line, LineChart, ReferenceLine, ResponsiveContainer, Tooltip, XAxis, YAxis } from 'recharts';
import { useView, useWorkbench } from '../state/workbench-context.tsx';

/** A scale at the left or the right, in the colour of its lines. */
export interface Scale {
  id: string;
  colour: string;
  width: number;
  domain?: [number | 'auto', number | 'auto'];
  tick?(value: number): string;
}

export interface ChartLine {
  scale: string;
  name: string;
  /** Of the rows; where it is null the line has a gap. */
  value: string;
  dash?: string;
  format(value: number): string;
}

export function FrameChart({
  rows,
  first,
  last,
  scales,
  lines,
}: {
  /** `frame` as it is shown. */
  rows: readonly { frame: number }[];
  first: number;
  last: number;
  scales: readonly Scale[];
  lines: readonly ChartLine[];
}): ReactElement {
  const { plate, view } = useWorkbench();
  const frame = useView((s) => s.readFrame);
  const formats = useMemo(() => new Map(lines.map((l) => [l.name, l.format])), [lines]);
  const data = useMemo(() => [...rows], [rows]);
  return (
    <div className="min-h-0 flex-1">
      <ResponsiveContainer width="100%" height="100%">
        <LineChart
          data={data}
          margin={{ left: 4, right: 8, top: 4, bottom: 0 }}
          accessibilityLayer
          onClick={(state) => {
            const label = Number(state?.activeLabel);
            if (Number.isFinite(label)) view.getState().goTo(label - plate.firstNumber);
          }}
        >
          <CartesianGrid stroke="#333" vertical={false} />
          <XAxis dataKey="frame" stroke="#b4b4b4" fontSize={10} tickLine={false} type="number" domain={[first + plate.firstNumber, last + plate.firstNumber]} />
          {scales.map((s, i) => (
            <YAxis
              key={s.id}
              yAxisId={s.id}
              orientation={i === 0 ? 'left' : 'right'}
              stroke={s.colour}
              fontSize={10}
              width={s.width}
              domain={s.domain}
              tickFormatter={s.tick}
            />
          ))}
          <Tooltip
            isAnimationActive={false}
            contentStyle={{ background: '#161616', border: '1px solid #444', fontSize: 11 }}
            labelFormatter={(f) => `Frame ${f}`}
            formatter={(v, name) => [formats.get(String(name))?.(Number(v)) ?? String(v), name]}
          />
          <Legend wrapperStyle={{ fontSize: 11 }} verticalAlign="top" height={18} />
          <ReferenceLine yAxisId={scales[0].id} x={frame + plate.firstNumber} stroke="#fff" />
          {lines.map((l) => (
            <Line
              key={l.value}
              yAxisId={l.scale}
              name={l.name}
              dataKey={l.value}
              stroke={scales.find((s) => s.id === l.scale)?.colour}
              strokeDasharray={l.dash}
              dot={false}
              isAnimationActive={false}
            />
          ))}
        </LineChart>
      </ResponsiveContainer>
    </div>
  );
}
