/** What was made, kept in a cache under a key. */
import type { LRUCache } from 'lru-cache';

type Value = NonNullable<unknown>;

/** The value under a key, made where it is not there. */
export function memoised<K extends Value, V extends Value>(cache: LRUCache<K, V>, key: K, make: () => V): V {
  const found = cache.get(key);
  if (found !== undefined) return found;
  const value = make();
  cache.set(key, value);
  return value;
}

/** The same of what takes a while to make; what could not be made is made anew when it is asked for again. */
export function memoisedPromise<K extends Value, V>(cache: LRUCache<K, Promise<V>>, key: K, make: () => Promise<V>): Promise<V> {
  return memoised(cache, key, () => {
    const value = make();
    value.catch(() => {
      if (cache.peek(key) === value) cache.delete(key);
    });
    return value;
  });
}
