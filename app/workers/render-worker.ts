/** Renders mattes and pictures, off the page's thread: a thin shell over renderMatte and renderPictureBytes. */
import { expose, transfer } from 'comlink';
import { coverOn } from '~/core/compose/cover.ts';
import { type How, histogramOf, measureColour, measureGrain, type Reference } from '~/core/compose/measure.ts';
import { isAsked } from '~/core/compose/plan.ts';
import { renderPictureBytes } from '~/core/compose/render-picture.ts';
import { type Scopes, scopesOf } from '~/core/compose/scopes.ts';
import { standOn } from '~/core/compose/stand.ts';
import { framesToLook, type Unseen, unseenOn } from '~/core/compose/unseen.ts';
import { EDGE_STEPS, withoutSteps } from '~/core/document/edge-settings.ts';
import { applyChange, type Edit } from '~/core/document/edits.ts';
import type { LaneItem, ShotDocument } from '~/core/document/schema.ts';
import type { ElementStand } from '~/core/elements/render-element.ts';
import { type Gray, matteTo8, newGray, type Size, toBytes } from '~/core/image/picture.ts';
import { renderCutout } from '~/core/matte/cutout.ts';
import { areaOf, changePicture, chatterOf } from '~/core/matte/judge.ts';
import { renderMatte } from '~/core/matte/render-matte.ts';
import type { Sources } from '~/core/matte/sources.ts';
import type { Quality } from '~/core/peel/settings.ts';
import { numberAt } from '~/core/time/animated.ts';
import { type Outline, outlinesOf } from '~/core/trace/outlines.ts';
import type { Step } from '../state/wait.ts';
import { keepPicture, keptPicture } from './kept-pictures.ts';
import { ShotSources } from './shot-sources.ts';
import { missingLetters } from './titles.ts';

export type RenderedView = 'tint' | 'matte' | 'cutout' | 'composed';

export interface RenderRequest {
  view: RenderedView;
  /** Subject of tint, matte and cut-out. */
  subject: string | null;
  frame: number;
  size: Size;
  store: 'full' | 'proxy';
  /** Of the tint, #rrggbb. */
  colour: string;
  /** The part shown alone; null shows all. */
  solo: string | null;
  /** The matte is shown as matte^(1/gamma). */
  gamma: number;
  /** How the matte is looked at. */
  judge: 'plain' | 'flicker' | 'difference';
  /** Steps of the edge, and items of lanes by id, left out. */
  without: string[];
  /** A name for all that decides a composed picture, under which it may be kept; null: it is not. */
  name: string | null;
}

let document: ShotDocument | null = null;
let drafted: ShotDocument | null = null;
/** The earlier state that differences are shown from. */
let compared: ShotDocument | null = null;
let sources: ShotSources | null = null;
/** Says what is being done. */
let tellStep: (step: Step) => void = () => {};
let lastStep = '';
/** Whether something stood in for what a picture is made of, so that it is not kept. */
let provisional = false;

function step(what: Step['what'], done?: number, of?: number): void {
  const name = `${what}${done}/${of}`;
  if (name === lastStep) return;
  lastStep = name;
  tellStep({ what, done, of });
}

/** Mattes are traced at the size of the plate, as far as that is no larger. */
const TRACE_WIDTH = 2048;
/** Width at which it is looked for what is not seen, and on how many frames. */
const LOOK_WIDTH = 192;
const LOOKS = 4;
/** Width at which mattes are measured over time. */
const MEASURE_WIDTH = 480;
/** Width at which scopes look at the picture. */
const SCOPES_WIDTH = 384;
/** Width at which colours are measured. */
const COLOUR_WIDTH = 320;

/** The size of the plate, or a smaller one of the same form that is no wider. */
function smaller({ plate: { width, height } }: ShotDocument, most: number): Size {
  const scale = Math.min(1, most / width);
  return { width: Math.max(1, Math.round(width * scale)), height: Math.max(1, Math.round(height * scale)) };
}

/** What was counted last. */
let counted: { document: ShotDocument; effect: string; frame: number; found: ReturnType<typeof histogramOf> } | null = null;

const measured: { document: ShotDocument; subject: string; frame: number; matte: Gray }[] = [];

function sourcesFor(store: 'full' | 'proxy'): Sources {
  if (!sources) throw new Error('No shot yet.');
  return sources.at(store);
}

/** The document with one part of a subject alone, adding; `more` stands in for some of its settings. */
function alone(whole: ShotDocument, part: string, more: { inverted?: boolean; opacity?: { constant: number } } = {}): ShotDocument {
  const cast = whole.cast.map((s) =>
    s.parts.some((p) => p.id === part)
      ? { ...s, parts: s.parts.filter((p) => p.id === part).map((p) => ({ ...p, operation: 'add' as const, enabled: true, ...more })) }
      : s,
  );
  return { ...whole, cast };
}

/** The document with some steps of every edge, and some items, left out: what "before" shows. */
const without = (whole: ShotDocument, left: readonly string[]): ShotDocument =>
  left.length === 0
    ? whole
    : {
        ...whole,
        cast: whole.cast.map((s) => ({ ...s, edge: withoutSteps(s.edge, left) })),
        lanes: whole.lanes.map((l) => (left.includes(l.id) ? { ...l, enabled: false } : l)),
      };

/** The document with every edge grown by so many plate pixels more than on a frame. */
const grown = (whole: ShotDocument, by: number, frame: number): ShotDocument => ({
  ...whole,
  cast: whole.cast.map((s) => ({ ...s, edge: { ...s.edge, grow: { constant: numberAt(s.edge.grow, frame) + by } } })),
});

/** `#rrggbb` as the three low bytes of a little-endian RGBA word. */
const wordOf = (colour: string): number => {
  const n = Number.parseInt(colour.slice(1), 16);
  return ((n & 0xff) << 16) | (n & 0xff00) | (n >> 16);
};

async function pixels({ view, subject, frame, size, store, colour, solo, gamma, without: left, judge }: RenderRequest): Promise<Uint8ClampedArray> {
  const whole = drafted ?? document;
  if (!whole) throw new Error('No document yet.');
  const shown = without(solo ? alone(whole, solo) : whole, left);
  const sources = sourcesFor(store);
  lastStep = '';
  step(view === 'composed' ? 'picture' : 'matte');
  if (view === 'composed') return renderPictureBytes(shown, frame, sources, size, 4, (done, of) => step('picture', done, of));
  if (!subject || !shown.cast.some((s) => s.id === subject)) return new Uint8ClampedArray(size.width * size.height * 4);
  if (view === 'cutout') return toBytes(await renderCutout(shown, subject, frame, sources, size));
  let rendered = await renderMatte(shown, subject, frame, sources, size);
  if (view === 'matte' && judge === 'flicker') rendered = changePicture(await renderMatte(shown, subject, Math.max(0, frame - 1), sources, size), rendered);
  else if (view === 'matte' && judge === 'difference') {
    const other = compared?.cast.some((s) => s.id === subject) ? await renderMatte(compared, subject, frame, sources, size) : newGray(size.width, size.height);
    rendered = changePicture(other, rendered);
  }
  if (view === 'matte' && judge === 'plain' && gamma !== 1) for (let i = 0; i < rendered.data.length; i++) rendered.data[i] **= 1 / gamma;
  const matte = matteTo8(rendered);
  const out = new Uint8ClampedArray(matte.length * 4);
  const words = new Uint32Array(out.buffer);
  // Little endian: alpha is the top byte.
  const tint = wordOf(colour);
  if (view === 'tint') for (let i = 0; i < matte.length; i++) words[i] = (matte[i] << 24) | tint;
  else for (let i = 0; i < matte.length; i++) words[i] = 0xff000000 | (matte[i] * 0x010101);
  return out;
}

const api = {
  /**
   * @param frames of the plate
   * @param proxy size of the plate's proxy, which is what Peel looks at
   * @param onBetter told when something that was rendered comes out better by now
   * @param onWords something for the artist to read
   * @param onStep told what is being done for the picture that was asked for
   */
  open(url: string, frames: number, proxy: Size, onBetter: () => void, onWords: (text: string) => void, onStep: (step: Step) => void) {
    tellStep = onStep;
    sources = new ShotSources(url, frames, proxy, () => document, {
      better() {
        measured.length = 0;
        onBetter();
      },
      words: onWords,
      step,
      standsIn() {
        provisional = true;
      },
    });
  },
  /** Frames of Peels that were not there may have come. */
  peelsCame() {
    sources?.lookAgain();
    measured.length = 0;
  },
  /** Another shot may have changed. */
  otherChanged(shot: string) {
    sources?.forget(shot);
  },
  /** A frame is about to be painted on. */
  async preparePeel(frame: number, quality: Quality): Promise<void> {
    await sources?.peels.prepare(frame, quality);
  },
  setDocument(next: ShotDocument) {
    document = next;
    drafted = null;
  },
  /** Shows an edit in progress on top of the document; null ends it. */
  setDraft(edits: Edit[] | null) {
    drafted = edits && document ? applyChange(document, edits, true).document : null;
  },
  setCompared(earlier: ShotDocument) {
    compared = earlier;
  },
  /** Where an effect or an element stands on a frame; null where it has no place. */
  async stand(item: LaneItem, frame: number): Promise<ElementStand | null> {
    return document && standOn(document, item, frame, sourcesFor('proxy'));
  },
  missingLetters,
  /** Settings that make what an effect is given on a frame like something else; null where one of the two has nothing to measure. */
  async measureColour(effect: string, frame: number, like: Reference, how: How): Promise<Record<string, number[]> | null> {
    return document && measureColour({ document, frame, sources: sourcesFor('proxy'), size: smaller(document, COLOUR_WIDTH) }, effect, like, how);
  },
  /** How often values are there in what an effect is given, see core/compose/measure.ts. */
  async histogram(effect: string, frame: number): Promise<Record<string, number[]> | null> {
    if (!document) return null;
    // All curves of an effect ask for the same.
    const known = counted?.document === document && counted.effect === effect && counted.frame === frame ? counted : null;
    counted = known ?? {
      ...{ document, effect, frame },
      found: histogramOf({ document, frame, sources: sourcesFor('proxy'), size: smaller(document, LOOK_WIDTH) }, effect),
    };
    return counted.found;
  },
  /** Settings of grain that is like that of the plate on a frame. */
  async measureGrain(frame: number): Promise<Record<string, number> | null> {
    return document && measureGrain(await sourcesFor('full').plate(frame, document.plate));
  },
  /** What can be read off the finished picture of a frame, with the edit in progress. */
  async scopes(frame: number): Promise<Scopes | null> {
    const shown = drafted ?? document;
    if (!shown) return null;
    const size = smaller(shown, SCOPES_WIDTH);
    return scopesOf(await renderPictureBytes(shown, frame, sourcesFor('proxy'), size, 4), size);
  },
  /** How much larger footage has to be on each of some frames to cover what is seen of its lane, see core/compose/cover.ts. */
  async cover(id: string, frames: readonly number[]): Promise<number[]> {
    const item = document?.lanes.find((l) => l.id === id);
    if (!document || item?.type !== 'element') return [];
    const [shown, size, sources] = [document, smaller(document, LOOK_WIDTH), sourcesFor('proxy')];
    const factors: number[] = [];
    for (const frame of frames) {
      // Somebody may be waiting for a picture meanwhile.
      await new Promise((next) => setTimeout(next));
      if (document !== shown) break;
      factors.push(await coverOn(shown, item, frame, sources, size));
    }
    return factors;
  },
  /** What is asked to be seen on a frame and is not, and whether it is seen on any of a few others. */
  async unseen(frame: number): Promise<Unseen[]> {
    const shown = document;
    if (!shown) return [];
    const { frames } = shown.plate;
    const size = smaller(shown, LOOK_WIDTH);
    const sources = sourcesFor('proxy');
    const here = await unseenOn(shown, frame, sources, size);
    const nowhere = new Set(here.keys());
    const looked = new Set(shown.lanes.filter((l) => here.has(l.id)).flatMap((l) => framesToLook(l, frames, LOOKS)));
    for (const f of looked) {
      // Somebody may be waiting for a picture meanwhile.
      await new Promise((next) => setTimeout(next));
      if (nowhere.size === 0 || document !== shown) break;
      const there = f === frame ? here : await unseenOn(shown, f, sources, size);
      for (const item of shown.lanes) if (nowhere.has(item.id) && isAsked(item, f) && !there.has(item.id)) nowhere.delete(item.id);
    }
    return [...here].map(([id, why]) => ({ id, why, nowhere: nowhere.has(id) }));
  },
  /** Area (share of the picture) and chatter (pixels of a picture of that width) of a subject's matte on a frame. */
  async measure(subject: string, frame: number): Promise<{ area: number; chatter: number; width: number } | null> {
    const shown = document;
    if (!shown?.cast.some((s) => s.id === subject)) return null;
    const { frames } = shown.plate;
    const size = smaller(shown, MEASURE_WIDTH);
    const sources = sourcesFor('proxy');
    const matte = async (f: number): Promise<Gray> => {
      const known = measured.find((m) => m.document === shown && m.subject === subject && m.frame === f);
      if (known) return known.matte;
      const made = await renderMatte(shown, subject, f, sources, size);
      measured.push({ document: shown, subject, frame: f, matte: made });
      if (measured.length > 4) measured.shift();
      return made;
    };
    const [before, now, after] = [await matte(Math.max(0, frame - 1)), await matte(frame), await matte(Math.min(frames - 1, frame + 1))];
    return { area: areaOf(now), chatter: frame === 0 || frame === frames - 1 ? 0 : chatterOf(before, now, after), width: size.width };
  },
  /** Outlines of a subject's matte, or of one of its parts alone and without the edge, in plate pixels; grown by so many of them. */
  async outlines(subject: string, part: string | null, frame: number, leastArea: number, grow = 0): Promise<Outline[]> {
    if (!document) throw new Error('No document yet.');
    const { width, height } = document.plate;
    const scale = Math.min(1, TRACE_WIDTH / width);
    const size = { width: Math.round(width * scale), height: Math.round(height * scale) };
    const bare = part ? without(alone(document, part, { inverted: false, opacity: { constant: 1 } }), Object.keys(EDGE_STEPS)) : document;
    const shown = grow === 0 ? bare : grown(bare, grow, frame);
    const matte = await renderMatte(shown, subject, frame, sourcesFor('full'), size);
    const [scaleX, scaleY] = [width / size.width, height / size.height];
    return outlinesOf(matte, leastArea / (scaleX * scaleY)).map((o) => o.map((v, i) => v * (i % 2 === 0 ? scaleX : scaleY)));
  },
  async render(request: RenderRequest): Promise<ImageBitmap> {
    const { width, height } = request.size;
    const kept = request.name && (await keptPicture(request.name, request.size));
    provisional = false;
    const bytes = kept || (await pixels(request));
    if (request.name && !kept && !provisional) void keepPicture(request.name, bytes as Uint8ClampedArray<ArrayBuffer>);
    const bitmap = await createImageBitmap(new ImageData(bytes as Uint8ClampedArray<ArrayBuffer>, width, height));
    return transfer(bitmap, [bitmap]);
  },
};
export type RenderWorker = typeof api;

expose(api);
