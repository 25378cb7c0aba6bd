import { describe, expect, it } from 'vitest';
import { Newest, NewestPromises } from './newest.ts';

describe('the newest of what was made', () => {
  it('are kept, those asked for last, and are not made again', () => {
    const made: string[] = [];
    const kept = new Newest<string>(2);
    const ask = (name: string) =>
      kept.get(name, () => {
        made.push(name);
        return name.toUpperCase();
      });
    expect(['a', 'b', 'a', 'c', 'a', 'b'].map(ask)).toEqual(['A', 'B', 'A', 'C', 'A', 'B']);
    expect(made).toEqual(['a', 'b', 'c', 'b']);
    expect([...kept].map(([name]) => name)).toEqual(['a', 'b']);
  });

  it('are made anew where making failed', async () => {
    const kept = new NewestPromises<number>(2);
    await expect(kept.get('a', async () => Promise.reject(new Error('no')))).rejects.toThrow('no');
    await expect(kept.get('a', async () => 7)).resolves.toBe(7);
  });
});
