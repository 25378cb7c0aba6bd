/** The pictures and mattes that an output is made of, from the footage as it was brought in. */

import { LRUCache } from 'lru-cache';
import sharp from 'sharp';
import { NotShown, type OtherShot, pictureMadeIn } from '../../core/compose/other-shots.ts';
import { fenceOf, taskOf } from '../../core/document/fence.ts';
import type { Made, PeelPart, ShownFootage } from '../../core/document/schema.ts';
import { type ByteRgb, pictureOfBytes } from '../../core/image/in-room.ts';
import { fromBytes, fromGray8, type Gray, newGray, type Rgba, type Size } from '../../core/image/picture.ts';
import { memoisedPromise } from '../../core/math/memo.ts';
import type { Letters, Sources, Weight } from '../../core/matte/sources.ts';
import { peelKeys } from '../../core/peel/results/inputs.ts';
import type { FrameRange } from '../../core/time/ranges.ts';
import { type ReadAs, readFrames } from '../footage/read-plate.ts';
import { atPlateSize, carryPeel } from '../peel/carry-peel.ts';
import { PeelResults } from '../peel/results.ts';
import { Problem } from '../problem.ts';
import type { Original, OutputTask } from './task.ts';
import { framesOf } from './timed.ts';
import { letters } from './titles.ts';

/** Reads footage frame after frame in rising order, with one decoder; the newest frame is kept, any other step begins anew. */
class FrameReader {
  private frames: AsyncGenerator<Buffer> | null = null;
  private newest: { frame: number; bytes: Buffer } | null = null;
  private readonly from: FootageAt;
  constructor(from: FootageAt) {
    this.from = from;
  }

  /** Whether a frame is the newest one, or the next. */
  isNear(frame: number): boolean {
    return this.newest !== null && (frame === this.newest.frame || frame === this.newest.frame + 1);
  }

  async read(frame: number): Promise<Buffer> {
    if (this.newest?.frame === frame) return this.newest.bytes;
    const { original, to, size, signal } = this.from;
    if (!this.frames || !this.isNear(frame)) {
      await this.close();
      this.frames = readFrames(original.probe, original.originals, size, frame, signal, to);
    }
    const { value, done } = await this.frames.next();
    if (done || !value) throw new Problem('footage-short', `The footage ends before frame ${frame}.`, 500);
    this.newest = { frame, bytes: value };
    return value;
  }

  async close(): Promise<void> {
    await this.frames?.return(undefined);
    this.frames = null;
    this.newest = null;
  }
}

interface FootageAt {
  original: Original;
  to: ReadAs;
  size: Size;
  signal?: AbortSignal;
}

/** Decoders of one footage at once: as many stretches of it can show in one picture and be read in their order. */
const DECODERS = 3;

/** Frames of one footage at one size, read by few decoders, each of which goes on where it is. */
class FootageReader {
  private readers: FrameReader[] = [];
  private readonly from: FootageAt;
  constructor(from: FootageAt) {
    this.from = from;
  }

  read(frame: number): Promise<Buffer> {
    const near = this.readers.find((r) => r.isNear(frame));
    const reader = near ?? (this.readers.length < DECODERS ? new FrameReader(this.from) : this.readers[0]);
    // The one that was used the longest ago comes first.
    this.readers = [...this.readers.filter((r) => r !== reader), reader];
    return reader.read(frame);
  }

  async close(): Promise<void> {
    for (const reader of this.readers) await reader.close();
  }
}

/** Mattes kept. */
const GRAYS_KEPT = 8;

/** What pictures are made from, and the frames that are wanted of them. */
type OriginalsTask = Pick<OutputTask, 'document' | 'footage' | 'others' | 'peel' | 'shots'> & { spec: FrameRange };

/** The plate and the imported mattes of a task, from their originals. */
export class Originals implements Sources {
  private readonly task: OriginalsTask;
  private readonly signal?: AbortSignal;
  private readonly readers = new Map<string, FootageReader>();
  private readonly grays = new LRUCache<string, Promise<Gray>>({ max: GRAYS_KEPT });
  /** Other shots that this one shows, by id. */
  private readonly shown = new Map<string, OtherShot & { sources: Originals }>();
  /** The shots, this one first, that are shown what comes from here. */
  private readonly above: readonly string[];
  constructor(task: OriginalsTask, signal?: AbortSignal, above: readonly string[] = []) {
    this.task = task;
    this.signal = signal;
    this.above = above;
  }

  async plate(frame: number, size: Size): Promise<Rgba> {
    return pictureOfBytes(null, await this.plateBytes(frame, size));
  }

  async plateBytes(frame: number, size: Size): Promise<ByteRgb> {
    if (!this.task.footage) throw new Problem('no-footage', 'This output shows the plate, so it needs the footage.', 400);
    return { ...size, bytes: await this.read('', this.task.footage, 'rgb', frame, size), channels: 3 };
  }

  async imported(footage: string, frame: number, size: Size): Promise<Gray> {
    return this.kept(`${footage}/${frame}`, async () => fromGray16(await this.read(footage, this.other(footage), 'gray', frame, size), size));
  }

  async footage({ id, made }: ShownFootage, frame: number, size: Size): Promise<Rgba> {
    if (made) return this.madeIn(made, frame, size);
    const original = this.other(id);
    if (original.probe.alpha) return fromBytes(await this.read(id, original, 'rgba', frame, size), size.width, size.height);
    return pictureOfBytes(null, { ...size, bytes: await this.read(id, original, 'rgb', frame, size), channels: 3 });
  }

  private async madeIn(made: Made, frame: number, size: Size): Promise<Rgba> {
    try {
      return await pictureMadeIn(made, frame, size, async (shot) => this.shot(shot), this.above);
    } catch (error) {
      throw error instanceof NotShown ? new Problem('not-shown', error.message, 409) : error;
    }
  }

  private shot(id: string): OtherShot | null {
    const material = this.task.shots?.[id];
    if (!material) return null;
    const known = this.shown.get(id);
    if (known) return known;
    const task = { ...material, spec: framesOf(material), shots: this.task.shots };
    const opened = { document: material.document, sources: new Originals(task, this.signal, [...this.above, id]) };
    this.shown.set(id, opened);
    return opened;
  }

  letters(line: string, weight: Weight): Promise<Letters> {
    return letters(line, weight);
  }

  private other(id: string): Original {
    const original = this.task.others?.[id];
    if (!original) throw new Problem('no-footage', 'Footage that this shot uses is no longer here. Bring it in again, or take away what shows it.', 409);
    return original;
  }

  private read(id: string, original: Original, to: ReadAs, frame: number, size: Size): Promise<Buffer> {
    const name = `${id}/${to}/${size.width}x${size.height}`;
    let reader = this.readers.get(name);
    if (!reader) {
      reader = new FootageReader({ original, to, size, signal: this.signal });
      this.readers.set(name, reader);
    }
    return reader.read(frame);
  }

  /** What a Peel has found; frames that it was not carried to yet are found first, all of the output's at once. */
  async peel(part: PeelPart, frame: number, size: Size): Promise<Gray> {
    const { document, spec, peel } = this.task;
    if (!peel) throw new Problem('no-peel', 'A Peel is written from its shot, where its frames are: give --shot.', 400);
    const fence = fenceOf(document, part);
    const inputs = taskOf(part, fence);
    const key = peelKeys(inputs)(frame);
    if (!key) return newGray(size.width, size.height);
    return this.kept(`${part.id}/${frame}`, async () => {
      const results = new PeelResults(peel.resultsDir);
      let png = await results.read(key, frame).catch(() => null);
      if (!png) {
        const last = Math.min(document.plate.frames - 1, Math.max(spec.last, frame));
        const range = { first: Math.min(spec.first, frame), last };
        await carryPeel({ ...peel, plate: document.plate, inputs, fence, ...range }, { onProgress: () => {}, signal: this.signal });
        png = await results.read(key, frame);
      }
      const { data, info } = await sharp(png).toColourspace('b-w').raw().toBuffer({ resolveWithObject: true });
      return atPlateSize(fromGray8(data, info), part.quality, peel.storeDir, frame, size);
    });
  }

  /** A matte of a frame, made once while it is near: steadying looks at a few frames round each. */
  private async kept(name: string, make: () => Promise<Gray>): Promise<Gray> {
    const gray = await memoisedPromise(this.grays, name, make);
    return { ...gray, data: gray.data.slice() };
  }

  async close(): Promise<void> {
    for (const reader of this.readers.values()) await reader.close();
    for (const { sources } of this.shown.values()) await sources.close();
  }
}

function fromGray16(bytes: Buffer, { width, height }: Size): Gray {
  const out = newGray(width, height);
  for (let i = 0; i < out.data.length; i++) out.data[i] = bytes.readUInt16LE(2 * i) / 65535;
  return out;
}
