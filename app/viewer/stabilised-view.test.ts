import { describe, expect, it } from 'vitest';
import { applyTo, type Homography, multiply, translation } from '~/core/math/homography.ts';
import { beforeTurn, stabilisedView } from './stabilised-view.ts';

const turned = (by: number, k: number): Homography => [Math.cos(by) * k, -Math.sin(by) * k, 0, Math.sin(by) * k, Math.cos(by) * k, 0, 0, 0, 1];

describe('a plate that is held still', () => {
  const viewTransform = { scale: 0.7, x: 30, y: 20 };
  const motion = multiply(translation(140, 90), multiply(turned(0.2, 1.3), translation(-100, -100)));
  const stabilised = stabilisedView(viewTransform, motion, [100, 100]);
  /** Where a place of the plate is seen: laid out, then turned. */
  const seen = (px: number, py: number) => {
    const [sx, sy] = [px * stabilised.viewTransform.scale + stabilised.viewTransform.x, py * stabilised.viewTransform.scale + stabilised.viewTransform.y];
    const [c, s] = [Math.cos(stabilised.turn), Math.sin(stabilised.turn)];
    return [stabilised.x + c * (sx - stabilised.x) - s * (sy - stabilised.y), stabilised.y + s * (sx - stabilised.x) + c * (sy - stabilised.y)];
  };

  it('shows every place of what is followed where it was on the frame on which it is held', () => {
    for (const [x, y] of [
      [100, 100],
      [60, 130],
      [180, 20],
    ]) {
      const [u, v] = seen(...applyTo(motion, x, y));
      expect(u).toBeCloseTo(x * viewTransform.scale + viewTransform.x, 9);
      expect(v).toBeCloseTo(y * viewTransform.scale + viewTransform.y, 9);
    }
  });

  it('is worked on where the pointer is', () => {
    const [u, v] = seen(77, 88);
    const at = beforeTurn(stabilised, u, v);
    expect((at.x - stabilised.viewTransform.x) / stabilised.viewTransform.scale).toBeCloseTo(77, 9);
    expect((at.y - stabilised.viewTransform.y) / stabilised.viewTransform.scale).toBeCloseTo(88, 9);
  });
});
