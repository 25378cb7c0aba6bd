/** Uploads: files streamed to disk as they come, then made into the original of a plate. */
import { randomUUID } from 'node:crypto';
import { createWriteStream } from 'node:fs';
import { mkdir, readdir, rename, rm, stat } from 'node:fs/promises';
import path from 'node:path';
import { Readable, Transform } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import yauzl from 'yauzl';
import { LAST_FRAME } from '../../core/time/animated.ts';
import type { Config } from '../config.ts';
import { notFound, Problem } from '../problem.ts';
import { type Probe, probeFile } from './probe.ts';

const UPLOAD_ID = /^[0-9a-f-]{36}$/;
const PICTURE = /\.(png|jpe?g|tiff?|exr|dpx|bmp|webp)$/i;

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
  async examine(id: string, rate: string): Promise<{ probe: Probe; sourceName: string; firstNumber: number }> {
    const dir = this.directory(id);
    let names = (await readdir(dir).catch(() => [])).filter((n) => !n.endsWith('.part')).sort();
    if (names.length === 0) throw new Problem('no-file', 'No file was chosen.', 422);
    if (names.length === 1 && /\.zip$/i.test(names[0])) {
      const zip = shownName(names[0]);
      await unpack(path.join(dir, names[0]), dir, zip, this.limits);
      await rm(path.join(dir, names[0]));
      names = (await readdir(dir)).sort();
      return this.examineSequence(dir, names, rate, zip);
    }
    if (names.length > 1) return this.examineSequence(dir, names, rate, shownName(names[0]));
    const shown = shownName(names[0]);
    const stored = `original${path.extname(names[0]).toLowerCase()}`;
    const probe = await probeFile(path.join(dir, names[0]), shown, this.limits);
    await rename(path.join(dir, names[0]), path.join(dir, stored));
    return { probe: { ...probe, input: stored }, sourceName: shown, firstNumber: 0 };
  }

  private async examineSequence(dir: string, names: string[], rate: string, sourceName: string) {
    const refuse = (message: string) => new Problem('bad-sequence', message, 422);
    const numbered = names.map((stored): { stored: string; shown: string; number: bigint; extension: string } => {
      const shown = shownName(stored);
      const match = /(\d+)(?=\.[^.]+$)/.exec(shown);
      if (!PICTURE.test(shown) || !match)
        throw refuse(`"${shown}" is not a numbered picture. A sequence is pictures of one kind with a number at the end of the name, such as plate.0001.png.`);
      return { stored, shown, number: BigInt(match[1]), extension: path.extname(shown).toLowerCase() };
    });
    numbered.sort((a, b) => (a.number < b.number ? -1 : a.number > b.number ? 1 : 0));
    for (const [i, file] of numbered.entries()) {
      if (file.extension !== numbered[0].extension)
        throw refuse(`The files are of different kinds ("${numbered[0].shown}", "${file.shown}"). Choose one sequence at a time.`);
      if (i > 0 && file.number === numbered[i - 1].number)
        throw refuse(`Two files have the number ${file.number}: "${numbered[i - 1].shown}" and "${file.shown}". Choose one sequence at a time.`);
      if (i > 0 && file.number !== numbered[i - 1].number + 1n)
        throw refuse(`The sequence has a gap: frame ${numbered[i - 1].number + 1n} is missing. Add it, or choose a stretch without gaps.`);
    }
    const probe = await probeFile(path.join(dir, numbered[0].stored), numbered[0].shown, this.limits, {
      pattern: `%07d${numbered[0].extension}`,
      count: numbered.length,
      rate,
    }).catch((error: unknown) => {
      if (error instanceof RangeError) throw refuse(error.message);
      throw error;
    });
    for (const [i, file] of numbered.entries())
      await rename(path.join(dir, file.stored), path.join(dir, `${String(i).padStart(7, '0')}${numbered[0].extension}`));
    const first = numbered[0].number;
    if (first + BigInt(numbered.length) <= BigInt(LAST_FRAME)) return { probe, sourceName, firstNumber: Number(first) };
    // Such numbers are dates or times, more often than frames.
    const notes = [...probe.notes, `Its first number, ${first}, is larger than a frame can have (${LAST_FRAME}): its frames are numbered from 0.`];
    return { probe: { ...probe, notes }, sourceName, firstNumber: 0 };
  }
}

/** What to say where the disk is full; null where that is not what happened. */
const diskFull = (error: unknown): Problem | null =>
  (error as NodeJS.ErrnoException).code === 'ENOSPC' ? new Problem('disk-full', 'The disk is full. Make room and send the file again.', 507) : null;

const sizeText = (bytes: number): string => (bytes >= 1024 ** 3 ? `${Math.round(bytes / 1024 ** 3)} GB` : `${Math.round(bytes / 1024 ** 2)} MB`);

/** Bytes of a name that a file system takes are 255; what goes before and behind is ours. */
const NAME_BYTES = 200;

/** The end of a text that fits into so many bytes of UTF-8, cut between letters. */
function endWithin(text: string, bytes: number): string {
  const letters = [...text];
  while (Buffer.byteLength(letters.join('')) > bytes) letters.shift();
  return letters.join('');
}

/** Stored as "0000012~name": the position keeps names apart and in order; the rest is for messages only. */
function storedName(position: number, name: string): string {
  const safe = endWithin(path.basename(name).replace(/[^\p{L}\p{N}._ -]/gu, '_'), NAME_BYTES) || 'file';
  return `${String(position).padStart(7, '0')}~${safe}`;
}
const shownName = (stored: string): string => stored.replace(/^\d{7}~/, '');

/** Unpacks the pictures of a zip flat into `dir`, under names of our own. */
async function unpack(file: string, dir: string, shown: string, limits: Config['limits']): Promise<void> {
  const bad = (message: string) => new Problem('bad-zip', `"${shown}" ${message}`, 422);
  let zip: yauzl.ZipFile;
  try {
    zip = await new Promise<yauzl.ZipFile>((resolve, reject) =>
      yauzl.open(file, { lazyEntries: true, autoClose: false }, (error, opened) => (error || !opened ? reject(error) : resolve(opened))),
    );
  } catch {
    throw bad('cannot be opened as a zip file; it may be cut off.');
  }
  try {
    let position = 0;
    let bytes = 0;
    for await (const entry of entriesOf(zip, bad)) {
      const name = path.posix.basename(entry.fileName);
      if (entry.fileName.endsWith('/') || name.startsWith('.') || entry.fileName.startsWith('__MACOSX/')) continue;
      bytes += entry.uncompressedSize;
      if (bytes > limits.unpackedBytes) throw bad('unpacks to more than is allowed.');
      if (++position > limits.filesInSequence) throw bad(`holds more than ${limits.filesInSequence} files.`);
      const stream = await new Promise<Readable>((resolve, reject) =>
        zip.openReadStream(entry, (error, opened) => (error || !opened ? reject(bad('is damaged.')) : resolve(opened))),
      );
      await pipeline(stream, createWriteStream(path.join(dir, storedName(position, name)))).catch((error: unknown) => {
        throw diskFull(error) ?? bad('is damaged.');
      });
    }
    if (position === 0) throw bad('has no pictures in it.');
  } finally {
    zip.close();
  }
}

async function* entriesOf(zip: yauzl.ZipFile, bad: (message: string) => Problem): AsyncGenerator<yauzl.Entry> {
  for (let i = 0; i < zip.entryCount; i++) {
    yield await new Promise<yauzl.Entry>((resolve, reject) => {
      zip.once('entry', resolve);
      zip.once('error', () => reject(bad('is damaged.')));
      zip.readEntry();
    });
    zip.removeAllListeners('error');
  }
}
