/** Elements with settings and effects of their own that make something of them; everything in them can be changed. */
import type { Element, Lane, ShotDocument } from '../document/schema.ts';
import { newElementEffect } from '../effects/lane-effect.ts';
import { constantsOf, type SettingValue } from '../effects/settings.ts';
import { newElement } from './index.ts';

export interface Variant {
  id: string;
  label: string;
  about: string;
  /** The kind of element that it is. */
  of: string;
  /** What its settings start from. */
  settings(plate: { width: number; height: number }): Record<string, SettingValue>;
  blend?: Element['blend'];
  effects?: { effect: string; settings: Record<string, SettingValue> }[];
}

export const VARIANTS: readonly Variant[] = [
  {
    id: 'flames',
    label: 'Flames',
    about: 'Noise that rises, bent into tongues, coloured from red to white, thinner upwards.',
    of: 'noise',
    settings: ({ width, height }) => ({
      y: height * 0.7,
      width: width * 0.5,
      height: height * 0.6,
      softness: height * 0.04,
      size: height * 0.16,
      stretch: 220,
      octaves: 4,
      low: 16,
      high: 84,
      rise: height * 0.55,
      change: 0.9,
      bend: height * 0.05,
      thins: 60,
      colours: [0, 0.3, 0.02, 0, 0, 0.22, 0.75, 0.12, 0.02, 0.85, 0.55, 0.98, 0.5, 0.08, 1, 0.85, 1, 0.86, 0.42, 1, 1, 1, 0.98, 0.88, 1],
    }),
    blend: 'screen',
    effects: [
      { effect: 'displace', settings: { across: 10, down: 4, size: 34, rise: 220, change: 1.2, seed: 3 } },
      { effect: 'levels', settings: { redGamma: 1.15, blueGamma: 0.8 } },
      { effect: 'glow', settings: { radius: 14, strength: 60, from: 30, tint: [1, 0.62, 0.3] } },
    ],
  },
  {
    id: 'smoke',
    label: 'Smoke',
    about: 'Noise that rises slowly and thins out upwards.',
    of: 'noise',
    settings: ({ width, height }) => ({
      y: height * 0.55,
      width: width * 0.6,
      height: height * 0.9,
      softness: height * 0.12,
      size: height * 0.3,
      stretch: 140,
      octaves: 5,
      low: 38,
      high: 95,
      rise: height * 0.12,
      change: 0.25,
      bend: height * 0.08,
      thins: 45,
      colours: [0, 0.5, 0.52, 0.55, 0, 1, 0.82, 0.84, 0.86, 0.85],
    }),
  },
];

/** An element made of a variant. @param newId for it and its effects */
export function newVariant(
  document: Pick<ShotDocument, 'lanes' | 'plate'>,
  newId: () => string,
  lane: Lane,
  subject: string | null,
  variant: Variant,
): Element {
  const element = newElement(document, newId(), lane, subject, variant.of);
  const count = document.lanes.filter((l) => l.type === 'element' && l.name.startsWith(variant.label)).length;
  return {
    ...element,
    name: `${variant.label} ${count + 1}`,
    blend: variant.blend ?? 'normal',
    settings: { ...element.settings, ...constantsOf(variant.settings(document.plate)) },
    effects: (variant.effects ?? []).map(({ effect, settings }) => {
      const own = newElementEffect(newId(), effect, document.plate);
      return { ...own, settings: { ...own.settings, ...constantsOf(settings) } };
    }),
  };
}
