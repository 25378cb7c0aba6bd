import { describe, expect, it } from 'vitest';
import { agreementOf, doubtOf } from './doubt.ts';

const [WIDTH, HEIGHT] = [96, 72];
const disc = (cx: number, cy: number, r: number) =>
  Uint8Array.from({ length: WIDTH * HEIGHT }, (_, i) => (Math.hypot((i % WIDTH) + 0.5 - cx, Math.floor(i / WIDTH) + 0.5 - cy) < r ? 1 : 0));
const signals = { confusion: 0, change: 0, area: 100 };

describe('agreementOf', () => {
  it('is whole for masks that are apart by less than the tolerance, and falls with the share of edge that is not', () => {
    const whole = disc(48, 36, 20);
    expect(agreementOf(whole, whole, WIDTH, HEIGHT)).toEqual({ agreement: 1, places: [] });
    expect(agreementOf(whole, disc(48, 36, 21), WIDTH, HEIGHT).agreement).toBe(1);
    // The right half of one disc is cut off: about half of its edge, and the cut, are nowhere in the other.
    const half = whole.map((v, i) => (i % WIDTH < 48 ? v : 0));
    const { agreement } = agreementOf(half, whole, WIDTH, HEIGHT);
    expect(agreement).toBeGreaterThan(0.45);
    expect(agreement).toBeLessThan(0.68);
  });

  it('says where: on the edge of the first mask that the second does not have', () => {
    const whole = disc(48, 36, 20);
    const bulge = disc(74, 36, 10).map((v, i) => v | whole[i]);
    const { places } = agreementOf(bulge, whole, WIDTH, HEIGHT);
    expect(places.length).toBeGreaterThan(1);
    for (let i = 0; i < places.length; i += 2) {
      const [x, y] = [places[i] * WIDTH, places[i + 1] * HEIGHT];
      // Within the square's half diagonal of the bulge's rim.
      expect(Math.abs(Math.hypot(x - 74, y - 36) - 10)).toBeLessThan(9);
      expect(x).toBeGreaterThan(56);
    }
  });

  it('takes empty masks: two of them agree, one alone does not', () => {
    const none = new Uint8Array(WIDTH * HEIGHT);
    expect(agreementOf(none, none, WIDTH, HEIGHT).agreement).toBe(1);
    expect(agreementOf(disc(48, 36, 20), none, WIDTH, HEIGHT).agreement).toBe(0);
  });
});

describe('doubtOf', () => {
  const at = (agreement: number, more: Partial<typeof signals> = {}, fromAnchor = 1) => doubtOf({ ...signals, ...more }, { agreement, places: [] }, fromAnchor);

  it('rises as the two carries part, from next to nothing to near certainty', () => {
    const doubts = [1, 0.99, 0.97, 0.95, 0.9, 0.8, 0.5].map((a) => at(a).doubt);
    expect([...doubts].sort((a, b) => a - b)).toEqual(doubts);
    expect(doubts[0]).toBeLessThan(15);
    expect(doubts[6]).toBeGreaterThan(90);
  });

  it('tells the reasons that were measured, as what they are', () => {
    expect(at(0.99).reasons).toEqual([]);
    expect(at(0.6, { confusion: 0.3, change: 3 }, 40).reasons).toEqual(['two-ways', 'similar-colours', 'moved-far', 'far-from-anchor']);
    expect(at(1, { area: 0 })).toEqual({ doubt: 100, reasons: ['vanished'], places: [] });
  });
});
