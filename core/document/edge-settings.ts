/**
 * The settings of an edge, step by step in the order of its chain: each described once. The schema of documents, what edits may set, the panel,
 * the Sheet and "before and after" follow from it; core/matte says what they do. A new one is a line here, and where it takes effect.
 */
import { z } from 'zod';
import { type Animated, animatedSchema } from '../time/animated.ts';

interface Told {
  /** In the panel. */
  label: string;
  /** One line on what it does. */
  about: string;
  /** In the Sheet, where the step is not told. */
  column: string;
}

interface EdgeNumber extends Told {
  kind: 'number';
  min: number;
  max: number;
  /** What it is in a new edge, which changes nothing. */
  start: number;
  unit: 'px' | 'px²' | '%' | '°' | '';
  /** Step of the field, and how many of what is shown are one of what is stored. */
  step: number;
  factor?: number;
  /** Where a slider begins and ends, which the range exceeds. */
  soft?: readonly [number, number];
}

interface EdgeChoice extends Told {
  kind: 'choice';
  options: readonly { id: string; label: string }[];
  start: string;
}

export type EdgeSetting = EdgeNumber | EdgeChoice;

const percent = { unit: '%', step: 1, factor: 100 } as const;
const pixels = { unit: 'px', min: 0, step: 0.1, start: 0, soft: [0, 60] } as const;
const area = { unit: 'px²', min: 0, max: 1e6, step: 1, start: 0, soft: [0, 400] } as const;

export const EDGE_STEPS = {
  outline: {
    title: 'Outline',
    settings: {
      grow: {
        ...{ kind: 'number', label: 'Grow', column: 'grow', unit: 'px', min: -500, max: 500, step: 0.1, start: 0, soft: [-40, 40] },
        about: 'Moves the edge outwards; below zero inwards, against a rim of the old background.',
      },
      roundness: {
        ...{ ...pixels, kind: 'number', label: 'Roundness', column: 'roundness', max: 200, step: 0.5 },
        about: 'Smooths corners and jags up to this length away.',
      },
    },
  },
  feather: {
    title: 'Feather',
    settings: {
      featherIn: { ...pixels, kind: 'number', label: 'Feather in', column: 'feather in', about: 'Softens inside the outline.', max: 500 },
      featherOut: { ...pixels, kind: 'number', label: 'Feather out', column: 'feather out', about: 'Softens outside the outline.', max: 500 },
      falloff: {
        ...{ kind: 'choice', label: 'Falloff', column: 'falloff', about: 'How alpha falls over the soft band.', start: 'smooth' },
        options: [
          { id: 'linear', label: 'Linear' },
          { id: 'smooth', label: 'Smooth' },
          { id: 'gaussian', label: 'Gaussian' },
        ],
      },
    },
  },
  firmness: {
    title: 'Firmness',
    settings: {
      firmness: {
        ...{ ...percent, kind: 'number', label: 'Firmness', column: 'firmness', min: 0, max: 1, start: 0 },
        about: 'Makes a soft edge harder round the pivot.',
      },
      pivot: {
        ...{ ...percent, kind: 'number', label: 'Pivot', column: 'pivot', min: 0.01, max: 0.99, start: 0.5 },
        about: 'The alpha that stays where it is when the edge is made firmer.',
      },
    },
  },
  pieces: {
    title: 'Specks and holes',
    settings: {
      specks: { ...area, kind: 'number', label: 'Specks', column: 'specks', about: 'Takes away pieces of fewer square pixels.' },
      holes: { ...area, kind: 'number', label: 'Holes', column: 'holes', about: 'Fills holes of fewer square pixels.' },
    },
  },
  steadiness: {
    title: 'Steadiness',
    settings: {
      steadiness: {
        ...{ ...percent, kind: 'number', label: 'Steadiness', column: 'steadiness', min: 0, max: 1, start: 0 },
        about: 'Evens out an edge that chatters from frame to frame.',
      },
    },
  },
  shutter: {
    title: 'Shutter blur',
    settings: {
      shutter: {
        ...{ kind: 'number', label: 'Shutter', column: 'shutter', unit: '°', min: 0, max: 720, step: 1, start: 0, soft: [0, 360] },
        about: 'Blurs the edge by its motion: 180 is usual for film.',
      },
      shutterPhase: {
        ...{ kind: 'number', label: 'Phase', column: 'shutter phase', unit: '°', min: -720, max: 720, step: 1, start: -90, soft: [-180, 180] },
        about: 'When the shutter opens, against the frame.',
      },
      shutterSamples: {
        ...{ kind: 'number', label: 'Samples', column: 'samples', unit: '', min: 2, max: 64, step: 1, start: 8 },
        about: 'Moments that are looked at: more is smoother and slower.',
      },
    },
  },
  opacity: {
    title: 'Matte over time',
    settings: {
      opacity: { ...{ ...percent, kind: 'number', label: 'Opacity', column: 'opacity', min: 0, max: 1, start: 1 }, about: 'Strength of the whole matte.' },
    },
  },
  cleaning: {
    title: 'Colour cleaning',
    settings: {
      cleaning: {
        ...{ ...percent, kind: 'number', label: 'Cleaning', column: 'cleaning', min: 0, max: 1, start: 0 },
        about: 'Takes the old background out of the colours of the soft edge, in cut-outs. Alpha stays as it is.',
      },
    },
  },
} as const satisfies Record<string, { title: string; settings: Record<string, EdgeSetting> }>;

type Steps = typeof EDGE_STEPS;
export type EdgeStep = keyof Steps;
type Settings = { [S in EdgeStep]: Steps[S]['settings'] }[EdgeStep];
type KeysOf<T> = T extends unknown ? keyof T : never;
export type EdgeName = KeysOf<Settings>;

/** All settings by name. */
export const EDGE_SETTINGS = Object.assign({}, ...Object.values(EDGE_STEPS).map((step) => step.settings)) as Record<EdgeName, EdgeSetting>;
export const EDGE_NAMES = Object.keys(EDGE_SETTINGS) as EdgeName[];

type SettingOf<N extends EdgeName> = Extract<Settings, { readonly [K in N]: unknown }>[N];
type ValueOf<N extends EdgeName> = SettingOf<N> extends { kind: 'choice'; options: readonly { id: infer I }[] } ? I : number;
export type Falloff = ValueOf<'falloff'>;

/** An edge of a document: each setting over time. */
export type Edge = { [N in EdgeName]: Animated<ValueOf<N>> };

const valueSchema = (setting: EdgeSetting) =>
  setting.kind === 'number' ? z.number().min(setting.min).max(setting.max) : z.enum(setting.options.map((o) => o.id) as [string, ...string[]]);

/** The schema of each setting; one that is not there is as it starts. */
export const EDGE_SHAPE = Object.fromEntries(
  EDGE_NAMES.map((name) => [name, animatedSchema<z.ZodType>(valueSchema(EDGE_SETTINGS[name])).default({ constant: EDGE_SETTINGS[name].start })]),
) as unknown as { [N in EdgeName]: z.ZodType<Edge[N]> };

/** The edge without some of its steps: their numbers as they start, which change nothing. */
export function withoutSteps(edge: Edge, steps: readonly string[]): Edge {
  const plain = Object.entries(EDGE_STEPS).flatMap(([step, { settings }]) =>
    steps.includes(step) ? Object.entries(settings).flatMap(([name, s]) => (s.kind === 'number' ? [[name, { constant: s.start }]] : [])) : [],
  );
  return { ...edge, ...Object.fromEntries(plain) };
}
