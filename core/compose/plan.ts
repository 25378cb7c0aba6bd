/** What is to be done for a frame, before anything of it is done: in which order, from which mattes, and in which part of the picture. */
import { itemLivesOn } from '../document/parts.ts';
import type { LaneEffect, LaneItem, ShotDocument, Subject } from '../document/schema.ts';
import { changesShape } from '../effects/effect.ts';
import { effectById } from '../effects/index.ts';
import { settingsAt } from '../effects/lane-effect.ts';
import { valuesAt } from '../effects/settings.ts';
import type { Given } from '../elements/element.ts';
import { elementById, settingsOf } from '../elements/index.ts';
import { hasShutter, sweepOf } from '../elements/render-element.ts';
import { extentIn } from '../image/in-room.ts';
import { commonOf, type Gray, grownBy, isEmpty, type Region, type Size, unionOf, wholeOf } from '../image/picture.ts';
import { numberAt } from '../time/animated.ts';
import { isKnown } from './lane-items.ts';
import { isIn, type LanePlace, lanesInDepth } from './lanes.ts';

/** Whether something is asked to be seen on a frame at all. */
export const isAsked = (item: LaneItem, frame: number): boolean =>
  item.enabled && isKnown(item) && itemLivesOn(item, frame) && numberAt(item.mix, frame) > 0 && !isAbsent(item, frame);

/** Whether an element has nothing to show at a time, as it is meant to be. */
function isAbsent(item: LaneItem, frame: number): boolean {
  const kind = item.type === 'element' ? elementById(item.element) : null;
  return kind?.placed === false && kind.absent?.(valuesAt(settingsOf(kind), item.settings, frame), frame) === true;
}

/** Whether an effect inside a subject takes it beyond its outline. */
export const leaves = (item: LaneItem): boolean => item.type === 'effect' && item.lane === 'inside' && item.leaves && changesShape(effectById(item.effect));

/** One thing to be painted, far to near: an item of a lane that is laid over all that is farther, or a subject with what is inside it. */
export type Step = { item: LaneItem } | { subject: Subject; inside: LaneItem[] };

export const itemsOf = (step: Step): LaneItem[] => ('item' in step ? [step.item] : step.inside);

export interface Plan {
  steps: Step[];
  /** Items to be seen. */
  items: number;
  /** Subjects whose mattes are needed. */
  mattes: string[];
  /** Lanes of which has to be known how far they are seen: those with effects, with subjects that leave their outline, and rims. */
  places: LanePlace[];
  /** The part of a matte outside of which it is 0, found once. */
  extent(matte: Gray): Region;
}

export function planOf(document: ShotDocument, frame: number): Plan {
  const asked = document.lanes.filter((item) => isAsked(item, frame));
  const all = lanesInDepth(document).flatMap((place): Step[] => {
    const items = asked.filter((item) => isIn(item, place));
    if (place.lane !== 'inside') return items.map((item) => ({ item }));
    return [{ subject: document.cast.find((s) => s.id === place.subject) as Subject, inside: items }];
  });
  // Subjects with nothing farther or inside them are in the plate as they are.
  const first = all.findIndex((step) => itemsOf(step).length > 0);
  const steps = first < 0 ? [] : all.slice(first);
  const extents = new WeakMap<Gray, Region>();
  return {
    steps,
    items: asked.length,
    mattes: steps.flatMap((step) => ('subject' in step ? [step.subject.id] : [])),
    places: lanesInDepth(document).filter(
      (place) => asked.some((item) => isIn(item, place) && (item.type === 'effect' || item.lane === 'rim')) && place.lane !== 'front',
    ),
    extent(matte) {
      const region = extents.get(matte) ?? extentIn(matte);
      extents.set(matte, region);
      return region;
    },
  };
}

/** The part of the picture that an effect is to be given: what is seen of its lane (null: everything), and what it needs round that. */
export function regionFor(item: LaneEffect, frame: number, size: Size, scale: number, extent: Region | null): Region {
  const whole = wholeOf(size);
  if (!extent) return whole;
  const effect = effectById(item.effect);
  if (isEmpty(extent)) return extent;
  if (effect.whole) return whole;
  const near = effect.reach ? grownBy(extent, Math.ceil(effect.reach(settingsAt(item, frame)) * scale) + 1) : extent;
  return commonOf(whole, effect.wide ? { ...near, left: 0, right: size.width } : near);
}

/** Steps that move together, from the first to the last, at how many instants the shutter looks at them, and where they are seen. */
export interface Together {
  first: number;
  last: number;
  instants: number;
  region: Region;
}

/** Null where each that moves can be blurred alone: those that never meet need no common instants. */
export async function movingTogether(given: Given, steps: readonly Step[], frame: number): Promise<Together | null> {
  const open = steps.flatMap((each, step) => itemsOf(each).flatMap((item) => (item.type === 'element' && hasShutter(item, frame) ? [{ step, item }] : [])));
  // What one sweeps is worked out only where there is another for it to meet.
  if (open.length < 2) return null;
  const movers: { step: number; box: Region; instants: number }[] = [];
  for (const { step, item } of open) {
    const sweep = await sweepOf(given, item, frame);
    if (sweep) movers.push({ step, ...sweep });
  }
  const meet = movers.filter((a) => movers.some((b) => a !== b && !isEmpty(commonOf(a.box, b.box))));
  if (meet.length === 0) return null;
  const [first, last] = [Math.min(...meet.map((m) => m.step)), Math.max(...meet.map((m) => m.step))];
  const between = steps.slice(first, last + 1);
  // Where nothing else stands between them, no other part of the picture changes from one instant to the next.
  const alone = between.every((step, i) => 'item' in step && meet.some((m) => m.step === first + i));
  const whole = wholeOf(given.size);
  return {
    first,
    last,
    instants: Math.max(...meet.map((m) => m.instants)),
    region: alone ? commonOf(whole, meet.map((m) => m.box).reduce(unionOf)) : whole,
  };
}
