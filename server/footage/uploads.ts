/** Uploads: files streamed to disk as they come, then made into the original of a plate. */
import { randomUUID } from 'node:crypto';
import { createWriteStream } from 'node:fs';
import { mkdir, readdir, rename, rm, stat } from 'node:fs/promises';
import path from 'node:path';
import { Readable, Transform } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import type { Config } from '../config.ts';
import { notFound, Problem } from '../problem.ts';
import { probeFile } from './probe.ts';
import { type Examined, examineSequence } from './sequence.ts';
import { diskFull, shownName, sizeText, storedName } from './stored-name.ts';
import { unpack } from './zip.ts';

const UPLOAD_ID = /^[0-9a-f-]{36}$/;

export class Uploads {
  private readonly root: string;
  private readonly limits: Config['limits'];
  constructor(config: Config) {
    this.root = path.join(config.dataDir, 'uploads');
    this.limits = config.limits;
  }

  directory(id: string): string {
    if (!UPLOAD_ID.test(id)) throw notFound('upload');
    return path.join(this.root, id);
  }

  async create(): Promise<string> {
    const id = randomUUID();
    await mkdir(this.directory(id), { recursive: true });
    return id;
  }

  async discard(id: string): Promise<void> {
    await rm(this.directory(id), { recursive: true, force: true });
  }

  /** Removes uploads that were begun but never made into a shot. */
  async removeOlderThan(milliseconds: number): Promise<void> {
    for (const name of await readdir(this.root).catch(() => [])) {
      const dir = path.join(this.root, name);
      const info = await stat(dir).catch(() => null);
      if (info && Date.now() - info.mtimeMs > milliseconds) await rm(dir, { recursive: true, force: true });
    }
  }

  /** Streams one file of an upload to disk. `position` is its place among the files; names are never used as paths. */
  async receive(id: string, position: number, name: string, body: ReadableStream<Uint8Array> | null, length: number | null): Promise<void> {
    const dir = this.directory(id);
    if (!(await stat(dir).catch(() => null))) throw notFound('upload');
    if (!Number.isInteger(position) || position < 0 || position >= this.limits.filesInSequence)
      throw new Problem('too-many-files', `At most ${this.limits.filesInSequence} files can be brought in at once.`, 413);
    if (!body || length === 0) throw new Problem('empty-file', `"${name}" is empty: there is nothing in it to bring in.`, 422);
    const tooLarge = () =>
      new Problem(
        'too-large',
        `"${name}" is larger than the ${sizeText(this.limits.fileBytes)} that are allowed for one file. Raise MOTTREL_MAX_FILE_MB to take it.`,
        413,
      );
    if (length !== null && length > this.limits.fileBytes) throw tooLarge();
    const target = path.join(dir, storedName(position, name));
    const limit = this.limits.fileBytes;
    let bytes = 0;
    const guard = new Transform({
      transform(chunk: Buffer, _encoding, done) {
        bytes += chunk.length;
        done(bytes > limit ? tooLarge() : null, chunk);
      },
    });
    try {
      await pipeline(Readable.fromWeb(body as import('node:stream/web').ReadableStream), guard, createWriteStream(`${target}.part`));
      if (length !== null && bytes !== length) throw new Problem('cut-off', `Only part of "${name}" arrived. Please send it again.`, 400);
      if (bytes === 0) throw new Problem('empty-file', `"${name}" is empty: there is nothing in it to bring in.`, 422);
      await rename(`${target}.part`, target);
    } catch (error) {
      await rm(`${target}.part`, { force: true });
      throw diskFull(error) ?? error;
    }
  }

  /** Looks at what was uploaded and makes it ready to be an original: unpacks a zip, numbers a sequence, probes. */
  async examine(id: string, rate: string): Promise<Examined> {
    const dir = this.directory(id);
    let names = (await readdir(dir).catch(() => [])).filter((n) => !n.endsWith('.part')).sort();
    if (names.length === 0) throw new Problem('no-file', 'No file was chosen.', 422);
    if (names.length === 1 && /\.zip$/i.test(names[0])) {
      const zip = shownName(names[0]);
      await unpack(path.join(dir, names[0]), dir, zip, this.limits);
      await rm(path.join(dir, names[0]));
      names = (await readdir(dir)).sort();
      return examineSequence(dir, names, rate, zip, this.limits);
    }
    if (names.length > 1) return examineSequence(dir, names, rate, shownName(names[0]), this.limits);
    const shown = shownName(names[0]);
    const stored = `original${path.extname(names[0]).toLowerCase()}`;
    const probe = await probeFile(path.join(dir, names[0]), shown, this.limits);
    await rename(path.join(dir, names[0]), path.join(dir, stored));
    return { probe: { ...probe, input: stored }, sourceName: shown, firstNumber: 0 };
  }
}
