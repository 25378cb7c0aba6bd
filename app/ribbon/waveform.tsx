/** How loud the plate is over time, under the Ribbon. */
import { useEffect, useState } from 'react';
import { useWorkbench } from '../state/workbench-context.tsx';

/** Columns of the drawing at most. */
const COLUMNS = 1200;

/** The outline of a waveform in a box of as many columns as it has and a height of 2, its middle at 1. */
function outlineOf(loudest: Uint8Array): { columns: number; line: string } {
  const columns = Math.min(COLUMNS, loudest.length);
  const heights = Array.from({ length: columns }, (_, c) => {
    const part = loudest.subarray(Math.floor((c * loudest.length) / columns), Math.max(1, Math.ceil(((c + 1) * loudest.length) / columns)));
    return Math.max(0.02, part.reduce((a, b) => Math.max(a, b), 0) / 255);
  });
  const above = heights.map((h, c) => `${c},${(1 - h).toFixed(3)} ${c + 1},${(1 - h).toFixed(3)}`);
  const below = heights.map((h, c) => `${c + 1},${(1 + h).toFixed(3)} ${c},${(1 + h).toFixed(3)}`).reverse();
  return { columns, line: [...above, ...below].join(' ') };
}

export function Waveform() {
  const { plate } = useWorkbench();
  const [drawn, setDrawn] = useState<ReturnType<typeof outlineOf> | 'none' | null>(null);
  useEffect(() => {
    const stop = new AbortController();
    fetch(`/plates/${plate.id}/waveform`, { signal: stop.signal })
      .then(async (answer) => setDrawn(answer.ok ? outlineOf(new Uint8Array(await answer.arrayBuffer())) : 'none'))
      .catch(() => stop.signal.aborted || setDrawn('none'));
    return () => stop.abort();
  }, [plate.id]);
  if (drawn === 'none') return <p className="h-6 text-2xs text-quiet">The sound of this footage could not be read.</p>;
  return (
    <svg
      role="img"
      aria-label="Waveform of the sound"
      data-waveform={drawn ? drawn.columns : undefined}
      viewBox={`0 0 ${drawn?.columns ?? 1} 2`}
      preserveAspectRatio="none"
      className="block h-6 w-full rounded-b bg-well text-quiet"
    >
      {drawn && <polygon points={drawn.line} fill="currentColor" />}
    </svg>
  );
}
