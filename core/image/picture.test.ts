import { describe, expect, it } from 'vitest';
import { fromGray8, matteTo8, newGray, resized } from './picture.ts';

describe('resized', () => {
  it('keeps what is even, and goes evenly between the centres of pixels', () => {
    const ramp = newGray(8, 4);
    for (let i = 0; i < 32; i++) ramp.data[i] = (i % 8) / 7;
    const { data, width, height } = resized(ramp, { width: 32, height: 8 });
    expect([width, height]).toEqual([32, 8]);
    for (let y = 0; y < 8; y++)
      for (let x = 0; x < 32; x++) {
        const place = Math.max(0, Math.min(7, (x + 0.5) / 4 - 0.5));
        expect(data[y * 32 + x]).toBeCloseTo(place / 7, 6);
      }
  });

  it('is the picture itself at its own size', () => {
    const gray = newGray(5, 3);
    expect(resized(gray, { width: 5, height: 3 })).toBe(gray);
  });

  it('bytes come back from a gray of bytes', () => {
    const bytes = Uint8Array.from({ length: 256 }, (_, i) => i);
    expect([...matteTo8(fromGray8(bytes, { width: 16, height: 16 }))]).toEqual([...bytes]);
  });
});
