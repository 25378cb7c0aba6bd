/** What can be read off the finished picture, beside it: its values, its columns, its colours. */
import { X } from 'lucide-react';
import { useCallback, useEffect, useRef } from 'react';
import { FIELD, type Scopes, WAVE } from '~/core/compose/scopes.ts';
import type { Size } from '~/core/image/picture.ts';
import { useShot } from '../state/shot-context.tsx';
import { useLooked } from '../state/use-looked.ts';
import { useView, useWorkbench } from '../state/workbench-context.tsx';
import { barsArea, barsLine } from '../ui/bars-area.ts';
import { IconButton } from '../ui/controls.tsx';

/** Milliseconds that nothing changes before it is looked. */
const REST = 120;

function useScopes(): Scopes | null {
  const { pictures } = useWorkbench();
  const frame = useView((s) => s.readFrame);
  const document = useShot((s) => s.document);
  // The document counts, with the edit in progress.
  return useLooked(
    REST,
    useCallback(() => pictures?.render.scopes(frame), [pictures, frame, document]),
  );
}

export function ScopesCard() {
  const { view } = useWorkbench();
  const open = useView((s) => s.scopes && s.bench === 'compose');
  return open ? <Card onClose={() => view.getState().set({ scopes: false })} /> : null;
}

function Card({ onClose }: { onClose(): void }) {
  const scopes = useScopes();
  return (
    <section aria-label="Scopes" className="absolute top-2 right-2 z-10 w-56 rounded border border-line bg-panel/95 p-2 text-2xs text-quiet shadow-lg">
      <div className="flex items-center">
        <h2 className="flex-1 font-semibold text-ink text-xs">Scopes</h2>
        <IconButton label="Close the scopes" about="The picture stays as it is." className="!size-6" onClick={onClose}>
          <X />
        </IconButton>
      </div>
      {scopes ? (
        <>
          <Histogram {...scopes.histogram} />
          <p className="pt-2 pb-0.5">Columns: black at the foot, white on top</p>
          <Bytes label="Values of each column, from left to right" bytes={scopes.wave} size={WAVE} className="h-24 w-full" />
          <p className="pt-2 pb-0.5">Colours: grey in the middle, blue right, red up</p>
          <Bytes
            label="Colours: how far they are from grey"
            bytes={scopes.field}
            size={{ width: FIELD, height: FIELD }}
            className="mx-auto size-28 rounded-full"
            cross
          />
        </>
      ) : (
        <p className="py-6 text-center">Looking …</p>
      )}
    </section>
  );
}

function Histogram({ luma, red, green, blue }: Scopes['histogram']) {
  return (
    <>
      <p className="pt-1 pb-0.5">Values: dark to bright</p>
      <svg
        role="img"
        aria-label="How often values are there, from dark to bright"
        viewBox="0 0 100 100"
        preserveAspectRatio="none"
        className="h-16 w-full rounded bg-well"
      >
        <path d={barsArea(luma)} className="fill-edge" />
        {(
          [
            [red, '#e0705c'],
            [green, '#79b86a'],
            [blue, '#6f95e0'],
          ] as const
        ).map(([bars, colour]) => (
          <polyline key={colour} points={barsLine(bars)} fill="none" stroke={colour} strokeWidth={1.2} vectorEffect="non-scaling-stroke" />
        ))}
      </svg>
    </>
  );
}

/** Bytes as they are, drawn out; with a cross through the middle. */
function Bytes(props: { label: string; bytes: Uint8ClampedArray<ArrayBuffer>; size: Size; className: string; cross?: boolean }) {
  const { label, bytes, size, className, cross } = props;
  const canvas = useRef<HTMLCanvasElement>(null);
  useEffect(() => {
    const context = canvas.current?.getContext('2d');
    if (!context) return;
    context.putImageData(new ImageData(bytes, size.width, size.height), 0, 0);
    if (!cross) return;
    context.strokeStyle = '#555';
    context.beginPath();
    context.moveTo(size.width / 2, 0);
    context.lineTo(size.width / 2, size.height);
    context.moveTo(0, size.height / 2);
    context.lineTo(size.width, size.height / 2);
    context.stroke();
  });
  return <canvas ref={canvas} role="img" aria-label={label} width={size.width} height={size.height} className={`block bg-well ${className}`} />;
}
