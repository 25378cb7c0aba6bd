/** Decoded pictures kept in memory up to a number of bytes; the least recently used go first. */
export class BitmapCache {
  private readonly held = new Map<string, ImageBitmap>();
  private bytes = 0;
  private readonly most: number;
  constructor(mostBytes: number) {
    this.most = mostBytes;
  }

  get(key: string): ImageBitmap | undefined {
    const bitmap = this.held.get(key);
    if (bitmap) {
      this.held.delete(key);
      this.held.set(key, bitmap);
    }
    return bitmap;
  }

  has(key: string): boolean {
    return this.held.has(key);
  }

  put(key: string, bitmap: ImageBitmap): void {
    this.drop(key);
    this.held.set(key, bitmap);
    this.bytes += bitmap.width * bitmap.height * 4;
    while (this.bytes > this.most && this.held.size > 1) this.drop(this.held.keys().next().value as string);
  }

  /** Lets go of all whose key does not satisfy `keep`. */
  retain(keep: (key: string) => boolean): void {
    for (const key of [...this.held.keys()]) if (!keep(key)) this.drop(key);
  }

  private drop(key: string): void {
    const bitmap = this.held.get(key);
    if (!bitmap) return;
    this.held.delete(key);
    this.bytes -= bitmap.width * bitmap.height * 4;
    bitmap.close();
  }
}
