/** Fields for settings: numbers and colours over time, choices and switches. */
import { Select, Slider, Switch } from 'radix-ui';
import { type ReactNode, useId, useRef, useState } from 'react';
import type { Edit } from '~/core/document/edits.ts';
import { clamp } from '~/core/math/clamp.ts';
import { type Animated, hasKeys } from '~/core/time/animated.ts';
import { CHOICES, LISTS, NUMBERS, type ValueKind } from '~/core/time/reach.ts';
import { keyHereEdit, valueEdit } from '../edits/path-edits.ts';
import { useShot, useShotStore } from '../state/shot-context.tsx';
import { useReachContext, useView } from '../state/workbench-context.tsx';
import { MENU, MENU_ITEM, TEXT_FIELD } from '../ui/controls.tsx';

/** Edits that give an animated setting a value at a frame: a constant stays one, a keyed one follows Reach. */
export function useAnimated<T>(record: string, setting: string, value: Animated<T>, label: string, kind: ValueKind<T>) {
  const store = useShotStore();
  const reach = useShot((s) => s.reach);
  const frame = useView((s) => s.readFrame);
  const context = useReachContext();
  const now = kind.at(value, frame);
  const edits = (next: T): Edit[] => [valueEdit(record, setting, value, { frame, value: next, reach, context }, kind)];
  const onKey = hasKeys(value) && value.keys.some((k) => k.frame === frame);
  return {
    now,
    keyed: hasKeys(value),
    onKey,
    preview: (next: T) => store.getState().setDraft(edits(next)),
    commit: (next: T) => store.getState().commit(`Set ${label.toLowerCase()}`, edits(next)),
    toggleKey: () => {
      if (onKey) store.getState().commit(`Take key of ${label.toLowerCase()} away`, [{ kind: 'keys', id: record, setting, set: [], clear: [frame] }]);
      else store.getState().commit(`Key ${label.toLowerCase()}`, [keyHereEdit(record, setting, value, frame, now)]);
    },
  };
}

export function KeyButton({ label, keyed, onKey, onToggle }: { label: string; keyed: boolean; onKey: boolean; onToggle(): void }) {
  const words = onKey
    ? `Take the key of ${label} on this frame away`
    : keyed
      ? `Key ${label} on this frame`
      : `Let ${label} change over time: key it on this frame`;
  return (
    <button
      type="button"
      aria-label={words}
      aria-pressed={onKey}
      title={words}
      onClick={onToggle}
      className="flex size-6 shrink-0 items-center justify-center rounded hover:bg-raised"
    >
      {/* The same bar as in the Sheet: filled on a key, hollow between keys, faint where nothing is keyed. */}
      <span className={`h-2 w-4 rounded-sm border ${onKey ? 'border-ink bg-ink' : keyed ? 'border-ink' : 'border-edge border-dashed'}`} />
    </button>
  );
}

function ValueSlider(props: {
  label: string;
  min: number;
  max: number;
  step: number;
  value: number;
  onPreview(value: number): void;
  onCommit(value: number): void;
}) {
  const { label, min, max, step, value, onPreview, onCommit } = props;
  return (
    <Slider.Root
      className="relative flex h-5 min-w-0 flex-1 touch-none items-center"
      min={min}
      max={max}
      step={step}
      value={[value]}
      onValueChange={([v]) => onPreview(v)}
      onValueCommit={([v]) => onCommit(v)}
      aria-label={`${label} slider`}
    >
      <Slider.Track className="h-1 flex-1 rounded bg-line">
        <Slider.Range className="absolute h-1 rounded bg-quiet" />
      </Slider.Track>
      <Slider.Thumb aria-label={label} className="block size-3.5 rounded-full bg-ink" />
    </Slider.Root>
  );
}

/** A row of the settings, with one line on it that shows on hover and is read out with its field. */
function Row({ about, aboutId, children }: { about: string | undefined; aboutId: string; children: ReactNode }) {
  return (
    <div className="flex items-center gap-2 px-3 py-1" title={about}>
      {children}
      {about && (
        <span id={aboutId} className="sr-only">
          {about}
        </span>
      )}
    </div>
  );
}

/** A number to be typed, with its unit. */
function TypedNumber({
  id,
  setting,
  about,
  unit,
  step,
  value,
  onTyped,
}: {
  id: string;
  /** Id of the line on it. */
  about?: string;
  /** Its name in the document. */
  setting?: string;
  unit: string;
  step: number;
  value: number;
  onTyped(value: number): void;
}) {
  const [text, setText] = useState<string | null>(null);
  const digits = step < 1 ? Math.ceil(-Math.log10(step)) : 0;
  const take = () => {
    if (text === null) return;
    const typed = Number(text.replace(',', '.'));
    setText(null);
    if (text.trim() !== '' && Number.isFinite(typed)) onTyped(typed);
  };
  return (
    <span className="relative w-20 shrink-0">
      <input
        id={id}
        data-setting={setting}
        aria-describedby={about}
        className={`${TEXT_FIELD} ${unit.length > 3 ? 'pr-10' : 'pr-8'} text-right font-mono text-xs`}
        inputMode="decimal"
        value={text ?? value.toFixed(digits)}
        data-taken={text === null ? '' : undefined}
        onChange={(e) => setText(e.target.value)}
        onFocus={(e) => e.target.select()}
        onBlur={take}
        onKeyDown={(e) => {
          if (e.key === 'Enter') take();
          if (e.key === 'Escape') setText(null);
        }}
      />
      <span className="pointer-events-none absolute inset-y-0 right-1.5 flex items-center text-2xs text-quiet">{unit}</span>
    </span>
  );
}

/** A share of 0 to 1, shown as per cent. */
export const ShareSetting = (of: { record: string; setting: string; value: Animated<number>; label: string; about: string }) => (
  <NumberSetting {...of} unit="%" min={0} max={100} step={1} factor={100} />
);

export function NumberSetting({
  record,
  setting,
  value,
  label,
  unit,
  min,
  max,
  step,
  factor = 1,
  soft = [min, max],
  about,
}: {
  record: string;
  setting: string;
  value: Animated<number>;
  label: string;
  unit: string;
  min: number;
  max: number;
  step: number;
  /** Shown value for one of the stored. */
  factor?: number;
  /** Where the slider begins and ends; the field takes all from `min` to `max`. */
  soft?: [number, number];
  /** One line on what it does. */
  about?: string;
}) {
  const field = useAnimated(record, setting, value, label, NUMBERS);
  const id = useId();
  const aboutId = useId();
  const shown = field.now * factor;
  const stored = (v: number) => clamp(v, min, max) / factor;
  return (
    <Row about={about} aboutId={aboutId}>
      <label htmlFor={id} className="w-20 shrink-0 text-sm leading-tight">
        {label}
      </label>
      <ValueSlider
        label={label}
        min={soft[0]}
        max={soft[1]}
        step={step}
        value={Math.max(soft[0], Math.min(soft[1], shown))}
        onPreview={(v) => field.preview(v / factor)}
        onCommit={(v) => field.commit(v / factor)}
      />
      <TypedNumber
        id={id}
        setting={setting}
        about={about && aboutId}
        unit={unit}
        step={step}
        value={shown}
        onTyped={(v) => stored(v) !== field.now && field.commit(stored(v))}
      />
      <KeyButton label={label.toLowerCase()} keyed={field.keyed} onKey={field.onKey} onToggle={field.toggleKey} />
    </Row>
  );
}

export const toHex = (c: number[]) =>
  `#${c
    .map((v) =>
      Math.round(clamp(v, 0, 1) * 255)
        .toString(16)
        .padStart(2, '0'),
    )
    .join('')}`;
export const fromHex = (hex: string) => [1, 3, 5].map((i) => Number.parseInt(hex.slice(i, i + 2), 16) / 255);

export function ColourSetting({
  record,
  setting,
  value,
  label,
  about,
}: {
  record: string;
  setting: string;
  value: Animated<number[]>;
  label: string;
  about?: string;
}) {
  const field = useAnimated(record, setting, value, label, LISTS);
  const id = useId();
  const aboutId = useId();
  const latest = useRef<string | null>(null);
  return (
    <Row about={about} aboutId={aboutId}>
      <label htmlFor={id} className="w-20 shrink-0 text-sm">
        {label}
      </label>
      <input
        id={id}
        aria-describedby={about && aboutId}
        type="color"
        value={toHex(field.now)}
        className="h-7 min-w-0 flex-1 rounded border border-line bg-well"
        onChange={(e) => {
          latest.current = e.target.value;
          field.preview(fromHex(e.target.value));
        }}
        onBlur={() => {
          if (latest.current) field.commit(fromHex(latest.current));
          latest.current = null;
        }}
      />
      <span className="w-20 shrink-0 text-right font-mono text-xs">{toHex(field.now)}</span>
      <KeyButton label={label.toLowerCase()} keyed={field.keyed} onKey={field.onKey} onToggle={field.toggleKey} />
    </Row>
  );
}

export function ChoiceSetting<T extends string>({
  label,
  value,
  options,
  onChange,
  about,
  children,
}: {
  label: string;
  about?: string;
  value: T;
  options: readonly { id: T; label: string }[];
  onChange(value: T): void;
  children?: ReactNode;
}) {
  const id = useId();
  const aboutId = useId();
  return (
    <Row about={about} aboutId={aboutId}>
      <span id={id} className="w-20 shrink-0 text-sm leading-tight">
        {label}
      </span>
      <Select.Root value={value} onValueChange={(v) => onChange(v as T)}>
        <Select.Trigger
          aria-labelledby={id}
          aria-describedby={about && aboutId}
          title={options.find((o) => o.id === value)?.label}
          className={`${TEXT_FIELD} flex min-w-0 items-center justify-between gap-1`}
        >
          <span className="truncate">
            <Select.Value />
          </span>
          <Select.Icon className="shrink-0 text-quiet text-xs">▾</Select.Icon>
        </Select.Trigger>
        <Select.Portal>
          <Select.Content position="popper" className={MENU}>
            <Select.Viewport>
              {options.map((o) => (
                <Select.Item key={o.id} value={o.id} className={MENU_ITEM}>
                  <Select.ItemText>{o.label}</Select.ItemText>
                </Select.Item>
              ))}
            </Select.Viewport>
          </Select.Content>
        </Select.Portal>
      </Select.Root>
      {children}
    </Row>
  );
}

/** A choice that can change from frame to frame; each stands until the next key. */
export function KeyedChoice<T extends string>(props: {
  record: string;
  setting: string;
  value: Animated<T>;
  label: string;
  options: readonly { id: T; label: string }[];
  about?: string;
}) {
  const { record, setting, value, label, options, about } = props;
  const field = useAnimated(record, setting, value, label, CHOICES as unknown as ValueKind<T>);
  return (
    <ChoiceSetting label={label} about={about} value={field.now} options={options} onChange={field.commit}>
      <KeyButton label={label.toLowerCase()} keyed={field.keyed} onKey={field.onKey} onToggle={field.toggleKey} />
    </ChoiceSetting>
  );
}

export function SwitchSetting({
  label,
  checked,
  onChange,
  about,
  children,
}: {
  label: string;
  about?: string;
  checked: boolean;
  onChange(checked: boolean): void;
  children?: ReactNode;
}) {
  const id = useId();
  const aboutId = useId();
  return (
    <Row about={about} aboutId={aboutId}>
      <label htmlFor={id} className="w-20 shrink-0 text-sm leading-tight">
        {label}
      </label>
      <Switch.Root
        id={id}
        aria-describedby={about && aboutId}
        checked={checked}
        onCheckedChange={onChange}
        className="h-4.5 w-8 shrink-0 rounded-full border border-edge bg-well px-0.5 data-[state=checked]:bg-ink"
      >
        <Switch.Thumb className="block size-3 rounded-full bg-quiet transition-transform data-[state=checked]:translate-x-3.5 data-[state=checked]:bg-well" />
      </Switch.Root>
      {children && <span className="text-quiet text-xs">{children}</span>}
    </Row>
  );
}

/** A small field that takes a number on Enter or when it is left. */
export function CoordinateField({ label, value, onValue, digits = 2 }: { label: string; value: number; onValue(value: number): void; digits?: number }) {
  const [text, setText] = useState<string | null>(null);
  const take = () => {
    const typed = Number(text?.replace(',', '.'));
    setText(null);
    if (text?.trim() && Number.isFinite(typed) && typed !== value) onValue(typed);
  };
  return (
    <label className="flex min-w-0 flex-1 items-center gap-1">
      <span className="shrink-0 text-quiet">{label}</span>
      <input
        className={`${TEXT_FIELD} text-right font-mono text-xs`}
        inputMode="decimal"
        value={text ?? value.toFixed(digits)}
        data-taken={text === null ? '' : undefined}
        onChange={(e) => setText(e.target.value)}
        onFocus={(e) => e.target.select()}
        onBlur={take}
        onKeyDown={(e) => e.key === 'Enter' && take()}
      />
    </label>
  );
}

/** A number that does not change over time, with a slider. */
export function PlainNumber({
  label,
  unit,
  value,
  min,
  max,
  step,
  slider = max,
  about,
  onValue,
}: {
  label: string;
  unit: string;
  value: number;
  min: number;
  max: number;
  step: number;
  /** Where the slider ends; the field takes all up to `max`. */
  slider?: number;
  about: string;
  onValue(value: number): void;
}) {
  const [dragged, setDragged] = useState<number | null>(null);
  const id = useId();
  const aboutId = useId();
  const set = (v: number) => {
    setDragged(null);
    const within = clamp(v, min, max);
    if (within !== value) onValue(within);
  };
  return (
    <Row about={about} aboutId={aboutId}>
      <label htmlFor={id} className="w-20 shrink-0 text-sm leading-tight">
        {label}
      </label>
      <ValueSlider label={label} min={min} max={slider} step={step} value={Math.min(slider, dragged ?? value)} onPreview={setDragged} onCommit={set} />
      <TypedNumber id={id} about={aboutId} unit={unit} step={step} value={dragged ?? value} onTyped={set} />
    </Row>
  );
}
