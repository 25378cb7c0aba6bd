import { LRUCache } from 'lru-cache';

/** Decoded pictures kept in memory up to a number of bytes; the least recently used go first, and are closed. */
export class BitmapCache {
  private readonly bitmaps: LRUCache<string, ImageBitmap>;
  constructor(mostBytes: number) {
    this.bitmaps = new LRUCache({
      maxSize: mostBytes,
      // One that is larger than all there may be is kept all the same: it is in sight.
      sizeCalculation: ({ width, height }) => Math.max(1, Math.min(mostBytes, width * height * 4)),
      dispose: (bitmap) => bitmap.close(),
    });
  }

  get = (key: string): ImageBitmap | undefined => this.bitmaps.get(key);

  has = (key: string): boolean => this.bitmaps.has(key);

  keys = (): Iterable<string> => this.bitmaps.keys();

  put(key: string, bitmap: ImageBitmap): void {
    this.bitmaps.set(key, bitmap);
  }

  /** Lets go of all whose key does not satisfy `keep`. */
  retain(keep: (key: string) => boolean): void {
    for (const key of [...this.bitmaps.keys()]) if (!keep(key)) this.bitmaps.delete(key);
  }
}
