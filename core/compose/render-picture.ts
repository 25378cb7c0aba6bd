/**
 * renderPicture: what the finished picture is on a frame. It is painted from far to near: what is behind a subject is laid over all
 * that is farther, then the subject is laid over that by its matte, with what is inside it.
 */
import type { Element, LaneEffect, LaneItem, ShotDocument, Subject } from '../document/schema.ts';
import type { Behind } from '../effects/effect.ts';
import { effectById } from '../effects/index.ts';
import { runEffect, type Where } from '../effects/lane-effect.ts';
import type { Given } from '../elements/element.ts';
import { applyWithin } from '../elements/element-effects.ts';
import { ledMotion } from '../elements/place.ts';
import { hasShutter, isLinear, itemMatte, picturesOf, renderElement, scaleOf, whereIn } from '../elements/render-element.ts';
import { bytesOfPicture, copyIn, pictureOfBytes, rawLayer } from '../image/in-room.ts';
import { addShareOf, cutInto, cutLayer, layBy, layOver, replaceBy } from '../image/lay.ts';
import { toLinear, toPlateValues } from '../image/light.ts';
import { commonOf, type Gray, isEmpty, type Layer, NOTHING, type Region, type Rgba, regionOf, type Size, unionOf, wholeOf } from '../image/picture.ts';
import { mattesOf } from '../matte/mattes.ts';
import type { Sources } from '../matte/sources.ts';
import { numberAt } from '../time/animated.ts';
import { type Room, withRoom } from '../wasm/room.ts';
import { placeKey, seenOf } from './lanes.ts';
import { itemsOf, leaves, movingTogether, type Plan, planOf, regionFor, type Step } from './plan.ts';
import { takeOut } from './without-subject.ts';

/** What a frame is painted from. */
interface Frame extends Given {
  frame: number;
  scale: number;
  plate: Rgba;
  plan: Plan;
  /** Mattes of subjects, and how far lanes are seen (null: everywhere), by ids and by placeKey. */
  matte: ReadonlyMap<string, Gray>;
  seen: ReadonlyMap<string, Gray | null>;
  prepared: Map<string, Rgba | null>;
  told(): void;
}

/** The picture as far as it is painted, and the part of it that differs from the plate. */
interface Canvas {
  picture: Rgba;
  changed: Region;
}

function touch(canvas: Canvas, region: Region): void {
  if (!isEmpty(region)) canvas.changed = unionOf(canvas.changed, region);
}

const whereOf = (frame: Frame, item: LaneEffect, region: Region): Where => whereIn(frame, frame.frame, region, ledMotion(frame.document, item, frame.frame));

/** What is taken of the room for this work is given back after it. */
async function inRoom<T>({ room }: Frame, work: () => T | Promise<T>): Promise<T> {
  const mark = room?.mark() ?? 0;
  const done = await work();
  room?.release(mark);
  return done;
}

const seenIn = (frame: Frame, item: LaneItem): Gray | null => frame.seen.get(placeKey(item)) ?? null;
const matteOf = (frame: Frame, subject: Subject): Gray => frame.matte.get(subject.id) as Gray;
const mixOf = (item: LaneItem, { frame }: Frame): number => Math.min(1, numberAt(item.mix, frame));

/** Changes a picture by an effect that sees only what is seen of its lane, so that nothing from the other side bleeds in. */
async function applyEffect(frame: Frame, picture: Rgba, item: LaneEffect): Promise<Region> {
  const seen = seenIn(frame, item);
  const region = regionFor(item, frame.frame, frame.size, frame.scale, seen && frame.plan.extent(seen));
  if (isEmpty(region)) return region;
  const matte = await itemMatte(frame, item, frame.frame);
  const layer = rawLayer(frame.room, region);
  cutInto(layer, picture, seen);
  const moves = effectById(item.effect).matteMoves === true;
  runEffect(layer, item, { ...whereOf(frame, item, region), matte: moves ? matte : null, behind: behindOf(frame, item) });
  // A rim has no subject laid over it that would keep the effect to it.
  const within = item.lane === 'rim' ? seen : null;
  replaceBy(picture, layer, mixOf(item, frame), item.blend, bothOf(within, moves ? null : matte));
  return region;
}

/** Where both mattes are; null stands for everywhere. */
function bothOf(a: Gray | null, b: Gray | null): Gray | null {
  if (!a || !b) return a ?? b;
  return { ...a, data: a.data.map((v, p) => v * b.data[p]) };
}

/** What is behind a subject, for effects on it that look at that. */
function behindOf({ behind, matte }: Frame, { lane, subject }: LaneItem): Behind | null {
  const own = lane === 'inside' || lane === 'rim' ? matte.get(subject as string) : undefined;
  return own && behind ? { picture: behind, matte: own } : null;
}

/** Lays an element over a picture; `instant` as of renderElement. */
async function addElement(frame: Frame, picture: Rgba, item: Element, instant: number | null): Promise<Region> {
  const layer = await renderElement({ ...frame, behind: picture }, item, frame.frame, instant);
  if (!layer) return NOTHING;
  const band = item.lane === 'rim' ? seenIn(frame, item) : null;
  if (band) cutLayer(layer, band);
  layOver(picture, layer, item.blend, mixOf(item, frame));
  return regionOf(layer);
}

const addItem = async (frame: Frame, picture: Rgba, item: LaneItem, instant: number | null): Promise<Region> => {
  frame.told();
  return inRoom(frame, () => (item.type === 'effect' ? applyEffect(frame, picture, item) : addElement(frame, picture, item, instant)));
};

/** Paints one step. */
async function paint(frame: Frame, canvas: Canvas, step: Step, instant: number | null): Promise<void> {
  if ('item' in step) touch(canvas, await addItem({ ...frame, behind: canvas.picture }, canvas.picture, step.item, instant));
  else if (step.inside.some(leaves)) await inRoom(frame, () => paintChanged(frame, canvas, step.subject, step.inside, instant));
  else await inRoom(frame, () => paintSubject(frame, canvas, step.subject, step.inside, instant));
}

/** A subject within its outline: the plate's, changed by what is inside it. */
async function paintSubject(frame: Frame, canvas: Canvas, subject: Subject, inside: LaneItem[], instant: number | null): Promise<void> {
  if (inside.length === 0 && isEmpty(canvas.changed)) return;
  const matte = matteOf(frame, subject);
  const own = inside.length > 0 ? copyWithin(frame.room, frame.plate, frame.plan.extent(matte)) : frame.plate;
  let changed = NOTHING;
  const before: Frame = { ...frame, behind: canvas.picture };
  for (const item of inside) {
    const region = await addItem(before, own, item, instant);
    if (!isEmpty(region)) changed = unionOf(changed, region);
  }
  const region = commonOf(frame.plan.extent(matte), unionOf(canvas.changed, changed));
  layBy(canvas.picture, own, matte, region);
  touch(canvas, commonOf(region, changed));
}

/** A subject that leaves its outline: cut out, changed, and laid over what is behind it. */
async function paintChanged(frame: Frame, canvas: Canvas, subject: Subject, inside: LaneItem[], instant: number | null): Promise<void> {
  const seen = frame.seen.get(placeKey({ lane: 'inside', subject: subject.id })) ?? null;
  // Where one goes on from where another has taken it, or an element is in it, all of the picture may be touched.
  const region = inside
    .map((item) => (item.type === 'effect' ? regionFor(item, frame.frame, frame.size, frame.scale, seen && frame.plan.extent(seen)) : NOTHING))
    .reduce(unionOf, NOTHING);
  const plain = inside.filter(leaves).length === 1 && inside.every((item) => item.type === 'effect');
  const whole = plain ? region : wholeOf(frame.size);
  if (isEmpty(whole)) return;
  const layer = rawLayer(frame.room, whole);
  cutInto(layer, frame.plate, seen);
  for (const item of inside) {
    frame.told();
    await inRoom(frame, async () => {
      const mix = mixOf(item, frame);
      if (item.type === 'effect') {
        const where = { ...whereOf(frame, item, whole), behind: { picture: canvas.picture, matte: null } };
        applyWithin(layer, item, mix, where, item.leaves, await itemMatte(frame, item, frame.frame));
      } else {
        const own = await renderElement(frame, item, frame.frame, instant);
        if (own) layWithin(layer, own, item, mix);
      }
    });
  }
  layOver(canvas.picture, layer, 'normal', 1);
  touch(canvas, whole);
}

/** Lays an element into the colours of a cut-out: alpha stays. */
function layWithin(layer: Layer, own: Layer, item: Element, mix: number): void {
  const opaque: Rgba = { ...layer, data: layer.data.slice() };
  const { data } = opaque;
  for (let i = 0; i < data.length; i += 4) {
    const a = data[i + 3];
    if (a > 0) for (let k = i; k < i + 3; k++) data[k] /= a;
  }
  layOver(opaque, { ...own, left: own.left - layer.left, top: own.top - layer.top }, item.blend, mix);
  for (let i = 0; i < data.length; i += 4) for (let k = i; k < i + 3; k++) layer.data[k] = data[k] * layer.data[i + 3];
}

/** Paints steps that move together at each instant of the open shutter, and takes the mean, within a part of the picture. */
async function paintTogether(frame: Frame, canvas: Canvas, steps: readonly Step[], instants: number, region: Region): Promise<void> {
  // The picture they show is the same at all instants.
  for (const item of steps.flatMap(itemsOf)) if (item.type === 'element') frame.prepared.set(item.id, await picturesOf(frame, item, frame.frame));
  const before = rawLayer(frame.room, region);
  cutInto(before, canvas.picture, null);
  const sum = rawLayer(frame.room, region);
  sum.data.fill(0);
  let { changed } = canvas;
  for (let k = 0; k < instants; k++) {
    if (k > 0) putBack(canvas.picture, before);
    const now: Canvas = { picture: canvas.picture, changed: canvas.changed };
    for (const step of steps) await paint(frame, now, step, (k + 0.5) / instants);
    addShareOf(sum, canvas.picture, region, 1 / instants);
    changed = unionOf(changed, now.changed);
  }
  putBack(canvas.picture, sum);
  canvas.changed = changed;
  frame.prepared.clear();
}

/** A layer's pixels in the place of the picture's. */
function putBack(picture: Rgba, { left, top, width, height, data }: Layer): void {
  for (let y = 0; y < height; y++) picture.data.set(data.subarray(4 * y * width, 4 * (y + 1) * width), 4 * ((y + top) * picture.width + left));
}

/** Sources whose pictures are in linear light. */
function inLinearLight(sources: Sources): Sources {
  const lit = async (given: Promise<Rgba>): Promise<Rgba> => {
    const own = copyIn(null, await given);
    toLinear(own);
    return own;
  };
  return {
    plate: (frame, size) => lit(sources.plate(frame, size)),
    footage: (footage, frame, size) => lit(sources.footage(footage, frame, size)),
    letters: (line, weight) => sources.letters(line, weight),
    imported: (footage, frame, size) => sources.imported(footage, frame, size),
    peel: (part, frame, size) => sources.peel(part, frame, size),
  };
}

/** Pictures of the size of the plate that are worked on at once: picture, plate, a layer or two, and what an effect needs for itself. */
const PICTURES = 5;
/** And more of them where a subject leaves its outline, or where all that moves is looked at together. */
const MORE = 2;

const picturesFor = ({ steps }: Plan, frame: number): number =>
  PICTURES +
  (steps.some((s) => 'subject' in s && s.inside.some(leaves)) ? MORE : 0) +
  (steps.flatMap(itemsOf).some((item) => item.type === 'element' && hasShutter(item, frame)) ? MORE : 0) +
  Math.max(
    0,
    ...steps
      .flatMap(itemsOf)
      .flatMap(effectsOf)
      .map((e) => effectById(e).pictures ?? 0),
  );

/** The effect that an item is, and those that it has. */
const effectsOf = (item: LaneItem): string[] => (item.type === 'effect' ? [item.effect] : item.effects.map((own) => own.effect));

/** A copy of a picture, of which only a part is looked at again: of the rest it is not said what is in it. */
function copyWithin(room: Room | null, picture: Rgba, { left, top, right, bottom }: Region): Rgba {
  const copy = rawLayer(room, wholeOf(picture));
  const { width, data } = picture;
  for (let y = top; y < bottom; y++) copy.data.set(data.subarray(4 * (y * width + left), 4 * (y * width + right)), 4 * (y * width + left));
  return copy;
}

/** The plate in the room. */
async function plateIn(room: Room | null, frame: number, sources: Sources, size: Size): Promise<Rgba> {
  const bytes = await sources.plateBytes?.(frame, size);
  return bytes ? pictureOfBytes(room, bytes) : copyIn(room, await sources.plate(frame, size));
}

/** Told before each effect or element how many of how many are done. */
type OnItem = (done: number, of: number) => void;

/** Makes the finished picture in a room, and gives what is made of it there. */
async function inItsRoom<T>(document: ShotDocument, frame: number, own: Sources, size: Size, onItem: OnItem, done: (picture: Rgba) => T): Promise<T> {
  const plan = planOf(document, frame);
  const linear = plan.items > 0 && isLinear(document);
  const sources = linear ? inLinearLight(own) : own;
  return withRoom(size.width * size.height * (4 * picturesFor(plan, frame) + plan.mattes.length + plan.places.length), async (room) => {
    const picture = plan.items === 0 ? await plateIn(room, frame, own, size) : await compose({ document, frame, sources, size, plan, room }, onItem);
    if (linear) toPlateValues(picture);
    return done(picture);
  });
}

/** The finished picture: the plate, and onto it what is in the lanes, far to near. Opaque. */
export const renderPicture = (document: ShotDocument, frame: number, sources: Sources, size: Size, onItem: OnItem = () => {}): Promise<Rgba> =>
  inItsRoom(document, frame, sources, size, onItem, (picture) => copyIn(null, picture));

/** The same as bytes, red, green and blue, with full alpha or without, rounded to nearest. */
export const renderPictureBytes = (
  document: ShotDocument,
  frame: number,
  sources: Sources,
  size: Size,
  channels: 3 | 4,
  onItem: OnItem = () => {},
): Promise<Uint8ClampedArray<ArrayBuffer>> => inItsRoom(document, frame, sources, size, onItem, (picture) => bytesOfPicture(picture, channels));

async function compose(
  { document, frame, sources, size, plan, room }: Pick<Frame, 'document' | 'frame' | 'sources' | 'size' | 'plan'> & { room: Room | null },
  onItem: OnItem,
): Promise<Rgba> {
  const picture = await plateIn(room, frame, sources, size);
  const mattes = mattesOf(document, sources, size);
  const matte = new Map<string, Gray>();
  const matteIn = async (id: string): Promise<Gray> => {
    const made = matte.get(id) ?? copyIn(room, await mattes(id, frame));
    matte.set(id, made);
    return made;
  };
  for (const id of plan.mattes) await matteIn(id);
  const seen = new Map<string, Gray | null>();
  for (const place of plan.places) seen.set(placeKey(place), await seenOf(place, { document, frame, size, matte: matteIn, room }));
  let done = 0;
  const given: Frame = {
    document,
    frame,
    sources,
    size,
    scale: scaleOf({ size, document }),
    mattes,
    room,
    prepared: new Map(),
    plate: copyWithin(room, picture, [...matte.values()].map(plan.extent).reduce(unionOf, NOTHING)),
    plan,
    matte,
    seen,
    told: () => onItem(Math.min(done++, plan.items - 1), plan.items),
  };
  const canvas: Canvas = { picture, changed: NOTHING };
  const { steps } = plan;
  // Those that leave their outline are taken out before anything is put behind them.
  for (const step of steps)
    if ('subject' in step && step.inside.some(leaves)) {
      const own = matteOf(given, step.subject);
      touch(canvas, await inRoom(given, () => takeOut(canvas.picture, step.subject, own, plan.extent(own), given)));
    }
  const together = await movingTogether(given, steps, frame);
  for (let i = 0; i < steps.length; i++) {
    if (i === together?.first) {
      const { last, instants, region } = together;
      await inRoom(given, () => paintTogether(given, canvas, steps.slice(i, last + 1), instants, region));
      i = last;
    } else await paint(given, canvas, steps[i], null);
  }
  return canvas.picture;
}
