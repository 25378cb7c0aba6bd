/** The matte over time: its area and its chatter on every frame, measured small, with a click to go. */
import { useEffect, useState } from 'react';
import { useShot } from '../state/shot-context.tsx';
import { useCurrentSubjectId, useView, useWorkbench } from '../state/workbench-context.tsx';
import { type ChartLine, FrameChart, type Scale } from './frame-chart.tsx';

interface Row {
  frame: number;
  area: number;
  chatter: number;
}

const SCALES: Scale[] = [
  { id: 'area', colour: '#d8d8d8', width: 44, tick: (v) => `${v.toFixed(1)} %` },
  { id: 'chatter', colour: '#e0a458', width: 44, tick: (v) => `${v.toFixed(1)} px` },
];
const LINES: ChartLine[] = [
  { scale: 'area', name: 'Area', value: 'area', format: (v) => `${v.toFixed(2)} %` },
  { scale: 'chatter', name: 'Chatter', value: 'chatter', dash: '4 2', format: (v) => `${v.toFixed(2)} px` },
];

/** Wait after the last edit before measuring anew. */
const SETTLE = 600;

export function MatteChart() {
  const { plate, pictures, view } = useWorkbench();
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
      <FrameChart rows={rows} first={first} last={last} scales={SCALES} lines={LINES} />
    </section>
  );
}
