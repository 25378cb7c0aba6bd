/**
 * What Peels have found, kept in files: for each key (what decided the frame) a folder with the alpha of every frame as PNG, and
 * an index of doubts, a line a frame. Frames never change under a key, so nothing here is ever out of date.
 */
import { appendFile, mkdir, readdir, readFile, rename, rm, stat, writeFile } from 'node:fs/promises';
import path from 'node:path';
import sharp from 'sharp';
import { type Gray, matteTo8 } from '../../core/image/picture.ts';
import { REASONS, type Reason } from '../../core/peel/doubt.ts';
import { type PeelInputs, peelKeys } from '../../core/peel/inputs.ts';
import { notFound } from '../problem.ts';

export interface FoundFrame {
  frame: number;
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
        found.set(numbers[0], { frame: numbers[0], anchor: numbers[1], doubt: numbers[2], reasons: words.filter(isReason), places: placesFrom(places) });
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

  async write(key: string, { frame, anchor, doubt, reasons, places }: FoundFrame, alpha: Gray): Promise<void> {
    const file = this.picture(key, frame);
    await mkdir(path.dirname(file), { recursive: true });
    const png = await sharp(matteTo8(alpha), { raw: { width: alpha.width, height: alpha.height, channels: 1 } })
      .toColourspace('b-w')
      .png({ compressionLevel: 3, palette: false })
      .toBuffer();
    // Two that write the same frame write the same picture; each has a file of its own until it is whole.
    const unfinished = `${file}.${process.pid}.${Math.random().toString(36).slice(2)}`;
    await writeFile(unfinished, png);
    await rename(unfinished, file);
    await appendFile(path.join(this.folder(key), 'index'), `${[frame, anchor, doubt, placesText(places), ...reasons].join(' ')}\n`);
  }
}
