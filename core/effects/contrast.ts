import { throughTables } from '../image/tables.ts';
import { clamp } from '../math/clamp.ts';
import { tableOf } from '../math/curve.ts';
import { defineEffect } from './effect.ts';
import { number } from './settings.ts';

export const contrastEffect = defineEffect({
  id: 'contrast',
  label: 'Brightness and contrast',
  about: 'Brighter or darker, harder or softer, with gamma.',
  settings: {
    brightness: number('Brightness', 'Added to all; 0 changes nothing.', '%', [-100, 100, 0.5], 0),
    contrast: number('Contrast', 'How far values lie from the pivot; 100 changes nothing.', '%', [0, 400, 1], 100, [0, 200]),
    pivot: number('Pivot', 'The value that contrast leaves as it is.', '%', [0, 100, 0.5], 50),
    gamma: number('Gamma', 'Above 1 brightens the middle, below 1 darkens it.', '', [0.1, 10, 0.01], 1, [0.1, 4]),
  },
  render(layer, values) {
    const [brightness, contrast, pivot] = [values.brightness / 100, values.contrast / 100, values.pivot / 100];
    const table = tableOf((x) => clamp((clamp(x, 0, 1) ** (1 / values.gamma) - pivot) * contrast + pivot + brightness, 0, 1));
    throughTables(layer, [table, table, table]);
  },
});
