/** How often values are there, as bars from dark to bright. */
import { clamp } from '../math/clamp.ts';

/** How many of them. */
export const BARS = 64;

export class Bars {
  private readonly counts: number[][];

  /** @param channels that are counted, each by itself */
  constructor(channels: number) {
    this.counts = Array.from({ length: channels }, () => new Array<number>(BARS).fill(0));
  }

  /** Counts a value of each channel, in [0,1]. @param weight how much it counts */
  count(values: readonly number[], weight = 1): void {
    for (const [k, v] of values.entries()) this.counts[k][Math.min(BARS - 1, Math.floor(clamp(v, 0, 1) * BARS))] += weight;
  }

  /** Their heights, channel by channel, the highest of each 1. */
  heights(): number[][] {
    return this.counts.map((list) => {
      const most = Math.max(...list);
      return most > 0 ? list.map((v) => v / most) : list;
    });
  }
}
