/**
 * renderPicture: what the finished picture is on a frame. It is painted from far to near: what is behind a subject is laid over all
 * that is farther, then the subject is laid over that by its matte, with what is inside it.
 */
import type { Element, LaneEffect, LaneItem, ShotDocument, Subject } from '../document/schema.ts';
import { effectById } from '../effects/index.ts';
import { runEffect, settingsAt, type Where } from '../effects/lane-effect.ts';
import { applyWithin } from '../elements/element-effects.ts';
import { ledMotion } from '../elements/place.ts';
import { isLinear, renderElement, sweepOf } from '../elements/render-element.ts';
import { toLinear, toPlateValues } from '../image/light.ts';
import {
  commonOf,
  extentOfGray,
  type Gray,
  grownBy,
  isEmpty,
  newRgba,
  type Region,
  type Rgba,
  regionOf,
  type Size,
  unionOf,
  wholeOf,
} from '../image/picture.ts';
import { applyTo } from '../math/homography.ts';
import { type Mattes, mattesOf } from '../matte/mattes.ts';
import type { Sources } from '../matte/sources.ts';
import { numberAt } from '../time/animated.ts';
import { isWithin } from '../time/ranges.ts';
import { isKnown } from './lane-items.ts';
import { isIn, type LanePlace, lanesInDepth, seenOf } from './lanes.ts';
import { cutOut, layBy, layOver, replaceBy } from './lay.ts';
import { takeOut } from './without-subject.ts';

/** Whether something is asked to be seen on a frame at all. */
export const isAsked = (item: LaneItem, frame: number): boolean =>
  item.enabled && isKnown(item) && (item.lives.length === 0 || isWithin(item.lives, frame)) && numberAt(item.mix, frame) > 0;

/** Whether an effect inside a subject takes it beyond its outline. */
const leaves = (item: LaneItem): boolean => item.type === 'effect' && item.lane === 'inside' && item.leaves && effectById(item.effect).reach !== undefined;

/** One thing to be painted, far to near: an item of a lane that is laid over all that is farther, or a subject with what is inside it. */
type Step = { item: LaneItem; place: LanePlace } | { subject: Subject; inside: LaneItem[] };

function stepsOf(document: ShotDocument, frame: number): Step[] {
  const asked = document.lanes.filter((item) => isAsked(item, frame));
  return lanesInDepth(document).flatMap((place): Step[] => {
    const items = asked.filter((item) => isIn(item, place));
    if (place.lane !== 'inside') return items.map((item) => ({ item, place }));
    return [{ subject: document.cast.find((s) => s.id === place.subject) as Subject, inside: items }];
  });
}

const itemsOf = (step: Step): LaneItem[] => ('item' in step ? [step.item] : step.inside);

/** What a frame is painted from. */
interface Frame {
  document: ShotDocument;
  frame: number;
  sources: Sources;
  size: Size;
  scale: number;
  mattes: Mattes;
  plate: Rgba;
  /** How far a lane is seen, made once. */
  seen(place: LanePlace): Promise<Gray | null>;
  told(): void;
}

/** The picture as far as it is painted, and the part of it that differs from the plate. */
interface Canvas {
  picture: Rgba;
  changed: Region;
}

const NOTHING: Region = { left: Infinity, top: Infinity, right: -Infinity, bottom: -Infinity };

function touch(canvas: Canvas, region: Region): void {
  if (!isEmpty(region)) canvas.changed = unionOf(canvas.changed, region);
}

/** What an effect needs to know of the part of the picture that it changes. */
function whereOf({ document, frame, size, scale }: Frame, item: LaneEffect, { left, top }: Region): Where {
  const [scaleX, scaleY] = [size.width / document.plate.width, size.height / document.plate.height];
  const motion = ledMotion(document, item, frame);
  return {
    frame,
    scale,
    left,
    top,
    whole: size,
    linear: isLinear(document),
    at(x, y) {
      const [px, py] = motion ? applyTo(motion, x, y) : [x, y];
      return [px * scaleX - left, py * scaleY - top];
    },
  };
}

/** The part of the picture that an effect is to be given: what is seen of its lane, and what it needs round that. */
function regionFor({ size, frame, scale }: Frame, item: LaneEffect, seen: Gray | null): Region {
  const whole = wholeOf(size);
  if (!seen) return whole;
  const effect = effectById(item.effect);
  const extent = extentOfGray(seen);
  if (isEmpty(extent)) return extent;
  const near = effect.reach ? grownBy(extent, Math.ceil(effect.reach(settingsAt(item, frame)) * scale) + 1) : extent;
  return commonOf(whole, effect.wide ? { ...near, left: 0, right: size.width } : near);
}

/** Changes a picture by an effect that sees only what is seen of its lane, so that nothing from the other side bleeds in. */
function applyEffect(frame: Frame, picture: Rgba, seen: Gray | null, item: LaneEffect): Region {
  const region = regionFor(frame, item, seen);
  if (isEmpty(region)) return region;
  const layer = cutOut(picture, seen, region);
  runEffect(layer, item, whereOf(frame, item, region));
  replaceBy(picture, layer, mixOf(item, frame));
  return region;
}

const mixOf = (item: LaneItem, { frame }: Frame): number => Math.min(1, numberAt(item.mix, frame));

/** Lays an element over a picture; `instant` as of renderElement. */
async function addElement(frame: Frame, picture: Rgba, item: Element, instant: number | null): Promise<Region> {
  const layer = await renderElement(frame, item, frame.frame, instant);
  if (!layer) return NOTHING;
  layOver(picture, layer, item.blend, mixOf(item, frame));
  return regionOf(layer);
}

/** Paints one step. */
async function paint(frame: Frame, canvas: Canvas, step: Step, instant: number | null): Promise<void> {
  if ('item' in step) {
    const { item, place } = step;
    frame.told();
    touch(
      canvas,
      item.type === 'effect' ? applyEffect(frame, canvas.picture, await frame.seen(place), item) : await addElement(frame, canvas.picture, item, instant),
    );
  } else if (step.inside.some(leaves)) await paintChanged(frame, canvas, step.subject, step.inside, instant);
  else await paintSubject(frame, canvas, step.subject, step.inside, instant);
}

/** A subject within its outline: the plate's, changed by what is inside it. */
async function paintSubject(frame: Frame, canvas: Canvas, subject: Subject, inside: LaneItem[], instant: number | null): Promise<void> {
  if (inside.length === 0 && isEmpty(canvas.changed)) return;
  const matte = await frame.mattes(subject.id, frame.frame);
  const extent = extentOfGray(matte);
  let { plate } = frame;
  let changed = NOTHING;
  if (inside.length > 0) {
    plate = { ...plate, data: plate.data.slice() };
    const seen = await frame.seen({ lane: 'inside', subject: subject.id });
    for (const item of inside) {
      frame.told();
      const region = item.type === 'effect' ? applyEffect(frame, plate, seen, item) : await addElement(frame, plate, item, instant);
      if (!isEmpty(region)) changed = unionOf(changed, region);
    }
  }
  const region = commonOf(extent, unionOf(canvas.changed, changed));
  if (isEmpty(region)) return;
  layBy(canvas.picture, plate, matte, region);
  touch(canvas, commonOf(region, changed));
}

/** A subject that leaves its outline: cut out, changed, and laid over what is behind it. */
async function paintChanged(frame: Frame, canvas: Canvas, subject: Subject, inside: LaneItem[], instant: number | null): Promise<void> {
  const seen = await frame.seen({ lane: 'inside', subject: subject.id });
  const whole = wholeOf(frame.size);
  const layer = cutOut(frame.plate, seen, whole);
  for (const item of inside) {
    frame.told();
    const mix = mixOf(item, frame);
    if (item.type === 'effect') applyWithin(layer, item, mix, whereOf(frame, item, whole), item.leaves);
    else {
      const own = await renderElement(frame, item, frame.frame, instant);
      // Its colours where the subject is: alpha stays.
      if (own) layWithin(layer, own, item, mix);
    }
  }
  layOver(canvas.picture, layer, 'normal', 1);
  touch(canvas, whole);
}

/** Lays an element into the colours of a cut-out. */
function layWithin(layer: Rgba, own: Rgba & { left: number; top: number }, item: Element, mix: number): void {
  const opaque: Rgba = { ...layer, data: layer.data.slice() };
  const { data } = opaque;
  for (let i = 0; i < data.length; i += 4) {
    const a = data[i + 3];
    if (a > 0) for (let k = i; k < i + 3; k++) data[k] /= a;
  }
  layOver(opaque, own, item.blend, mix);
  for (let i = 0; i < data.length; i += 4) for (let k = i; k < i + 3; k++) layer.data[k] = data[k] * data[i + 3];
}

/** The first and the last of the steps that move together, and at how many instants the shutter looks at them; null where each can be blurred alone. */
async function movingTogether(frame: Frame, steps: readonly Step[]): Promise<{ first: number; last: number; instants: number } | null> {
  const movers: { step: number; box: Region; instants: number }[] = [];
  for (const [step, each] of steps.entries())
    for (const item of itemsOf(each)) {
      const sweep = item.type === 'element' ? await sweepOf(frame, item, frame.frame) : null;
      if (sweep) movers.push({ step, ...sweep });
    }
  // Those that never meet need no common instants.
  const meet = movers.filter((a) => movers.some((b) => a !== b && !isEmpty(commonOf(a.box, b.box))));
  if (meet.length === 0) return null;
  return {
    first: Math.min(...meet.map((m) => m.step)),
    last: Math.max(...meet.map((m) => m.step)),
    instants: Math.max(...meet.map((m) => m.instants)),
  };
}

/** Paints steps that move together at each instant of the open shutter, and takes the mean. */
async function paintTogether(frame: Frame, canvas: Canvas, steps: readonly Step[], instants: number): Promise<void> {
  const mean = newRgba(frame.size.width, frame.size.height);
  let { changed } = canvas;
  for (let k = 0; k < instants; k++) {
    const one: Canvas = { picture: { ...mean, data: canvas.picture.data.slice() }, changed: canvas.changed };
    for (const step of steps) await paint(frame, one, step, (k + 0.5) / instants);
    const { data } = one.picture;
    for (let i = 0; i < data.length; i++) mean.data[i] += data[i];
    changed = unionOf(changed, one.changed);
  }
  const share = 1 / instants;
  for (let i = 0; i < mean.data.length; i++) mean.data[i] *= share;
  canvas.picture.data.set(mean.data);
  canvas.changed = changed;
}

/** Sources whose pictures are in linear light. */
function inLinearLight(sources: Sources): Sources {
  const lit = async (given: Promise<Rgba>): Promise<Rgba> => {
    const picture = await given;
    const own = { ...picture, data: picture.data.slice() };
    toLinear(own);
    return own;
  };
  return { ...sources, plate: (frame, size) => lit(sources.plate(frame, size)), footage: (footage, frame, size) => lit(sources.footage(footage, frame, size)) };
}

/**
 * The finished picture: the plate, and onto it what is in the lanes, far to near. Opaque.
 * @param onItem told before each effect or element how many of how many are done
 */
export async function renderPicture(
  document: ShotDocument,
  frame: number,
  own: Sources,
  size: Size,
  onItem: (done: number, of: number) => void = () => {},
): Promise<Rgba> {
  const steps = stepsOf(document, frame);
  const linear = isLinear(document) && steps.some((step) => itemsOf(step).length > 0);
  const sources = linear ? inLinearLight(own) : own;
  const plate = await sources.plate(frame, size);
  const mattes = mattesOf(document, sources, size);
  const of = steps.flatMap(itemsOf).length;
  let done = 0;
  const known = new Map<string, Promise<Gray | null>>();
  const given: Frame = {
    document,
    frame,
    sources,
    size,
    scale: (size.width / document.plate.width + size.height / document.plate.height) / 2,
    mattes,
    plate,
    seen(place) {
      const key = `${place.lane} ${place.subject}`;
      const made = known.get(key) ?? seenOf(place, document.cast, frame, mattes, size);
      known.set(key, made);
      return made;
    },
    told: () => onItem(Math.min(done++, of - 1), of),
  };
  const canvas: Canvas = { picture: { width: plate.width, height: plate.height, data: plate.data.slice() }, changed: NOTHING };
  // Those that leave their outline are taken out before anything is put behind them.
  for (const step of steps)
    if ('subject' in step && step.inside.some(leaves)) {
      await takeOut(canvas.picture, step.subject, await mattes(step.subject.id, frame), frame, given.scale, sources, size);
      touch(canvas, wholeOf(size));
    }
  const together = await movingTogether(given, steps);
  for (let i = 0; i < steps.length; i++) {
    if (i === together?.first) {
      await paintTogether(given, canvas, steps.slice(i, together.last + 1), together.instants);
      i = together.last;
    } else await paint(given, canvas, steps[i], null);
  }
  if (linear) toPlateValues(canvas.picture);
  return canvas.picture;
}
