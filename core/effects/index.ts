/** The registry of effects: adding one is a file beside this and a line here. */

import { breakUpEffect } from './break-up.ts';
import type { Effect } from './effect.ts';
import { gaussianBlurEffect } from './gaussian-blur.ts';
import { gradeEffect } from './grade.ts';
import { monochromeEffect } from './monochrome.ts';
import { solidEffect } from './solid.ts';
import { spotEffect } from './spot.ts';

export const EFFECTS: readonly Effect[] = [gaussianBlurEffect, gradeEffect, monochromeEffect, solidEffect, breakUpEffect, spotEffect];

/** The effect with this id; throws RangeError where there is none. */
export function effectById(id: string): Effect {
  const effect = EFFECTS.find((e) => e.id === id);
  if (!effect) throw new RangeError(`There is no effect "${id}" in this version.`);
  return effect;
}
