/** Unpacking the pictures of a zip, flat, under names of our own. What cannot be taken is refused as what it is. */
import { createWriteStream } from 'node:fs';
import path from 'node:path';
import type { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import yauzl from 'yauzl';
import type { Config } from '../config.ts';
import { Problem } from '../problem.ts';
import { diskFull, sizeText, storedName } from './stored-name.ts';

const ENCRYPTED = 'is protected by a password. Unpack it, and bring in its pictures or a zip without one.';

/** What the reader says, as what it means for the one who sent it. */
function inWords(error: Error): string {
  const { message } = error;
  if (/encrypt/.test(message)) return ENCRYPTED;
  if (/absolute path|invalid relative path|invalid characters in fileName/.test(message))
    return 'holds a file whose name leads out of it. Nothing of it was unpacked; make it anew from the pictures alone.';
  if (/unsupported compression method/.test(message)) return 'is packed in a way that is not supported. Make it anew with the usual one (deflate), or without.';
  if (/multi-disk/.test(message)) return 'is one piece of a zip in several. Join them, and send the whole.';
  if (/not a zip file|truncated/.test(message)) return 'cannot be opened as a zip file; it may be cut off.';
  return 'is damaged.';
}

/** @throws Problem in words where it is damaged, protected, too large, or holds nothing */
export async function unpack(file: string, dir: string, shown: string, limits: Config['limits']): Promise<void> {
  const bad = (message: string) => new Problem('bad-zip', `"${shown}" ${message}`, 422);
  const told = (error: unknown) => (error instanceof Problem ? error : bad(inWords(error as Error)));
  const zip = await new Promise<yauzl.ZipFile>((resolve, reject) =>
    yauzl.open(file, { lazyEntries: true, autoClose: false }, (error, opened) => (error || !opened ? reject(told(error)) : resolve(opened))),
  );
  try {
    let position = 0;
    let bytes = 0;
    for await (const entry of entriesOf(zip, told)) {
      const name = path.posix.basename(entry.fileName);
      if (entry.fileName.endsWith('/') || name.startsWith('.') || entry.fileName.startsWith('__MACOSX/')) continue;
      if (entry.isEncrypted()) throw bad(ENCRYPTED);
      bytes += entry.uncompressedSize;
      if (bytes > limits.unpackedBytes)
        throw bad(`unpacks to more than the ${sizeText(limits.unpackedBytes)} that are allowed. Raise MOTTREL_MAX_UNPACKED_MB to take it.`);
      if (++position > limits.filesInSequence) throw bad(`holds more than ${limits.filesInSequence} files.`);
      const stream = await new Promise<Readable>((resolve, reject) =>
        zip.openReadStream(entry, (error, opened) => (error || !opened ? reject(told(error)) : resolve(opened))),
      );
      await pipeline(stream, createWriteStream(path.join(dir, storedName(position, name)))).catch((error: unknown) => {
        throw diskFull(error) ?? bad(`is damaged: "${name}" cannot be unpacked.`);
      });
    }
    if (position === 0) throw bad('has no pictures in it.');
  } finally {
    zip.close();
  }
}

async function* entriesOf(zip: yauzl.ZipFile, told: (error: unknown) => Problem): AsyncGenerator<yauzl.Entry> {
  for (let i = 0; i < zip.entryCount; i++) {
    yield await new Promise<yauzl.Entry>((resolve, reject) => {
      zip.once('entry', resolve);
      zip.once('error', (error) => reject(told(error)));
      zip.readEntry();
    });
    zip.removeAllListeners('error');
  }
}
