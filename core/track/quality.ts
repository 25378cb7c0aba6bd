/**
 * How far a tracked place is to be trusted, 0 to 1, and why not. From half on it is taken to be within three pixels of the truth
 * (docs/research tells how often that held); below, the place is a guess.
 */
import { clamp } from '../math/clamp.ts';

export const REASONS = {
  left: 'left the picture',
  plain: 'the pattern is too plain',
  changed: 'the pattern changed too much',
  hidden: 'something hides it',
} as const;
export type Reason = keyof typeof REASONS;

/** From here on a place is trusted. */
export const TRUSTED = 0.5;

/** Shares of it within the picture: with the first it is not trusted at all, from the second on as if all of it were seen. */
const [UNSEEN, SEEN] = [0.2, 0.6];
/** With less of it in the picture no place is trusted, however alike it is. */
export const LEAST_SEEN = UNSEEN + TRUSTED * (SEEN - UNSEEN);

/** 0 at `none`, 1 at `full`, straight between. */
const ramp = (value: number, none: number, full: number): number => clamp((value - none) / (full - none), 0, 1);

/**
 * `score`: correlation with the pattern, `typical` what it came to on the frames before; `agreeing`: share of the samples that agree; `seen`: share within the picture; `returned`:
 * pixels between where tracking back ended and where it came from (Kalal, Mikolajczyk, Matas 2010).
 */
export function qualityOf(signs: { score: number; typical: number; agreeing: number; seen: number; returned: number }): number {
  const { score, typical, agreeing, seen, returned } = signs;
  // How many times as unlike as usual.
  const unlike = (1 - score) / (1.02 - typical);
  return ramp(unlike, 7, 3) * ramp(score, 0.55, 0.9) * ramp(agreeing, 0.15, 0.5) * ramp(seen, UNSEEN, SEEN) * (1 / (1 + (returned / 2) ** 2));
}

/** Share of the quality that is left where a pattern may have slid by so many pixels since it was first seen. */
export const unslid = (pixels: number): number => ramp(pixels, 0.94, 0.13);
