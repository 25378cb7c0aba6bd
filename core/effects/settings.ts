/** Settings that describe themselves: of effects and of elements. */
import type { Setting } from '../document/schema.ts';
import { POWER } from '../image/light.ts';
import type { Size } from '../image/picture.ts';
import { clamp } from '../math/clamp.ts';
import { hasKeys, mixLists, mixNumbers, valueAt } from '../time/animated.ts';
import { integralOf } from '../time/integral.ts';

interface NumberSetting {
  kind: 'number';
  label: string;
  /** One line on what it does. */
  about: string;
  unit: '' | 'px' | '%' | 'stops' | '°' | 's' | '/s' | 'px/s' | 'fr';
  min: number;
  max: number;
  step: number;
  start: number;
  /** Where a slider begins and ends, which the range exceeds. */
  usual?: [number, number];
}

/** Red, green, blue in [0,1], in the plate's transfer. */
interface ColourSetting {
  kind: 'colour';
  label: string;
  about: string;
  start: number[];
}

/** One of several words; it stands until the next key. */
interface ChoiceSetting {
  kind: 'choice';
  label: string;
  about: string;
  options: readonly { id: string; label: string }[];
  start: string;
}

export type SettingDescription = NumberSetting | ColourSetting | ChoiceSetting;
export type Descriptions = Record<string, SettingDescription>;
type SettingValue = number | number[] | string;
/** A value of each described setting: a number, a colour or a choice. */
export type Values = Record<string, SettingValue>;

/** The values of described settings with their types, so that the compiler knows a name that there is not. */
export type ValuesOf<D extends Descriptions> = {
  readonly [K in keyof D]: D[K] extends { kind: 'number' }
    ? number
    : D[K] extends { kind: 'colour' }
      ? readonly number[]
      : D[K] extends { kind: 'choice'; options: readonly { id: infer I }[] }
        ? I
        : never;
};

/** Where something with a place has it, plate pixels. */
export const POINT = {
  x: { kind: 'number', label: 'X', about: 'Where it stands, from the left side of the plate.', unit: 'px', min: -20_000, max: 20_000, step: 0.5, start: 0 },
  y: { kind: 'number', label: 'Y', about: 'Where it stands, from the top of the plate.', unit: 'px', min: -20_000, max: 20_000, step: 0.5, start: 0 },
} as const satisfies Descriptions;

/** The point in the middle of a plate, where everything begins. */
export const middleOf = ({ width, height }: Size): Record<string, Setting> => ({ x: { constant: width / 2 }, y: { constant: height / 2 } });

/** The factor that a change in stops is on plate values, which are a power of the light. */
export const gainOf = (stops: number): number => 2 ** (stops / POWER);

const mix = (a: SettingValue, b: SettingValue, share: number): SettingValue => {
  if (typeof a === 'number' && typeof b === 'number') return mixNumbers(a, b, share);
  return Array.isArray(a) && Array.isArray(b) ? mixLists(a, b, share) : a;
};

function fitting(described: SettingDescription, value: SettingValue): SettingValue {
  switch (described.kind) {
    case 'number':
      return typeof value === 'number' ? clamp(value, described.min, described.max) : described.start;
    case 'colour':
      return Array.isArray(value) && value.length === described.start.length ? value : described.start;
    case 'choice':
      return described.options.some((o) => o.id === value) ? value : described.start;
  }
}

/** Values of all described settings at a time, within their ranges; those that are not there are as they start. */
export function valuesAt<D extends Descriptions>(described: D, own: Record<string, Setting>, time: number): ValuesOf<D> {
  const values: Values = {};
  for (const [key, description] of Object.entries(described)) {
    const setting = own[key];
    values[key] = setting ? fitting(description, valueAt<SettingValue>(setting, time, mix)) : description.start;
  }
  return values as ValuesOf<D>;
}

/** The sum over frames of a described number, or of what `of` makes of it; kept with the record of its keys. */
export function sumOf(described: NumberSetting, setting: Setting | undefined, of: (value: number) => number = same): (from: number, to: number) => number {
  if (!setting || !hasKeys(setting)) {
    const value = of(setting ? (fitting(described, valueAt<SettingValue>(setting, 0, mix)) as number) : described.start);
    return (from, to) => value * (to - from);
  }
  const kept = summed.get(setting);
  if (kept?.of === of) return kept.sum;
  const sum = integralOf((time) => of(fitting(described, valueAt<SettingValue>(setting, time, mix)) as number));
  summed.set(setting, { of, sum });
  return sum;
}
const same = (value: number): number => value;
const summed = new WeakMap<Setting, { of: (value: number) => number; sum: (from: number, to: number) => number }>();

/** All settings as they start. */
export const startsOf = (described: Descriptions): Record<string, Setting> =>
  Object.fromEntries(Object.entries(described).map(([key, s]) => [key, { constant: s.start }]));
