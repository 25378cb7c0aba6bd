/** The pictures and mattes that an output is made of, from the footage as it was brought in. */
import sharp from 'sharp';
import type { Sources } from '../../core/compose/render-picture.ts';
import { fenceOf, taskOf } from '../../core/document/fence.ts';
import type { PeelPart } from '../../core/document/schema.ts';
import { fromGray8, type Gray, newGray, newRgba, type Rgba, type Size } from '../../core/image/picture.ts';
import { NewestPromises } from '../../core/math/newest.ts';
import { peelKeys } from '../../core/peel/inputs.ts';
import { readFrames } from '../footage/read-plate.ts';
import { atPlateSize, carryPeel } from '../peel/carry-peel.ts';
import { PeelResults } from '../peel/results.ts';
import { Problem } from '../problem.ts';
import type { Original, OutputTask } from './task.ts';

/** Reads footage frame after frame in rising order, with one decoder; a step back begins anew. */
class FrameReader {
  private frames: AsyncGenerator<Buffer> | null = null;
  private next = -1;
  private readonly original: Original;
  private readonly to: 'rgb' | 'gray';
  private readonly signal?: AbortSignal;
  constructor(original: Original, to: 'rgb' | 'gray', signal?: AbortSignal) {
    this.original = original;
    this.to = to;
    this.signal = signal;
  }

  async read(frame: number, size: Size): Promise<Buffer> {
    if (!this.frames || this.next !== frame) {
      await this.close();
      this.frames = readFrames(this.original.probe, this.original.originals, size, frame, this.signal, this.to);
      this.next = frame;
    }
    const { value, done } = await this.frames.next();
    if (done || !value) throw new Problem('footage-short', `The footage ends before frame ${frame}.`, 500);
    this.next++;
    return value;
  }

  async close(): Promise<void> {
    await this.frames?.return(undefined);
    this.frames = null;
  }
}

/** Mattes kept. */
const GRAYS_KEPT = 8;

/** The plate and the imported mattes of a task, from their originals. */
export class Originals implements Sources {
  private readonly task: OutputTask;
  private readonly signal?: AbortSignal;
  private reader: FrameReader | null = null;
  private readonly matteReaders = new Map<string, FrameReader>();
  private readonly grays = new NewestPromises<Gray>(GRAYS_KEPT);
  constructor(task: OutputTask, signal?: AbortSignal) {
    this.task = task;
    this.signal = signal;
  }

  async plate(frame: number, size: Size): Promise<Rgba> {
    if (!this.task.footage) throw new Problem('no-footage', 'This output shows the plate, so it needs the footage.', 400);
    this.reader ??= new FrameReader(this.task.footage, 'rgb', this.signal);
    return fromRgb24(await this.reader.read(frame, size), size);
  }

  async imported(footage: string, frame: number, size: Size): Promise<Gray> {
    return this.kept(`${footage}/${frame}`, async () => {
      const original = this.task.mattes?.[footage];
      if (!original) throw new Problem('no-matte', 'The footage of an imported matte is no longer here. Bring it in again, or take its part away.', 409);
      let reader = this.matteReaders.get(footage);
      if (!reader) {
        reader = new FrameReader(original, 'gray', this.signal);
        this.matteReaders.set(footage, reader);
      }
      return fromGray16(await reader.read(frame, size), size);
    });
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
    const gray = await this.grays.get(name, make);
    return { ...gray, data: gray.data.slice() };
  }

  async close(): Promise<void> {
    await this.reader?.close();
    for (const reader of this.matteReaders.values()) await reader.close();
  }
}

function fromGray16(bytes: Buffer, { width, height }: Size): Gray {
  const out = newGray(width, height);
  for (let i = 0; i < out.data.length; i++) out.data[i] = bytes.readUInt16LE(2 * i) / 65535;
  return out;
}

function fromRgb24(bytes: Uint8Array, { width, height }: Size): Rgba {
  const out = newRgba(width, height);
  for (let i = 0, p = 0; i < out.data.length; i += 4, p += 3) {
    out.data[i] = bytes[p] / 255;
    out.data[i + 1] = bytes[p + 1] / 255;
    out.data[i + 2] = bytes[p + 2] / 255;
    out.data[i + 3] = 1;
  }
  return out;
}
