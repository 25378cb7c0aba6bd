/** What can be read off a picture: how often each value is there, which values each column has, and which colours there are. */
import { CHROMA, lumaAt, type Size } from '../image/picture.ts';
import { clamp } from '../math/clamp.ts';
import { Bars } from './bars.ts';

/** Columns and rows of the waveform: from the left of the picture to its right, from black at the foot to white. */
export const WAVE: Size = { width: 192, height: 96 };
/** Side of the field of colours; its middle is grey. */
export const FIELD = 96;

export interface Scopes {
  /** Luma, red, green and blue, from dark to bright; the highest bar of each is 1. */
  histogram: Record<'luma' | 'red' | 'green' | 'blue', number[]>;
  /** Of each column so much red, green and blue at each height: bytes, RGBA, rows top down. */
  wave: Uint8ClampedArray<ArrayBuffer>;
  /** How often colours are there: differences of blue from luma to the right, of red upwards (ITU-R BT.709); bytes, RGBA, rows top down. */
  field: Uint8ClampedArray<ArrayBuffer>;
}

/** The field shows half of the largest difference of blue, and of red, from luma, since few pictures have more. */
const [BLUE, RED] = [CHROMA[0] / 2, CHROMA[1] / 2];

/** The power of a count that is its brightness: what is rare is seen beside what is common. */
const RARE = 0.35;

/** Counts as brightness. */
function shown(counts: Float64Array, most: number): Uint8ClampedArray {
  const out = new Uint8ClampedArray(counts.length);
  const times = most > 0 ? 255 / most ** RARE : 0;
  for (let i = 0; i < counts.length; i++) if (counts[i] > 0) out[i] = counts[i] ** RARE * times;
  return out;
}

/** Of an opaque picture of bytes, RGBA. A small picture will do: each pixel counts once. */
export function scopesOf(bytes: ArrayLike<number>, { width, height }: Size): Scopes {
  const bars = new Bars(4);
  const wave = Array.from({ length: 3 }, () => new Float64Array(WAVE.width * WAVE.height));
  const field = new Float64Array(FIELD * FIELD);
  for (let y = 0, i = 0; y < height; y++)
    for (let x = 0; x < width; x++, i += 4) {
      const column = Math.floor((x * WAVE.width) / width);
      const rgb = [bytes[i] / 255, bytes[i + 1] / 255, bytes[i + 2] / 255];
      const luma = lumaAt(rgb, 0);
      bars.count([luma, ...rgb]);
      for (let k = 0; k < 3; k++) wave[k][(WAVE.height - 1 - Math.round(rgb[k] * (WAVE.height - 1))) * WAVE.width + column]++;
      const across = 0.5 + (rgb[2] - luma) / BLUE;
      const up = 0.5 + (rgb[0] - luma) / RED;
      const at = (v: number) => Math.round(clamp(v, 0, 1) * (FIELD - 1));
      field[(FIELD - 1 - at(up)) * FIELD + at(across)]++;
    }
  const most = Math.max(...wave.map((w) => w.reduce((a, b) => Math.max(a, b), 0)));
  const channels = wave.map((w) => shown(w, most));
  const waves = new Uint8ClampedArray(4 * WAVE.width * WAVE.height);
  for (let p = 0; p < WAVE.width * WAVE.height; p++) waves.set([channels[0][p], channels[1][p], channels[2][p], 255], 4 * p);
  const colours = new Uint8ClampedArray(4 * FIELD * FIELD);
  const counted = shown(
    field,
    field.reduce((a, b) => Math.max(a, b), 0),
  );
  for (let p = 0; p < FIELD * FIELD; p++) colours.set([counted[p], counted[p], counted[p], 255], 4 * p);
  const [luma, red, green, blue] = bars.heights();
  return { histogram: { luma, red, green, blue }, wave: waves, field: colours };
}
