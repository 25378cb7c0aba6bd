/** What was made, kept in a cache under a key. */
import type { LRUCache } from 'lru-cache';

type Value = NonNullable<unknown>;

/** The value under a key, made where it is not there. @param size of it, where the cache is bounded by sizes */
export function memoised<K extends Value, V extends Value>(cache: LRUCache<K, V>, key: K, make: () => V, size?: number): V {
  const found = cache.get(key);
  if (found !== undefined) return found;
  const value = make();
  cache.set(key, value, size === undefined ? {} : { size });
  return value;
}

/** The same of what takes a while to make; what could not be made is made anew when it is asked for again. */
export function memoisedPromise<K extends Value, V>(cache: LRUCache<K, Promise<V>>, key: K, make: () => Promise<V>, size?: number): Promise<V> {
  const made = () => {
    const value = make();
    value.catch(() => {
      if (cache.peek(key) === value) cache.delete(key);
    });
    return value;
  };
  return memoised(cache, key, made, size);
}
