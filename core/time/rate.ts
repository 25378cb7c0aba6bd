/** Frame rates as exact rationals, and the places of frames in seconds. */
import { z } from 'zod';

export const rateSchema = z.object({
  num: z.number().int().positive().max(1_000_000),
  den: z.number().int().positive().max(1_000_000),
});
/** Frames a second as a fraction: 24000/1001 is {num: 24000, den: 1001}. */
export type Rate = z.infer<typeof rateSchema>;

const gcd = (a: number, b: number): number => (b === 0 ? a : gcd(b, a % b));

/** Reads "24", "23.976", "24000/1001" or "30000:1001". Throws RangeError on anything else. */
export function parseRate(text: string): Rate {
  const fraction = /^(\d+)[/:](\d+)$/.exec(text.trim());
  if (fraction) {
    const num = Number(fraction[1]);
    const den = Number(fraction[2]);
    if (num > 0 && den > 0) {
      const d = gcd(num, den);
      return { num: num / d, den: den / d };
    }
    throw new RangeError(`"${text}" is not a frame rate.`);
  }
  const value = Number(text);
  if (!(value > 0) || value > 1000) throw new RangeError(`"${text}" is not a frame rate.`);
  // Broadcast rates are given in decimals by habit but mean n·1000/1001.
  for (const base of [24, 30, 48, 60, 120]) if (Math.abs(value - (base * 1000) / 1001) < 0.006) return { num: base * 1000, den: 1001 };
  const num = Math.round(value * 1000);
  const d = gcd(num, 1000);
  return { num: num / d, den: 1000 / d };
}

export const framesPerSecond = (rate: Rate): number => rate.num / rate.den;

export const rateText = (rate: Rate): string => (rate.den === 1 ? String(rate.num) : (rate.num / rate.den).toFixed(3));

/** Seconds at which frame `frame` starts. */
export const frameToSeconds = (frame: number, rate: Rate): number => (frame * rate.den) / rate.num;
