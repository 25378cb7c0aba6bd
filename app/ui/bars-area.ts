/** Bars of [0,1] as the path of an area in a square of 100. Roots of them, so that what is rare is seen beside what is common. */
export const barsArea = (bars: readonly number[]): string =>
  `M 0 100 ${bars.map((v, i) => `V ${100 - Math.sqrt(v) * 100} H ${(100 * (i + 1)) / bars.length}`).join(' ')} V 100 Z`;

/** The same as the points of a line through the middles of the bars. */
export const barsLine = (bars: readonly number[]): string => bars.map((v, i) => `${(100 * (i + 0.5)) / bars.length},${100 - 100 * Math.sqrt(v)}`).join(' ');
