/** How the storm lantern swings, in radians, at a moment in frames: a damped pendulum with a little sway. */
export function lanternSwing(time: number): { swing: number; sway: number; turn: number } {
  return {
    swing: 0.62 * Math.cos((time / 34) * Math.PI * 2) * Math.exp(-time / 190),
    sway: 0.05 * Math.sin(time * 0.13),
    turn: 0.5 * Math.sin(time * 0.045 + 0.4),
  };
}
