/** Settings that describe themselves: of effects and of elements. */
import type { Setting } from '../document/schema.ts';
import { POWER } from '../image/light.ts';
import type { Size } from '../image/picture.ts';
import { areStops } from '../image/stops.ts';
import { clamp } from '../math/clamp.ts';
import { isCurve } from '../math/curve.ts';
import { hasKeys, mixLists, mixNumbers, valueAt } from '../time/animated.ts';
import { integralOf } from '../time/integral.ts';

type Unit = '' | 'px' | '%' | 'stops' | '°' | 's' | '/s' | 'px/s' | '°/s' | 'fr';

/** What every setting says. */
interface Named {
  label: string;
  /** One line on what it does. */
  about: string;
  /** Settings of one group stand together, folded away until they are wanted. */
  group?: string;
}

interface NumberSetting extends Named {
  kind: 'number';
  unit: Unit;
  min: number;
  max: number;
  step: number;
  start: number;
  /** Where a slider begins and ends, which the range exceeds. */
  usual?: [number, number];
  /** Of one that tells frames of the shot: a frame, or how many. */
  frames?: 'place' | 'span';
}

/** Red, green, blue in [0,1], in the plate's transfer. */
interface ColourSetting extends Named {
  kind: 'colour';
  start: number[];
}

/** One of several words; it stands until the next key. */
interface ChoiceSetting extends Named {
  kind: 'choice';
  options: readonly { id: string; label: string }[];
  start: string;
}

/** A curve from [0,1] to [0,1] through points x0,y0,x1,y1,…; see core/math/curve.ts. */
interface CurveSetting extends Named {
  kind: 'curve';
  start: number[];
}

/** Colours with their alpha at places: place, red, green, blue, alpha, five numbers each in [0,1]; see core/image/stops.ts. */
interface StopsSetting extends Named {
  kind: 'stops';
  start: number[];
}

/** Settings that hold these values on all frames. */
export const constantsOf = (values: Record<string, SettingValue>): Record<string, Setting> =>
  Object.fromEntries(Object.entries(values).map(([key, constant]) => [key, { constant }]));

export type SettingDescription = NumberSetting | ColourSetting | ChoiceSetting | CurveSetting | StopsSetting;

/** A number, `[least, most, step]`, and what it starts from. @param usual where its slider begins and ends, which the range exceeds */
export const number = (
  label: string,
  about: string,
  unit: Unit,
  [min, max, step]: readonly [number, number, number],
  start: number,
  usual?: [number, number],
): NumberSetting => ({ kind: 'number', label, about, unit, min, max, step, start, ...(usual ? { usual } : {}) });

export const colour = (label: string, about: string, start: number[]): ColourSetting => ({ kind: 'colour', label, about, start });

/** A choice among ids with what they are called; the first is what it starts from. */
export const choice = <const O extends Record<string, string>>(label: string, about: string, options: O) => {
  const ids = Object.keys(options) as (keyof O & string)[];
  return { kind: 'choice', label, about, options: ids.map((id) => ({ id, label: options[id] as string })), start: ids[0] } as const satisfies ChoiceSetting;
};

/** A curve that changes nothing. */
export const curve = (label: string, about: string): CurveSetting => ({ kind: 'curve', label, about, start: [0, 0, 1, 1] });

export const stops = (label: string, about: string, start: number[]): StopsSetting => ({ kind: 'stops', label, about, start });

/** The same settings, in a group of that name. */
export const grouped = <D extends Descriptions>(group: string, settings: D): D =>
  Object.fromEntries(Object.entries(settings).map(([key, described]) => [key, { ...described, group }])) as D;

/** A direction in the picture; 90 is downwards. */
export const angle = (label: string, about: string, start = 0): NumberSetting => number(label, about, '°', [-36_000, 36_000, 1], start, [-180, 180]);

/** Another number gives another picture; the same gives the same. */
export const SEED = number('Seed', 'Another number gives another one; the same gives the same.', '', [0, 9999, 1], 1, [0, 99]);
export type Descriptions = Record<string, SettingDescription>;
export type SettingValue = number | number[] | string;
/** A value of each described setting: a number, a colour or a choice. */
export type Values = Record<string, SettingValue>;

/** The values of described settings with their types, so that the compiler knows a name that there is not. */
export type ValuesOf<D extends Descriptions> = {
  readonly [K in keyof D]: D[K] extends { kind: 'number' }
    ? number
    : D[K] extends { kind: 'colour' | 'curve' | 'stops' }
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
    case 'curve':
      return Array.isArray(value) && isCurve(value) ? value : described.start;
    case 'stops':
      return Array.isArray(value) && areStops(value) ? value : described.start;
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
