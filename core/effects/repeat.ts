import { remapTurned } from '../image/remap.ts';
import { defineEffect } from './effect.ts';
import { angle, choice, number } from './settings.ts';

export const repeatEffect = defineEffect({
  id: 'repeat',
  label: 'Repeat',
  about: 'The picture smaller, moved or turned, and beyond its edges once more: in a row, in a mirror, or as its last pixels.',
  settings: {
    scale: number('Scale', 'How large the picture is in the middle.', '%', [1, 1000, 0.5], 50, [5, 200]),
    across: number('Across', 'How far it is moved to the right.', 'px', [-20_000, 20_000, 0.5], 0, [-1000, 1000]),
    down: number('Down', 'How far it is moved down.', 'px', [-20_000, 20_000, 0.5], 0, [-1000, 1000]),
    turn: angle('Turn', 'Clockwise, in degrees.'),
    sides: choice('Beyond', 'What is seen beyond its edges.', { mirror: 'A mirror', wrap: 'The same again', hold: 'Its last pixels' }),
  },
  whole: true,
  mixes: true,
  render(layer, v, { scale, left, top, whole }) {
    remapTurned(layer, v.sides, {
      aboutX: whole.width / 2 - left,
      aboutY: whole.height / 2 - top,
      turn: (v.turn * Math.PI) / 180,
      scale: v.scale / 100,
      moveX: v.across * scale,
      moveY: v.down * scale,
    });
  },
});
