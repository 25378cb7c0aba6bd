/** Bytes in the browser's cache, over reloads. Where the browser keeps nothing, or its disk is full, there is nothing: what was kept is made anew. */
export class Kept {
  private opened: Promise<Cache> | null = null;
  private puts = 0;
  private readonly open: () => Promise<Cache>;
  private readonly most: (bytes: number) => number;
  private readonly every: number;

  /**
   * @param open the cache in which they lie
   * @param most how many are kept of about so many bytes each; the oldest go first
   * @param every after how many it is looked whether there are too many
   */
  constructor(open: () => Promise<Cache>, most: (bytes: number) => number, every = 1) {
    this.open = open;
    this.most = most;
    this.every = every;
  }

  private cache(): Promise<Cache> | null {
    if (typeof caches === 'undefined') return null;
    this.opened ??= this.open();
    return this.opened;
  }

  async get(address: string): Promise<ArrayBuffer | null> {
    try {
      const response = await (await this.cache())?.match(address);
      return response ? await response.arrayBuffer() : null;
    } catch {
      return null;
    }
  }

  async put(address: string, bytes: Uint8Array<ArrayBuffer> | Uint8ClampedArray<ArrayBuffer>): Promise<void> {
    try {
      const cache = await this.cache();
      if (!cache) return;
      await cache.put(address, new Response(bytes));
      if (this.puts++ % this.every !== 0) return;
      const keys = await cache.keys();
      for (const old of keys.slice(0, Math.max(0, keys.length - this.most(bytes.length)))) await cache.delete(old);
    } catch {
      // A full disk or a closed cache: it is made anew next time.
    }
  }
}
