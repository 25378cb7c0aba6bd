/** Blend modes of the W3C Compositing and Blending standard, level 1, and plus-lighter of level 2; values in [0,1]. */

/** Those of each channel by itself; their order is that of the kernel that lays pictures over one another. */
export const CHANNEL_BLENDS = [
  'normal',
  'multiply',
  'screen',
  'overlay',
  'darken',
  'lighten',
  'color-dodge',
  'color-burn',
  'hard-light',
  'soft-light',
  'difference',
  'exclusion',
  'plus-lighter',
] as const;
type ChannelBlend = (typeof CHANNEL_BLENDS)[number];
/** Those of a colour as a whole. */
const COLOUR_BLENDS = ['hue', 'saturation', 'color', 'luminosity'] as const;
export const BLENDS = [...CHANNEL_BLENDS, ...COLOUR_BLENDS] as const;
export type Blend = (typeof BLENDS)[number];

const screen = (b: number, s: number): number => b + s - b * s;
const hardLight = (b: number, s: number): number => (s <= 0.5 ? b * 2 * s : screen(b, 2 * s - 1));

function softLight(b: number, s: number): number {
  if (s <= 0.5) return b - (1 - 2 * s) * b * (1 - b);
  const d = b <= 0.25 ? ((16 * b - 12) * b + 4) * b : Math.sqrt(b);
  return b + (2 * s - 1) * (d - b);
}

/** What a colour becomes of the one below (`b`) and the one put onto it (`s`), each with no alpha of its own. */
export const BLEND: Record<ChannelBlend, (b: number, s: number) => number> = {
  normal: (_b, s) => s,
  multiply: (b, s) => b * s,
  screen,
  overlay: (b, s) => hardLight(s, b),
  darken: Math.min,
  lighten: Math.max,
  'color-dodge': (b, s) => (b === 0 ? 0 : s >= 1 ? 1 : Math.min(1, b / (1 - s))),
  'color-burn': (b, s) => (b >= 1 ? 1 : s <= 0 ? 0 : 1 - Math.min(1, (1 - b) / s)),
  'hard-light': hardLight,
  'soft-light': softLight,
  difference: (b, s) => Math.abs(b - s),
  exclusion: (b, s) => b + s - 2 * b * s,
  'plus-lighter': (b, s) => Math.min(1, b + s),
};

const isOfChannels = (blend: Blend): blend is ChannelBlend => Object.hasOwn(BLEND, blend);

/** Luminosity as the standard weighs it. */
const lum = (c: Float64Array): number => 0.3 * c[0] + 0.59 * c[1] + 0.11 * c[2];
const most = (c: Float64Array): number => Math.max(c[0], c[1], c[2]);
const least = (c: Float64Array): number => Math.min(c[0], c[1], c[2]);

/** Gives a colour another luminosity, cut off at black and white (the standard's SetLum and ClipColor). */
function setLum(c: Float64Array, to: number): void {
  const by = to - lum(c);
  for (let k = 0; k < 3; k++) c[k] += by;
  const l = lum(c);
  const [low, high] = [least(c), most(c)];
  if (low < 0) for (let k = 0; k < 3; k++) c[k] = l + ((c[k] - l) * l) / (l - low);
  if (high > 1) for (let k = 0; k < 3; k++) c[k] = l + ((c[k] - l) * (1 - l)) / (high - l);
}

/** Gives a colour another saturation, its least channel 0 (the standard's SetSat). */
function setSat(c: Float64Array, to: number): void {
  const [low, wide] = [least(c), most(c) - least(c)];
  for (let k = 0; k < 3; k++) c[k] = wide > 0 ? ((c[k] - low) * to) / wide : 0;
}

const sat = (c: Float64Array): number => most(c) - least(c);

const OF_COLOURS: Record<(typeof COLOUR_BLENDS)[number], (b: Float64Array, s: Float64Array) => void> = {
  hue(b, s) {
    setSat(s, sat(b));
    setLum(s, lum(b));
  },
  saturation(b, s) {
    const to = sat(s);
    s.set(b);
    setSat(s, to);
    setLum(s, lum(b));
  },
  color(b, s) {
    setLum(s, lum(b));
  },
  luminosity(b, s) {
    const to = lum(s);
    s.set(b);
    setLum(s, to);
  },
};

/** Makes of a colour put onto another (`b`), each with no alpha of its own, what is seen of them: written over `s`. */
export function blender(blend: Blend): (b: Float64Array, s: Float64Array) => void {
  if (!isOfChannels(blend)) return OF_COLOURS[blend];
  const of = BLEND[blend];
  return (b, s) => {
    for (let k = 0; k < 3; k++) s[k] = of(b[k], s[k]);
  };
}
