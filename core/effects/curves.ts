import { throughTables } from '../image/tables.ts';
import { curveOf, lookUp, tableOf } from '../math/curve.ts';
import { defineEffect } from './effect.ts';
import { curve } from './settings.ts';

export const curvesEffect = defineEffect({
  id: 'curves',
  label: 'Curves',
  about: 'What each brightness becomes, for all channels and for each.',
  settings: {
    all: curve('All', 'From dark to bright on the left and right, what it becomes from bottom to top.'),
    red: curve('Red', 'The same of red alone, after the curve of all.'),
    green: curve('Green', 'The same of green alone, after the curve of all.'),
    blue: curve('Blue', 'The same of blue alone, after the curve of all.'),
  },
  render(layer, { all, red, green, blue }) {
    const first = tableOf(curveOf(all));
    const then = (points: readonly number[]) => {
      const own = curveOf(points);
      return tableOf((x) => own(lookUp(first, x)));
    };
    throughTables(layer, [then(red), then(green), then(blue)]);
  },
});
