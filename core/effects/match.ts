import { throughTables } from '../image/tables.ts';
import { curveOf, tableOf } from '../math/curve.ts';
import { defineEffect } from './effect.ts';
import { curve } from './settings.ts';

export const matchEffect = defineEffect({
  id: 'match',
  label: 'Match colour',
  about: 'Gives it the colours of another picture, or of a part of one: measure, and its curves say how.',
  measures: 'colour',
  settings: {
    red: curve('Red', 'What each red becomes.'),
    green: curve('Green', 'What each green becomes.'),
    blue: curve('Blue', 'What each blue becomes.'),
  },
  render(layer, { red, green, blue }) {
    throughTables(layer, [tableOf(curveOf(red)), tableOf(curveOf(green)), tableOf(curveOf(blue))]);
  },
});
