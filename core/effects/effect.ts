/** What an effect is: described settings and one render function. Panels, presets, checks and docs follow the description. */
import type { Rgba } from '../image/picture.ts';

export interface NumberSetting {
  kind: 'number';
  label: string;
  unit: '' | 'px' | '%' | 'stops' | '°';
  min: number;
  max: number;
  step: number;
  start: number;
}

/** Red, green, blue in [0,1], in the plate's transfer. */
export interface ColourSetting {
  kind: 'colour';
  label: string;
  start: number[];
}

export type SettingDescription = NumberSetting | ColourSetting;

export interface EffectContext {
  /** Pixels of this picture for one plate pixel: settings in px are multiplied by it. */
  scale: number;
  frame: number;
}

export interface Effect {
  id: string;
  label: string;
  /** One sentence on what it does. */
  about: string;
  settings: Record<string, SettingDescription>;
  /** Changes the premultiplied layer in place. `values` holds a number or a colour for each setting. */
  render(layer: Rgba, values: Record<string, number | number[]>, context: EffectContext): void;
}

/** The setting as a number; the description says it is one. */
export const numberOf = (values: Record<string, number | number[]>, key: string): number => values[key] as number;
