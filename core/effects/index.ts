/** The registry of effects: adding one is a file beside this and a line here. */

import { breakUpEffect } from './break-up.ts';
import type { Effect } from './effect.ts';
import { gaussianBlurEffect } from './gaussian-blur.ts';
import { gradeEffect } from './grade.ts';
import { monochromeEffect } from './monochrome.ts';
import { solidEffect } from './solid.ts';
import { spotEffect } from './spot.ts';

export const EFFECTS: readonly Effect[] = [gaussianBlurEffect, gradeEffect, monochromeEffect, solidEffect, breakUpEffect, spotEffect];

export const isKnownEffect = (id: string): boolean => EFFECTS.some((e) => e.id === id);

/** The effect with this id; one that changes nothing where this version has none. */
export const effectById = (id: string): Effect =>
  EFFECTS.find((e) => e.id === id) ?? { id, label: id, about: 'From another version: it is kept and does nothing here.', settings: {}, render() {} };
