import { throughTables } from '../image/tables.ts';
import { clamp } from '../math/clamp.ts';
import { lookUp, tableOf } from '../math/curve.ts';
import { defineEffect } from './effect.ts';
import { grouped, number } from './settings.ts';

/** What an input of black to white becomes: drawn out, bent by gamma, and squeezed between two outputs. */
const levelsOf =
  (black: number, white: number, gamma: number, low: number, high: number) =>
  (x: number): number =>
    clamp((low + (high - low) * clamp((x - black / 100) / Math.max(1e-4, (white - black) / 100), 0, 1) ** (1 / gamma)) / 100, 0, 1);

const BLACK = number('Black', 'What is as dark as this, or darker, becomes black.', '%', [0, 100, 0.5], 0);
const WHITE = number('White', 'What is as bright as this, or brighter, becomes white.', '%', [0, 100, 0.5], 100);
const GAMMA = number('Gamma', 'Above 1 brightens what lies between, below 1 darkens it.', '', [0.1, 10, 0.01], 1, [0.1, 4]);
const LOW = number('Black becomes', 'How bright black is afterwards.', '%', [0, 100, 0.5], 0);
const HIGH = number('White becomes', 'How bright white is afterwards.', '%', [0, 100, 0.5], 100);

export const levelsEffect = defineEffect({
  id: 'levels',
  label: 'Levels',
  about: 'What is black, what is white, and the gamma between them, for all channels and for each.',
  settings: {
    black: BLACK,
    white: WHITE,
    gamma: GAMMA,
    low: LOW,
    high: HIGH,
    ...grouped('Red', { redBlack: BLACK, redWhite: WHITE, redGamma: GAMMA, redLow: LOW, redHigh: HIGH }),
    ...grouped('Green', { greenBlack: BLACK, greenWhite: WHITE, greenGamma: GAMMA, greenLow: LOW, greenHigh: HIGH }),
    ...grouped('Blue', { blueBlack: BLACK, blueWhite: WHITE, blueGamma: GAMMA, blueLow: LOW, blueHigh: HIGH }),
  },
  render(layer, v) {
    const all = tableOf(levelsOf(v.black, v.white, v.gamma, v.low, v.high));
    const then = (own: (x: number) => number) => tableOf((x) => own(lookUp(all, x)));
    throughTables(layer, [
      then(levelsOf(v.redBlack, v.redWhite, v.redGamma, v.redLow, v.redHigh)),
      then(levelsOf(v.greenBlack, v.greenWhite, v.greenGamma, v.greenLow, v.greenHigh)),
      then(levelsOf(v.blueBlack, v.blueWhite, v.blueGamma, v.blueLow, v.blueHigh)),
    ]);
  },
});
