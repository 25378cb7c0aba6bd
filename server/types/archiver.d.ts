/** The part of archiver 8 that is used; the package has no types of its own. */
declare module 'archiver' {
  import type { Readable } from 'node:stream';
  export class ZipArchive extends Readable {
    constructor(options?: { store?: boolean });
    file(path: string, data: { name: string }): this;
    finalize(): Promise<void>;
  }
}
