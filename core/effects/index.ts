/** The registry of effects, in the order in which they are offered: adding one is a file beside this and a line here. */

import { breakUpEffect } from './break-up.ts';
import { channelOffsetEffect } from './channel-offset.ts';
import { contrastEffect } from './contrast.ts';
import { curvesEffect } from './curves.ts';
import { directionalBlurEffect } from './directional-blur.ts';
import { displaceEffect } from './displace.ts';
import type { Effect } from './effect.ts';
import { framingEffect } from './framing.ts';
import { gaussianBlurEffect } from './gaussian-blur.ts';
import { glowEffect } from './glow.ts';
import { gradeEffect } from './grade.ts';
import { grainEffect } from './grain.ts';
import { hueEffect } from './hue.ts';
import { keyEffect } from './key.ts';
import { lensBlurEffect } from './lens-blur.ts';
import { levelsEffect } from './levels.ts';
import { lightWrapEffect } from './light-wrap.ts';
import { matchEffect } from './match.ts';
import { monochromeEffect } from './monochrome.ts';
import { pixelateEffect } from './pixelate.ts';
import { rampEffect } from './ramp.ts';
import { repeatEffect } from './repeat.ts';
import { shakeEffect } from './shake.ts';
import { sharpenEffect } from './sharpen.ts';
import { solidEffect } from './solid.ts';
import { spotEffect } from './spot.ts';
import { temperatureEffect } from './temperature.ts';
import { turningBlurEffect } from './turning-blur.ts';
import { vignetteEffect } from './vignette.ts';
import { zoomBlurEffect } from './zoom-blur.ts';

export const EFFECTS: readonly Effect[] = [
  gaussianBlurEffect,
  directionalBlurEffect,
  zoomBlurEffect,
  turningBlurEffect,
  lensBlurEffect,
  glowEffect,
  sharpenEffect,
  lightWrapEffect,
  gradeEffect,
  contrastEffect,
  levelsEffect,
  curvesEffect,
  temperatureEffect,
  hueEffect,
  monochromeEffect,
  rampEffect,
  matchEffect,
  spotEffect,
  vignetteEffect,
  solidEffect,
  keyEffect,
  breakUpEffect,
  displaceEffect,
  channelOffsetEffect,
  pixelateEffect,
  framingEffect,
  shakeEffect,
  repeatEffect,
  grainEffect,
];

export const isKnownEffect = (id: string): boolean => EFFECTS.some((e) => e.id === id);

/** The effect with this id; one that changes nothing where this version has none. */
export const effectById = (id: string): Effect =>
  EFFECTS.find((e) => e.id === id) ?? { id, label: id, about: 'From another version: it is kept and does nothing here.', settings: {}, render() {} };
