/** How an output is handed over: size, handles, names, and a note in the picture. */
import { type ReactNode, useId } from 'react';
import { BOUNDS, type Delivery, deliveredSize, NAME_WORDS, SHARES } from '~/core/document/delivery.ts';
import type { FormatDescription } from '~/server/outputs/format.ts';
import { ChoiceSetting, SwitchSetting } from '../settings/fields.tsx';
import { useWorkbench } from '../state/workbench-context.tsx';
import { TEXT_FIELD } from '../ui/controls.tsx';

const SIZE_WORDS = { full: 'Full', half: 'Half', quarter: 'A quarter' };

export function DeliveryFields({ format, delivery, onDelivery }: { format: FormatDescription; delivery: Delivery; onDelivery(delivery: Delivery): void }) {
  const { plate } = useWorkbench();
  const set = (some: Partial<Delivery>) => onDelivery({ ...delivery, ...some });
  const sizes = SHARES.map((size) => {
    const { width, height } = deliveredSize({ size }, plate);
    return { id: size as string, label: `${SIZE_WORDS[size]}, ${width}×${height}` };
  });
  const own = deliveredSize(delivery, plate);
  return (
    <>
      <ChoiceSetting
        label="Size"
        value={typeof delivery.size === 'number' ? 'own' : delivery.size}
        options={[...sizes, { id: 'own', label: 'Own width' }]}
        onChange={(id) => set({ size: SHARES.find((s) => s === id) ?? plate.width })}
      />
      {typeof delivery.size === 'number' && (
        <NumberRow label="Width" value={delivery.size} bounds={BOUNDS.width} onValue={(size) => set({ size: size ?? plate.width })}>
          {Number.isFinite(own.height) ? `× ${own.height} px` : ''}
        </NumberRow>
      )}
      <NumberRow label="Handles" value={delivery.handles} bounds={BOUNDS.handles} onValue={(handles) => set({ handles: handles ?? 0 })}>
        frames more at both ends
      </NumberRow>
      <NameRow name={delivery.name} pattern={format.pattern} onName={(name) => set({ name })} />
      {!format.single && (
        <>
          <NumberRow label="First number" value={delivery.start} bounds={BOUNDS.start} empty="plate’s" onValue={(start) => set({ start })}>
            of the pictures
          </NumberRow>
          <NumberRow label="Digits" value={delivery.digits} bounds={BOUNDS.digits} onValue={(digits) => set({ digits: digits ?? 4 })}>
            of the numbers
          </NumberRow>
        </>
      )}
      {format.takesNote && (
        <SwitchSetting label="Note" checked={delivery.note} onChange={(note) => set({ note })}>
          shot, time and frame, along the lower edge
        </SwitchSetting>
      )}
    </>
  );
}

function NumberRow({
  label,
  value,
  bounds,
  empty,
  onValue,
  children,
}: {
  label: string;
  value: number | null;
  bounds: { least: number; most: number };
  /** What is there where no number is. */
  empty?: string;
  onValue(value: number | null): void;
  children: ReactNode;
}) {
  const id = useId();
  return (
    <div className="flex items-center gap-2 px-3 py-1 text-sm">
      <label htmlFor={id} className="w-20 shrink-0 leading-tight">
        {label}
      </label>
      <input
        id={id}
        type="number"
        min={bounds.least}
        max={bounds.most}
        step={1}
        placeholder={empty}
        required={empty === undefined}
        className={`${TEXT_FIELD} !w-20 shrink-0 text-right font-mono text-xs`}
        value={value === null || Number.isNaN(value) ? '' : value}
        onChange={(e) => onValue(e.target.value === '' ? (empty === undefined ? Number.NaN : null) : e.target.valueAsNumber)}
      />
      <span className="text-quiet text-xs leading-tight">{children}</span>
    </div>
  );
}

function NameRow({ name, pattern, onName }: { name: string; pattern: string; onName(name: string): void }) {
  const id = useId();
  const about = useId();
  return (
    <div className="flex items-center gap-2 px-3 py-1 text-sm">
      <label htmlFor={id} className="w-20 shrink-0">
        File name
      </label>
      <input
        id={id}
        aria-describedby={about}
        className={`${TEXT_FIELD} min-w-0 flex-1 font-mono text-xs`}
        value={name}
        placeholder={pattern}
        spellCheck={false}
        maxLength={160}
        title={Object.entries(NAME_WORDS)
          .map(([word, what]) => `{${word}}: ${what}`)
          .join('\n')}
        onChange={(e) => onName(e.target.value)}
      />
      <span id={about} className="sr-only">
        Words in braces stand for something:{' '}
        {Object.entries(NAME_WORDS)
          .map(([word, what]) => `${word} for ${what}`)
          .join(', ')}
        .
      </span>
    </div>
  );
}
