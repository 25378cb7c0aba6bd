/**
 * What Peels have found, for the page: frames that were carried come from the server; an anchor that was not is cut here, so that
 * a stroke shows at once, its edge crisp at first and finished when there is time. Until a frame is found anew, what was found
 * there last stays in sight.
 */

import { LRUCache } from 'lru-cache';
import type { PeelTask } from '~/core/document/fence.ts';
import type { PeelPart } from '~/core/document/schema.ts';
import { fromGray8, type Gray, newGray, resized, type Size } from '~/core/image/picture.ts';
import { memoisedPromise } from '~/core/math/memo.ts';
import { cutPainted, type KnownCuts, mendPainted, rehearse } from '~/core/peel/cut/cut-painted.ts';
import { refined } from '~/core/peel/matting/refine.ts';
import { finishedAlpha, softMask } from '~/core/peel/matting/soft-edge.ts';
import type { PreparedFrame } from '~/core/peel/motion/prepared-frame.ts';
import { anchorsOf, inputsBefore, mendsOf, peelKeys, peelSettings } from '~/core/peel/results/inputs.ts';
import { seenAt } from '~/core/peel/settings.ts';
import { FrameViews } from '~/core/peel/shot/frame-views.ts';
import { TO_COME } from '../edits/stroke-to-come.ts';
import { keepCut, keptCut } from './kept-cuts.ts';

/** Found frames kept at most. */
const KEPT = 48;
const FINE_KEPT = 3;
/** Masks on the way from the first strokes of a frame to all of them. */
const STEPS = 24;

/** A frame that was cut here. */
interface Cut {
  gray: Gray;
  /** Gives it with its edge finished; null once that is done. */
  finish: (() => Gray) | null;
}

interface Telling {
  /** A picture that was given comes out better by now. */
  better(): void;
  /** Something for the artist to read. */
  words(text: string): void;
  /** What was painted is being cut out. */
  cutting(): void;
  /** What is given is not what is found on the server: it may come out otherwise another time. */
  standsIn(): void;
}

/** Milliseconds without another stroke after which an edge is finished. */
const PAUSE = 40;
/** Milliseconds after which what was shown from what is kept is cut all the same. */
const IDLE = 1500;

const maskOf = (gray: Gray, size: Size): Uint8Array => Uint8Array.from(resized(gray, size).data, (v) => (v > 0.5 ? 1 : 0));

export class PeelSource {
  private readonly url: string;
  private readonly frames: number;
  private readonly picture: (frame: number) => Promise<{ width: number; height: number; data: Uint8ClampedArray }>;
  /** By key and frame; null where the server has nothing. */
  private readonly fetched = new LRUCache<string, Promise<Gray | null>>({ max: KEPT });
  private readonly cut = new LRUCache<string, Promise<Cut | null>>({ max: KEPT });
  /** Cuts whose edge is to be finished, by part and frame: the newest of each. */
  private readonly unfinished = new Map<string, { name: string | null; cut: Cut }>();
  private finishing: ReturnType<typeof setTimeout> | undefined;
  private later: ReturnType<typeof setTimeout> | undefined;
  private readonly tell: Telling;
  /** The key under which a frame of a part was found last. */
  private readonly lastFound = new Map<string, string>();
  /** Made fine at a larger size; the newest few, since they are large. */
  private readonly fine = new LRUCache<string, Promise<Gray>>({ max: FINE_KEPT });
  /** Masks by the strokes they came from, of the frame that is painted on. */
  private known: { of: string; cuts: KnownCuts } = { of: '', cuts: new LRUCache({ max: 1 }) };
  /** Frames as they are looked at, in the quality that was asked for last. */
  private views: { quality: PeelPart['quality']; views: FrameViews } | null = null;
  private prepared: { frame: number; quality: PeelPart['quality']; frameOf: PreparedFrame } | null = null;

  /**
   * @param frames of the plate
   * @param picture a frame at the size of the proxy
   */
  constructor(plateUrl: string, frames: number, picture: PeelSource['picture'], tell: Telling) {
    this.url = `${plateUrl}/peel`;
    this.frames = frames;
    this.picture = picture;
    this.tell = tell;
  }

  /** Frames that were not there may have come. */
  lookAgain(): void {
    for (const [key, gray] of this.fetched) void gray.then((g) => g ?? this.fetched.delete(key)).catch(() => {});
  }

  /**
   * @param fence where the subject may be, at a size
   * @param picture the plate at this size, where it shows more than the proxy
   */
  async matte(
    part: PeelTask,
    frame: number,
    plate: Size,
    size: Size,
    fence: (size: Size) => Promise<Uint8Array | null>,
    picture: (() => Promise<Uint8ClampedArray>) | null,
  ): Promise<Gray> {
    const key = peelKeys(part)(frame);
    if (!key) return newGray(size.width, size.height);
    const place = `${part.id}/${frame}`;
    let found = await this.fetch(key, frame);
    if (!found) this.tell.standsIn();
    let crisp = false;
    if (!found && anchorsOf(part).includes(frame)) {
      const name = `${key}/${frame}`;
      // What was cut before, in this page or an earlier one, shows at once.
      const kept = this.cut.has(name) ? null : await keptCut(name);
      if (kept) {
        found = kept;
        this.cutLater(name, () => this.cutHere(part, frame, plate, fence));
      } else {
        const cut = await memoisedPromise(this.cut, name, () => this.cutHere(part, frame, plate, fence));
        found = cut?.gray ?? null;
        crisp = cut !== null && cut.finish !== null;
        // What is only tried out is not kept.
        if (cut?.finish) this.finishSoon(place, part.strokes.some((s) => s.id === TO_COME) ? null : name, cut);
      }
    }
    if (found) this.lastFound.set(place, key);
    else {
      const before = this.lastFound.get(place);
      found = before ? await this.fetch(before, frame) : null;
    }
    if (!found) return newGray(size.width, size.height);
    const out = picture && part.quality === 'fine' && !crisp ? await this.refine(`${key}/${frame}/${size.width}`, found, size, picture) : resized(found, size);
    return out === found ? { ...out, data: out.data.slice() } : out;
  }

  /** Finishes the edges of cuts once no more are asked for, and keeps them under a name. */
  private finishSoon(place: string, name: string | null, cut: Cut): void {
    this.unfinished.set(place, { name, cut });
    clearTimeout(this.finishing);
    this.finishing = setTimeout(() => {
      for (const { name, cut: one } of this.unfinished.values()) {
        if (!one.finish) continue;
        one.gray = one.finish();
        one.finish = null;
        if (name) void keepCut(name, one.gray);
      }
      this.unfinished.clear();
      this.tell.better();
    }, PAUSE);
  }

  /** Cuts a frame that shows what was kept of it, so that the next stroke finds all before it known; once nobody waits for anything. */
  private cutLater(name: string, cut: () => Promise<Cut | null>): void {
    clearTimeout(this.later);
    const finished = async () => {
      const made = await memoisedPromise(this.cut, name, cut);
      // It takes the place of one that was finished.
      if (made?.finish) made.gray = made.finish();
      if (made) made.finish = null;
    };
    this.later = setTimeout(() => void finished().catch(() => {}), IDLE);
  }

  /** Gets a frame ready to be painted on, so that the first stroke shows as soon as the others. */
  async prepare(frame: number, quality: PeelPart['quality']): Promise<void> {
    const first = !this.prepared;
    const frameOf = await this.frameOf(frame, quality);
    if (!first) return;
    // Step by step, so that nobody waits for it who wants something real.
    for (const _ of rehearse(frameOf)) {
      await new Promise((next) => setTimeout(next));
      if (this.known.of !== '') return;
    }
  }

  private async frameOf(frame: number, quality: PeelPart['quality']): Promise<PreparedFrame> {
    if (this.prepared?.frame === frame && this.prepared.quality === quality) return this.prepared.frameOf;
    if (this.views?.quality !== quality) this.views = { quality, views: new FrameViews(async (f) => seenAt(quality, await this.picture(f))) };
    const { views } = this.views;
    // Where a frame beside it cannot be read, this one is cut without it.
    const frameOf = await views.painted(frame, this.frames).catch(() => views.painted(frame, 0));
    this.prepared = { frame, quality, frameOf };
    return frameOf;
  }

  private async refine(name: string, found: Gray, size: Size, picture: () => Promise<Uint8ClampedArray>): Promise<Gray> {
    const gray = await memoisedPromise(this.fine, name, async () => refined(found, { ...size, data: await picture() }));
    return { ...gray, data: gray.data.slice() };
  }

  private fetch(key: string, frame: number): Promise<Gray | null> {
    const name = `${key}/${frame}`;
    return memoisedPromise(this.fetched, name, () => this.load(`${this.url}/${name}`));
  }

  private async load(url: string): Promise<Gray | null> {
    const response = await fetch(url);
    if (response.status === 404) return null;
    if (!response.ok) throw new Error(`What was found on the frame could not be fetched (${response.status}).`);
    const bitmap = await createImageBitmap(await response.blob(), { colorSpaceConversion: 'none', premultiplyAlpha: 'none' });
    const { width, height } = bitmap;
    const context = new OffscreenCanvas(width, height).getContext('2d', { willReadFrequently: true }) as OffscreenCanvasRenderingContext2D;
    context.drawImage(bitmap, 0, 0);
    bitmap.close();
    const { data } = context.getImageData(0, 0, width, height);
    return fromGray8(
      Uint8Array.from({ length: width * height }, (_, i) => data[4 * i]),
      { width, height },
    );
  }

  /**
   * What the strokes of a frame mend. Where that was not carried with all as it is by now, what was seen there last takes its place
   * until it is; null where nothing ever was.
   */
  private async carriedBefore(part: PeelTask, frame: number): Promise<{ key: string; gray: Gray } | null> {
    for (const key of [peelKeys(inputsBefore(part, frame))(frame), this.lastFound.get(`${part.id}/${frame}`)]) {
      const gray = key ? await this.fetch(key, frame) : null;
      if (key && gray) return { key, gray };
    }
    return null;
  }

  /** The frame cut from its own strokes, or mended by them; null where all that is kept lies outside the picture. */
  private async cutHere(part: PeelTask, frame: number, plate: Size, fence: (size: Size) => Promise<Uint8Array | null>): Promise<Cut | null> {
    const frameOf = await this.frameOf(frame, part.quality);
    this.tell.cutting();
    const own = part.strokes.filter((s) => s.enabled && s.frame === frame);
    const settings = peelSettings(part).cut;
    const mends = mendsOf(part).includes(frame);
    const base = mends ? await this.carriedBefore(part, frame) : null;
    if (mends && !base) {
      this.tell.words('The strokes of this frame mend what is carried to it, and nothing is yet: carry the Peel.');
      return null;
    }
    const of = JSON.stringify([frame, part.quality, settings, part.fencing, base?.key ?? null]);
    if (this.known.of !== of) this.known = { of, cuts: new LRUCache({ max: STEPS }) };
    const inside = await fence(frameOf.fine);
    const cut = base
      ? mendPainted(frameOf, { mask: maskOf(base.gray, frameOf.fine), zone: null }, own, plate, settings, { fence: inside, known: this.known.cuts })
      : cutPainted(frameOf, own, plate, settings, { fence: inside, known: this.known.cuts });
    if (!cut) {
      // What is only tried out needs no words.
      if (own.some((s) => s.id === TO_COME)) return null;
      this.tell.words(
        own.some((s) => s.kind === 'keep')
          ? 'What is kept on this frame lies outside the picture or the fence, or under drop strokes. Paint on the subject.'
          : 'Nothing stands out in the loop. Draw it closer, or paint on the subject.',
      );
      return null;
    }
    const { width, height } = frameOf.fine;
    return {
      gray: { width, height, data: softMask(cut.mask, width, height) },
      finish: () => ({ width, height, data: finishedAlpha(cut.mask, frameOf.fine, cut.zone) }),
    };
  }
}
