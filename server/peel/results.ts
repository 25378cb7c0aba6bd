/**
 * What Peels have found, kept in files: for each key (what decided the frame) a folder with the alpha of every frame as PNG, what
 * carrying goes on from, and an index of doubts, a line a frame. Frames never change under a key, so nothing here is ever out of
 * date.
 */
import { appendFile, mkdir, readdir, readFile, rm, stat } from 'node:fs/promises';
import path from 'node:path';
import sharp from 'sharp';
import writeFileAtomic from 'write-file-atomic';
import { type Gray, matteTo8 } from '../../core/image/picture.ts';
import { type PeelInputs, peelKeys, stateKeys } from '../../core/peel/results/inputs.ts';
import { packState, type StateStore, unpackState } from '../../core/peel/results/propagation-state.ts';
import { REASONS, type Reason } from '../../core/peel/uncertainty/uncertainty.ts';
import { notFound } from '../problem.ts';

export interface FoundFrame {
  frame: number;
  /** The name it is kept under. */
  key: string;
  /** The painted frame it was carried from. */
  anchor: number;
  doubt: number;
  reasons: Reason[];
  /** Where on the edge: x, y of places, shares of the picture's width and height. */
  places: number[];
}

/** Places as "x,y,x,y" in thousandths; "-" where there are none. */
const placesFrom = (text: string): number[] => (text === '-' ? [] : text.split(',').map((v) => Number(v) / 1000));
const placesText = (places: readonly number[]): string => (places.length === 0 ? '-' : places.map((v) => Math.round(1000 * v)).join());

/** Writes a file that is there as a whole or not at all. What is lost with the machine's power is computed again. */
async function writeWhole(file: string, bytes: Uint8Array): Promise<void> {
  await mkdir(path.dirname(file), { recursive: true });
  await writeFileAtomic(file, Buffer.from(bytes.buffer, bytes.byteOffset, bytes.byteLength), { fsync: false });
}

const isReason = (word: string): word is Reason => Object.hasOwn(REASONS, word);

export class PeelResults {
  private readonly dir: string;
  constructor(dir: string) {
    this.dir = dir;
  }

  private folder(key: string): string {
    if (!/^[0-9a-f]{32}$/.test(key)) throw notFound('frame');
    return path.join(this.dir, key);
  }
  private picture = (key: string, frame: number): string => path.join(this.folder(key), `${frame}.png`);

  /** All frames that are there under a key. A line that was cut off when the machine went down counts for nothing. */
  private async list(key: string): Promise<Map<number, FoundFrame>> {
    const text = await readFile(path.join(this.folder(key), 'index'), 'utf8').catch(() => '');
    const found = new Map<number, FoundFrame>();
    for (const line of text.split('\n').slice(0, -1)) {
      const [frame, anchor, doubt, places = '-', ...words] = line.split(' ');
      const numbers = [frame, anchor, doubt].map(Number);
      if (numbers.every(Number.isInteger))
        found.set(numbers[0], { frame: numbers[0], key, anchor: numbers[1], doubt: numbers[2], reasons: words.filter(isReason), places: placesFrom(places) });
    }
    return found;
  }

  /** Frames from `first` to `last` that are there for these strokes and settings, rising. */
  async found(inputs: PeelInputs, first: number, last: number): Promise<FoundFrame[]> {
    const keyOf = peelKeys(inputs);
    const listed = new Map<string, Map<number, FoundFrame>>();
    const out: FoundFrame[] = [];
    for (let frame = first; frame <= last; frame++) {
      const key = keyOf(frame);
      if (!key) return [];
      let frames = listed.get(key);
      if (!frames) {
        frames = await this.list(key);
        listed.set(key, frames);
      }
      const one = frames.get(frame);
      if (one) out.push(one);
    }
    return out;
  }

  /** The PNG of a frame; throws "not found" where it was not carried there. */
  read(key: string, frame: number): Promise<Buffer> {
    return readFile(this.picture(key, frame)).catch(() => {
      throw notFound('frame');
    });
  }

  /** What carrying goes by, kept beside what it found. What cannot be read any more counts as not there. */
  states(inputs: PeelInputs): StateStore {
    const keyOf = stateKeys(inputs);
    const file = (anchor: number, frame: number) => path.join(this.folder(keyOf(anchor, frame)), `${frame}.state`);
    return {
      async get(anchor, frame) {
        try {
          return unpackState(await readFile(file(anchor, frame)));
        } catch {
          return null;
        }
      },
      put: (anchor, frame, state) => writeWhole(file(anchor, frame), packState(state)),
    };
  }

  /** Keys to which nothing was added since `before`. */
  async keysBefore(before: Date): Promise<string[]> {
    const old: string[] = [];
    for (const key of await readdir(this.dir).catch(() => [] as string[])) {
      const info = await stat(path.join(this.dir, key)).catch(() => null);
      if (info && info.mtime < before) old.push(key);
    }
    return old;
  }

  forget = (key: string): Promise<void> => rm(this.folder(key), { recursive: true, force: true });

  async write({ frame, key, anchor, doubt, reasons, places }: FoundFrame, alpha: Gray): Promise<void> {
    const png = await sharp(matteTo8(alpha), { raw: { width: alpha.width, height: alpha.height, channels: 1 } })
      .toColourspace('b-w')
      .png({ compressionLevel: 3, palette: false })
      .toBuffer();
    await writeWhole(this.picture(key, frame), png);
    await appendFile(path.join(this.folder(key), 'index'), `${[frame, anchor, doubt, placesText(places), ...reasons].join(' ')}\n`);
  }
}
