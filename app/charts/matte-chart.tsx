/** The matte over time: its area and its chatter on every frame, measured small, with a click to go. */
import { useEffect, useState } from 'react';
import { CartesianGrid, Legend, Line, LineChart, ReferenceLine, ResponsiveContainer, Tooltip, XAxis, YAxis } from 'recharts';
import { useShot } from '../state/shot-context.tsx';
import { useCurrentSubjectId, useView, useWorkbench } from '../state/workbench-context.tsx';

interface Row {
  frame: number;
  area: number;
  chatter: number;
}

/** Wait after the last edit before measuring anew. */
const SETTLE = 600;

export function MatteChart() {
  const { plate, pictures, view } = useWorkbench();
  const frame = useView((s) => s.frame);
  const range = useView((s) => s.range);
  const settled = useShot((s) => s.history.settled);
  const subject = useCurrentSubjectId();
  const [rows, setRows] = useState<Row[]>([]);
  const [done, setDone] = useState(0);
  const first = range?.first ?? 0;
  const last = range?.last ?? plate.frames - 1;
  useEffect(() => {
    if (!pictures || !subject || !settled) return;
    let stopped = false;
    const timer = setTimeout(async () => {
      const found: Row[] = [];
      setDone(0);
      for (let f = first; f <= last && !stopped; f++) {
        const measured = await pictures.render.measure(subject, f).catch(() => null);
        if (stopped || !measured) return;
        found.push({ frame: f + plate.firstNumber, area: measured.area * 100, chatter: measured.chatter * (plate.width / measured.width) });
        if (f === last || f % 12 === 0) {
          setRows([...found]);
          setDone((f - first + 1) / (last - first + 1));
        }
      }
    }, SETTLE);
    return () => {
      stopped = true;
      clearTimeout(timer);
    };
  }, [pictures, subject, settled, first, last, plate]);
  const noisiest = rows.reduce<Row | null>((most, r) => (!most || r.chatter > most.chatter ? r : most), null);
  return (
    <section aria-label="Matte over time" className="flex h-52 shrink-0 flex-col border-line border-t bg-panel">
      <div className="flex h-7 items-center gap-3 px-3 text-xs">
        <h2 className="font-semibold">Matte over time</h2>
        <span className="text-quiet" aria-live="polite">
          {!subject ? 'There is no subject yet.' : done < 1 ? `Measuring: ${Math.round(done * 100)} %` : 'Click a frame to go there.'}
        </span>
        {noisiest && noisiest.chatter > 0.05 && (
          <button type="button" className="underline" onClick={() => view.getState().goTo(noisiest.frame - plate.firstNumber)}>
            Most chatter: frame {noisiest.frame}, {noisiest.chatter.toFixed(2)} px
          </button>
        )}
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
              domain={[first + plate.firstNumber, last + plate.firstNumber]}
            />
            <YAxis yAxisId="area" stroke="#d8d8d8" fontSize={10} width={44} tickFormatter={(v: number) => `${v.toFixed(1)} %`} />
            <YAxis yAxisId="chatter" orientation="right" stroke="#e0a458" fontSize={10} width={44} tickFormatter={(v: number) => `${v.toFixed(1)} px`} />
            <Tooltip
              isAnimationActive={false}
              contentStyle={{ background: '#161616', border: '1px solid #444', fontSize: 11 }}
              labelFormatter={(f) => `Frame ${f}`}
              formatter={(v, name) => [name === 'Area' ? `${Number(v).toFixed(2)} %` : `${Number(v).toFixed(2)} px`, name]}
            />
            <Legend wrapperStyle={{ fontSize: 11 }} verticalAlign="top" height={18} />
            <ReferenceLine yAxisId="area" x={frame + plate.firstNumber} stroke="#fff" />
            <Line yAxisId="area" name="Area" dataKey="area" stroke="#d8d8d8" dot={false} isAnimationActive={false} />
            <Line yAxisId="chatter" name="Chatter" dataKey="chatter" stroke="#e0a458" strokeDasharray="4 2" dot={false} isAnimationActive={false} />
          </LineChart>
        </ResponsiveContainer>
      </div>
    </section>
  );
}
