/** Sums over time of values that change with it. */

/** Gauss-Legendre with two points a frame: exact where the value is a cubic of the time. */
const OFF = 0.5 / Math.sqrt(3);

/**
 * The integral over frames of `value`, which may change at whole frames at once. Sums up to whole frames are kept, so that asking for
 * one time after another costs little.
 */
export function integralOf(value: (time: number) => number): (from: number, to: number) => number {
  // From 0 to each whole frame; before 0 nothing changes.
  const upTo = [0];
  const over = (from: number, to: number): number => {
    const [middle, wide] = [(from + to) / 2, to - from];
    return (wide * (value(middle - OFF * wide) + value(middle + OFF * wide))) / 2;
  };
  const sum = (time: number): number => {
    if (time <= 0) return time * value(0);
    const whole = Math.floor(time);
    for (let f = upTo.length; f <= whole; f++) upTo.push(upTo[f - 1] + over(f - 1, f));
    return upTo[whole] + (time > whole ? over(whole, time) : 0);
  };
  return (from, to) => sum(to) - sum(from);
}
