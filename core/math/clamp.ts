/** `value` within `least` and `most`; `least` where these cross. NaN stays NaN. */
export const clamp = (value: number, least: number, most: number): number => Math.max(least, Math.min(most, value));

/** From 0 to 1 with a level start and end, for `t` in [0,1]. */
export const smoothstep = (t: number): number => t * t * (3 - 2 * t);
