/** Where the pictures of a shot come from, for a worker: frames and results from the server, and other shots that it shows. */
import { LRUCache } from 'lru-cache';
import { z } from 'zod';
import { NotShown, type OtherShot, pictureMadeIn } from '~/core/compose/other-shots.ts';
import { fenceOf, taskOf } from '~/core/document/fence.ts';
import { documentSchema, type Made, type ShotDocument } from '~/core/document/schema.ts';
import { fromBytes, lumaOf, newRgba, type Size } from '~/core/image/picture.ts';
import { memoisedPromise } from '~/core/math/memo.ts';
import { renderFence } from '~/core/matte/render-matte.ts';
import type { Sources } from '~/core/matte/sources.ts';
import { decodedFrame } from './decoded-frame.ts';
import { PeelSource } from './peel-source.ts';
import { letters } from './titles.ts';

type Store = 'full' | 'proxy';

/** What is told while pictures are made. */
export interface Telling {
  /** Something that was given comes out better by now. */
  better(): void;
  /** Something for the artist to read. */
  words(text: string): void;
  step(what: 'decoding' | 'cutting'): void;
  /** Something stands in for what a picture is made of. */
  standsIn(): void;
}

/** A shot whose pictures are made: the one that is open, or one that it shows. */
interface Shot {
  plateUrl: string;
  peels: PeelSource;
  document(): ShotDocument | null;
  /** The shots that are shown what comes from here. */
  above: readonly string[];
}

/** Bytes of decoded plate frames kept at most. */
const KEEP = 16 * 1024 * 1024;

/** Bytes of a picture with the alpha that another one holds as gray. */
function withAlpha(bytes: Uint8ClampedArray, alpha: Uint8ClampedArray): Uint8ClampedArray {
  const out = bytes.slice();
  for (let i = 3; i < out.length; i += 4) out[i] = alpha[i - 1];
  return out;
}

const side = z.number().int().min(1);
/** What the server tells of another shot. */
const shotSchema = z.object({
  document: documentSchema,
  plate: z.object({ id: z.string(), frames: side, proxyWidth: side, proxyHeight: side }),
});

export class ShotSources {
  private readonly origin: string;
  private readonly tell: Telling;
  private readonly own: Shot;
  private readonly plates = new LRUCache<string, Promise<Uint8ClampedArray>>({ maxSize: KEEP });
  /** Other shots by id, each with its document as it was when it was asked for last; null where there is none. */
  private readonly others = new Map<string, Promise<{ document: ShotDocument; plateUrl: string; peels: PeelSource } | null>>();

  /**
   * @param frames of the plate
   * @param proxy its size as Peel looks at it
   */
  constructor(plateUrl: string, frames: number, proxy: Size, document: () => ShotDocument | null, tell: Telling) {
    this.origin = new URL(plateUrl).origin;
    this.tell = tell;
    this.own = { plateUrl, peels: this.peelsOf(plateUrl, frames, proxy), document, above: [] };
  }

  /** What Peels of the open shot have found. */
  get peels(): PeelSource {
    return this.own.peels;
  }

  /** What pictures of the open shot are made from, at a size. */
  at = (store: Store): Sources => this.sourcesOf(this.own, store);

  /** Frames of Peels that were not there may have come. */
  lookAgain(): void {
    this.own.peels.lookAgain();
    for (const other of this.others.values()) void other.then((o) => o?.peels.lookAgain()).catch(() => {});
  }

  /** Another shot may have changed. */
  forget(shot: string): void {
    this.others.delete(shot);
  }

  private peelsOf(plateUrl: string, frames: number, proxy: Size): PeelSource {
    return new PeelSource(plateUrl, frames, async (frame) => ({ ...proxy, data: await this.bytes(plateUrl, frame, 'proxy', proxy) }), {
      better: () => this.tell.better(),
      words: (text) => this.tell.words(text),
      cutting: () => this.tell.step('cutting'),
      standsIn: () => this.tell.standsIn(),
    });
  }

  private bytes(from: string, frame: number, store: Store | 'alpha', size: Size): Promise<Uint8ClampedArray> {
    const url = `${from}/${store}/${frame}`;
    const make = async () => {
      this.tell.step('decoding');
      return (await decodedFrame(url, size)).data;
    };
    return memoisedPromise(this.plates, `${url}@${size.width}`, make, Math.min(KEEP, 4 * size.width * size.height));
  }

  private sourcesOf(shot: Shot, store: Store): Sources {
    const { plateUrl, peels, document, above } = shot;
    const footageUrl = (id: string) => `${this.origin}/plates/${id}`;
    return {
      plate: async (f, s) => fromBytes(await this.bytes(plateUrl, f, store, s), s.width, s.height),
      plateBytes: async (f, s) => ({ ...s, bytes: await this.bytes(plateUrl, f, store, s), channels: 4 }),
      peel: async (part, f, s) => {
        const shown = document();
        if (!shown) throw new Error('No document yet.');
        const fence = fenceOf(shown, part);
        const fenced = async (seen: Size) => fence && renderFence(fence, f, this.sourcesOf(shot, 'proxy'), shown.plate, seen);
        return peels.matte(taskOf(part, fence), f, shown.plate, s, fenced, store === 'full' ? () => this.bytes(plateUrl, f, 'full', s) : null);
      },
      footage: async ({ id, alpha, made }, f, s) => {
        try {
          if (made) return await this.madeIn(made, f, s, store, above);
          const bytes = await this.bytes(footageUrl(id), f, store, s);
          return fromBytes(alpha ? withAlpha(bytes, await this.bytes(footageUrl(id), f, 'alpha', s)) : bytes, s.width, s.height);
        } catch (error) {
          // The rest of the picture is there all the same; an output refuses.
          this.tell.standsIn();
          this.tell.words(
            error instanceof NotShown ? error.message : 'Footage that an element shows is not there: choose other footage for it, or take it away.',
          );
          return newRgba(s.width, s.height);
        }
      },
      letters,
      imported: async (footage, f, s) => lumaOf(await this.bytes(footageUrl(footage), f, store, s), 4, s),
    };
  }

  private madeIn(made: Made, frame: number, size: Size, store: Store, above: readonly string[]) {
    const open = async (shot: string): Promise<OtherShot | null> => {
      const other = await this.other(shot);
      return other && { document: other.document, sources: this.sourcesOf({ ...other, document: () => other.document, above: [...above, shot] }, store) };
    };
    return pictureMadeIn(made, frame, size, open, above);
  }

  private other(shot: string): Promise<{ document: ShotDocument; plateUrl: string; peels: PeelSource } | null> {
    const known = this.others.get(shot);
    if (known) return known;
    const opened = this.open(shot);
    this.others.set(shot, opened);
    // What could not be had, or was deleted, may be there the next time.
    opened.then(
      (found) => found ?? this.others.delete(shot),
      () => this.others.delete(shot),
    );
    return opened;
  }

  private async open(shot: string) {
    const answer = await fetch(`${this.origin}/shots/${shot}/material`);
    if (answer.status === 404) return null;
    if (!answer.ok) throw new Error(`Another shot that this one shows could not be fetched (${answer.status}).`);
    const { document, plate } = shotSchema.parse(await answer.json());
    const plateUrl = `${this.origin}/plates/${plate.id}`;
    return { document, plateUrl, peels: this.peelsOf(plateUrl, plate.frames, { width: plate.proxyWidth, height: plate.proxyHeight }) };
  }
}
