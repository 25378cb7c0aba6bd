import { describe, expect, it } from 'vitest';
import { BitmapCache } from './bitmap-cache.ts';

const picture = () => {
  const made = {
    width: 10,
    height: 10,
    closed: false,
    close: () => {
      made.closed = true;
    },
  };
  return made;
};
const asBitmap = (p: ReturnType<typeof picture>) => p as unknown as ImageBitmap;

describe('BitmapCache', () => {
  it('keeps to its bytes, letting the least recently used go and freeing them', () => {
    const cache = new BitmapCache(1200);
    const all = ['a', 'b', 'c', 'd'].map((key) => ({ key, picture: picture() }));
    for (const { key, picture: p } of all.slice(0, 3)) cache.put(key, asBitmap(p));
    cache.get('a');
    cache.put('d', asBitmap(all[3].picture));
    expect(['a', 'b', 'c', 'd'].map((k) => cache.has(k))).toEqual([true, false, true, true]);
    expect(all.map((x) => x.picture.closed)).toEqual([false, true, false, false]);
  });

  it('holds one picture even where it is larger than all that is allowed', () => {
    const cache = new BitmapCache(10);
    cache.put('a', asBitmap(picture()));
    expect(cache.has('a')).toBe(true);
  });

  it('frees what is replaced and what is no longer wanted', () => {
    const cache = new BitmapCache(10_000);
    const [old, fresh, other] = [picture(), picture(), picture()];
    cache.put('1/a', asBitmap(old));
    cache.put('1/a', asBitmap(fresh));
    cache.put('2/b', asBitmap(other));
    expect(old.closed).toBe(true);
    cache.retain((key) => key.startsWith('2/'));
    expect([fresh.closed, other.closed, cache.has('2/b')]).toEqual([true, false, true]);
  });
});
