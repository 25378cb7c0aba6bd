import { describe, expect, it } from 'vitest';
import { labPicture } from '../picture/lab.ts';
import { agreementOf, oddsOf, uncertaintyOf } from './uncertainty.ts';

const [WIDTH, HEIGHT] = [96, 72];
const disc = (cx: number, cy: number, r: number) =>
  Uint8Array.from({ length: WIDTH * HEIGHT }, (_, i) => (Math.hypot((i % WIDTH) + 0.5 - cx, Math.floor(i / WIDTH) + 0.5 - cy) < r ? 1 : 0));
const signals = { unlike: 0.14, strayed: 0.02, area: 100, belief: 0, left: 0 };

describe('agreementOf', () => {
  it('is whole for masks that are apart by less than the tolerance, and falls with the share of edge that is not', () => {
    const whole = disc(48, 36, 20);
    expect(agreementOf(whole, whole, WIDTH, HEIGHT)).toEqual({ agreement: 1, faint: 0, places: [] });
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

  it('says how alike the picture is on both sides of the edge', () => {
    const mask = disc(48, 36, 20);
    // Light on dark, but for the right half, which is as light outside.
    const light = (i: number) => mask[i] || i % WIDTH >= 48;
    const data = Uint8Array.from({ length: 4 * WIDTH * HEIGHT }, (_, k) => (k % 4 === 3 ? 255 : light(k >> 2) ? 200 : 60));
    const { faint } = agreementOf(mask, mask, WIDTH, HEIGHT, labPicture({ width: WIDTH, height: HEIGHT, data }));
    expect(faint).toBeGreaterThan(0.44);
    expect(faint).toBeLessThan(0.56);
  });

  it('takes empty masks: two of them agree, one alone does not', () => {
    const none = new Uint8Array(WIDTH * HEIGHT);
    expect(agreementOf(none, none, WIDTH, HEIGHT).agreement).toBe(1);
    expect(agreementOf(disc(48, 36, 20), none, WIDTH, HEIGHT).agreement).toBe(0);
  });
});

describe('doubtOf', () => {
  const at = (agreement: number, more: Partial<typeof signals> = {}, fromAnchor = 1, faint = 0) => {
    const told = { agreement, faint, places: [] };
    const measured = { ...signals, ...more };
    return uncertaintyOf(measured, told, oddsOf(measured, told, null), fromAnchor);
  };

  it('rises as the two carries part, from next to nothing to near certainty where all else speaks for it as well', () => {
    const doubts = [1, 0.99, 0.97, 0.95, 0.9, 0.8, 0.5].map((a) => at(a).doubt);
    expect([...doubts].sort((a, b) => a - b)).toEqual(doubts);
    expect(doubts[0]).toBeLessThan(15);
    expect(doubts[6]).toBeGreaterThan(65);
    expect(at(0.5, { unlike: 0.25, strayed: 0.2 }).doubt).toBeGreaterThan(90);
  });

  it('rises as more of the edge is not where its motion brings it, and as more beside it has the colours of the other side', () => {
    for (const doubts of [
      [0, 0.05, 0.2, 0.6].map((strayed) => at(0.93, { strayed }).doubt),
      [0.05, 0.1, 0.2, 0.4].map((unlike) => at(0.93, { unlike }).doubt),
    ]) {
      expect([...doubts].sort((a, b) => a - b)).toEqual(doubts);
      expect(doubts[3]).toBeGreaterThan(doubts[0] + 10);
    }
  });

  it('does not forget the frame before at once, and comes to what is measured in the end', () => {
    const [right, wrong] = [0.99, 0.6].map((agreement) => ({ agreement, faint: 0.05, places: [] }));
    const [low, high] = [right, wrong].map((told) => oddsOf(signals, told, null));
    expect(oddsOf(signals, right, high)).toBeCloseTo((low + high) / 2, 6);
    let odds = high;
    const doubts = [0, 1, 2, 3, 4, 5].map(() => {
      odds = oddsOf(signals, right, odds);
      return uncertaintyOf(signals, right, odds, 1).doubt;
    });
    expect([...doubts].sort((a, b) => b - a)).toEqual(doubts);
    expect(doubts[0]).toBeGreaterThan(doubts[5] + 10);
    expect(odds - low).toBeLessThan((high - low) / 50);
  });

  it('tells the reasons that were measured, as what they are', () => {
    expect(at(0.99).reasons).toEqual([]);
    expect(at(0.6, { unlike: 0.3, strayed: 0.4 }, 40).reasons).toEqual(['two-ways', 'similar-colours', 'moved-far', 'far-from-anchor']);
    expect(at(0.99, {}, 1, 0.5).reasons).toEqual(['faint-edge']);
    // Somebody should look at what was taken away, where it was much.
    expect(at(0.99, { left: 6 })).toMatchObject({ doubt: 50, reasons: ['left-behind'] });
    expect(at(0.99, { left: 4 })).toEqual(at(0.99));
    expect(at(1, { area: 0 })).toEqual({ doubt: 100, reasons: ['vanished'], places: [] });
  });
});
