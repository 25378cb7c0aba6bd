/** What an effect is: described settings and one render function. Panels, presets, checks and docs follow the description. */
import type { Gray, Rgba, Size } from '../image/picture.ts';
import type { Descriptions, SettingDescription, Values, ValuesOf } from './settings.ts';

export interface EffectContext {
  /** Pixels of this picture for one plate pixel: settings in px are multiplied by it. */
  scale: number;
  frame: number;
  /** Frames a second. */
  rate: number;
  /** The sum, from frame 0 to this one, of a number setting, or of what `of` makes of it: what has come to pass by then. */
  sum(setting: string, of?: (value: number) => number): number;
  /** The values of its settings at another time, frames. */
  valuesAt(time: number): Values;
  /** Where the layer's left top corner lies on the picture, pixels; and how large that picture is. */
  left: number;
  top: number;
  whole: Size;
  /** Where a place of the plate lies on this layer, pixels; with what the effect follows. */
  at(x: number, y: number): [number, number];
  /** Of one that its matte moves: that matte, on all of the picture; null where it has none. */
  matte: Gray | null;
  /** Of one that looks at it: what is behind the layer, on all of the picture. */
  behind: Behind | null;
}

/** The picture behind a subject or an element, and what covers it there; null: the alpha of the layer says that. */
export interface Behind {
  picture: Rgba;
  matte: Gray | null;
}

export interface Effect {
  id: string;
  label: string;
  /** One sentence on what it does. */
  about: string;
  settings: Record<string, SettingDescription>;
  /** Whether it has a place: settings `x` and `y`, plate pixels, that can follow a track. */
  placed?: true;
  /** The settings that say in which direction it goes, and how far: both are dragged in the viewer. */
  aim?: { angle: string; length: string };
  /** How far it shows beyond what it is given, plate pixels; nowhere where it does not say. */
  reach?(values: Values): number;
  /** Whether it moves what it is given from one side of the picture to the other, so that it needs whole rows. */
  wide?: true;
  /** Whether anything of the picture may come to be anywhere in it, so that it needs all of it. */
  whole?: true;
  /** Whether it makes what it is given see-through. */
  cuts?: true;
  /** Whether its matte says where pixels go, and not where the effect is seen. */
  matteMoves?: true;
  /** Whether it looks at what is behind the layer. */
  sees?: 'behind';
  /** What can be measured for its settings. */
  measures?: 'colour' | 'grain';
  /** Pictures of the size of its layer that it needs room for. */
  pictures?: number;
  /** Whether it mixes what lies at different places, and so works in linear light where the shot mixes in that; others see the plate's values. */
  mixes?: true;
  /** Whether a new one inside a subject takes that out of its outline. */
  leaves?: true;
  /** Changes the premultiplied layer in place. `values` holds one for each setting. */
  render(layer: Rgba, values: Values, context: EffectContext): void;
}

/** An effect from its description; `render` gets the values of its settings with their types. */
export const defineEffect = <const D extends Descriptions>(
  effect: Omit<Effect, 'settings' | 'reach' | 'render'> & {
    settings: D;
    reach?(values: ValuesOf<D>): number;
    render(layer: Rgba, values: ValuesOf<D>, context: EffectContext): void;
  },
  // Values are made from the description that the types are made from.
): Effect => effect as unknown as Effect;

/** Whether it can show something beyond what it is given, or less of it: not its colours alone change. */
export const changesShape = (effect: Effect): boolean => effect.reach !== undefined || effect.whole === true || effect.cuts === true;
