/** The slow plain twin of feathering: the alpha of a pixel by its distance from the outline, from what each falloff is called for. */

/** Share of a normal distribution between -2.5 deviations and `x`, of that between -2.5 and 2.5, by Simpson's rule. */
function normalShare(x: number): number {
  const density = (z: number) => Math.exp(-(z * z) / 2);
  const area = (to: number) => {
    const n = 400;
    const h = (to + 2.5) / n;
    let sum = density(-2.5) + density(to);
    for (let i = 1; i < n; i++) sum += (i % 2 === 1 ? 4 : 2) * density(-2.5 + i * h);
    return (sum * h) / 3;
  };
  return area(x) / area(2.5);
}

const RISES = {
  linear: (t: number) => t,
  smooth: (t: number) => t * t * (3 - 2 * t),
  gaussian: (t: number) => normalShare(5 * t - 2.5),
};

/** @param distance pixels inside the outline, negative outside; the band is never narrower than a pixel */
export function featherProfile(distance: number, featherIn: number, featherOut: number, falloff: keyof typeof RISES): number {
  const outside = Math.max(0.5, featherOut);
  const t = (distance + outside) / (Math.max(0.5, featherIn) + outside);
  return t <= 0 ? 0 : t >= 1 ? 1 : RISES[falloff](t);
}
