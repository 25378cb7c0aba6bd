import { describe, expect, it } from 'vitest';
import { deliveredName, deliveredNumber, deliveredSize, deliverySchema, PLAIN_DELIVERY, withHandles } from './delivery.ts';

const words = { shot: 'Courier on the quay', subject: 'Säule 2', what: 'matte', size: '960x540', first: '1001', last: '1024' };

describe('names of files', () => {
  it('stand for what they say, in letters that every file system takes', () => {
    expect(deliveredName('{shot}_{subject}-{what}.v2', PLAIN_DELIVERY, words)).toBe('Courier-on-the-quay_Saule-2-matte.v2');
    expect(deliveredName('{what} {first}-{last} {size}', PLAIN_DELIVERY, words)).toBe('matte-1001-1024-960x540');
  });
  it('have the number of the picture where there is one for each frame, at the end if nothing says where', () => {
    expect(deliveredName('a_{frame}_b', { digits: 6 }, words, 42)).toBe('a_000042_b');
    expect(deliveredName('{what}', { digits: 4 }, words, 1001)).toBe('matte.1001');
    expect(deliveredName('{what}', { digits: 2 }, words, 1001)).toBe('matte.1001');
  });
  it('leave the number out where there is one file, with what stands before it', () => {
    expect(deliveredName('{shot}.{frame}', PLAIN_DELIVERY, words)).toBe('Courier-on-the-quay');
    expect(deliveredName('{frame}_v2', PLAIN_DELIVERY, words)).toBe('_v2');
  });
  it('are refused in words where they lead elsewhere or stand for nothing', () => {
    for (const name of ['../x', 'a/b', '.hidden', '{shot}/{what}', '-o x', 'a\\b', 'a\u0000b'])
      expect(deliverySchema.safeParse({ name }).error?.issues[0].message).toMatch(/It names no folder/);
    expect(deliverySchema.safeParse({ name: '{shots}' }).error?.issues[0].message).toMatch(/Only these words.*\{shot\}/);
  });
});

describe('sizes, handles and numbers', () => {
  it('of halves and quarters are even, a width takes its height along', () => {
    expect(deliveredSize({ size: 'full' }, { width: 961, height: 541 })).toEqual({ width: 961, height: 541 });
    expect(deliveredSize({ size: 'half' }, { width: 961, height: 541 })).toEqual({ width: 480, height: 270 });
    expect(deliveredSize({ size: 'quarter' }, { width: 960, height: 540 })).toEqual({ width: 240, height: 136 });
    expect(deliveredSize({ size: 1920 }, { width: 960, height: 540 })).toEqual({ width: 1920, height: 1080 });
  });
  it('handles end where the shot does', () => {
    expect(withHandles({ first: 5, last: 10 }, 8, 100)).toEqual({ first: 0, last: 18 });
    expect(withHandles({ first: 90, last: 99 }, 8, 100)).toEqual({ first: 82, last: 99 });
  });
  it('numbers are those of the plate, or begin where they are asked to', () => {
    expect(deliveredNumber({ start: null }, 3, 1001)).toBe(1004);
    expect(deliveredNumber({ start: 0 }, 3, 1001)).toBe(3);
  });
  it.each([
    [{ size: 5 }, 'Width: a whole number from 16 to 16384.'],
    [{ size: Number.NaN }, 'Width: a whole number from 16 to 16384.'],
    [{ size: 'third' }, 'Width: a whole number from 16 to 16384.'],
    [{ handles: 1.5 }, 'Handles: a whole number from 0 to 10000.'],
    [{ digits: 0 }, 'Digits: a whole number from 1 to 9.'],
    [{ start: -1 }, 'First number: a whole number from 0 to 99999999.'],
  ])('%o is refused in words', (asked, message) => {
    expect(deliverySchema.safeParse(asked).error?.issues[0].message).toBe(message);
  });
  it('what says nothing is handed over plainly', () => {
    expect(deliverySchema.parse({})).toEqual(PLAIN_DELIVERY);
  });
});
