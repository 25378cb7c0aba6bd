/** SMPTE timecode (ST 12-1), drop frame where the rate calls for it. */
import { framesPerSecond, type Rate } from './rate.ts';

const isDropRate = (rate: Rate): boolean => rate.den === 1001 && (rate.num === 30000 || rate.num === 60000);

/** "hh:mm:ss:ff"; rates of 29.97 and 59.94 are written as drop frame, "hh:mm:ss;ff". `frame` is an integer from 0. */
export function toTimecode(frame: number, rate: Rate): string {
  const nominal = Math.round(framesPerSecond(rate));
  let count = frame;
  const drop = isDropRate(rate);
  if (drop) {
    const dropped = nominal / 15;
    const perTen = nominal * 600 - dropped * 9;
    const perMinute = nominal * 60 - dropped;
    const tens = Math.floor(frame / perTen);
    const rest = frame % perTen;
    count += dropped * 9 * tens + (rest >= nominal * 60 ? dropped * (1 + Math.floor((rest - nominal * 60) / perMinute)) : 0);
  }
  const two = (n: number) => String(n).padStart(2, '0');
  const seconds = Math.floor(count / nominal);
  return `${two(Math.floor(seconds / 3600))}:${two(Math.floor(seconds / 60) % 60)}:${two(seconds % 60)}${drop ? ';' : ':'}${two(count % nominal)}`;
}
