import { LRUCache } from 'lru-cache';
import { describe, expect, it } from 'vitest';
import { memoised, memoisedPromise } from './memo.ts';

describe('what was made', () => {
  it('is kept as long as it is asked for, and is not made again', () => {
    const made: string[] = [];
    const cache = new LRUCache<string, string>({ max: 2 });
    const ask = (key: string) =>
      memoised(cache, key, () => {
        made.push(key);
        return key.toUpperCase();
      });
    expect(['a', 'b', 'a', 'c', 'a', 'b'].map(ask)).toEqual(['A', 'B', 'A', 'C', 'A', 'B']);
    expect(made).toEqual(['a', 'b', 'c', 'b']);
  });

  it('is made once by two who ask at the same time, and anew where making failed', async () => {
    const cache = new LRUCache<string, Promise<number>>({ max: 2 });
    let tries = 0;
    const ask = () =>
      memoisedPromise(cache, 'a', async () => {
        if (++tries === 1) throw new Error('no');
        return 7;
      });
    const both = await Promise.allSettled([ask(), ask()]);
    expect(both.map((b) => b.status)).toEqual(['rejected', 'rejected']);
    expect(tries).toBe(1);
    await expect(ask()).resolves.toBe(7);
  });
});
