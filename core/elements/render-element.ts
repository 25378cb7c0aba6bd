/** An element as a layer on a frame. */
import { LRUCache } from 'lru-cache';
import { itemLivesOn } from '../document/parts.ts';
import type { Element, ElementEffect, LaneItem, ShotDocument } from '../document/schema.ts';
import { effectById, isKnownEffect } from '../effects/index.ts';
import { settingsAt, type Where } from '../effects/lane-effect.ts';
import { channelOf, MATTE, matteTable, throughTable } from '../effects/matte-settings.ts';
import { valuesAt } from '../effects/settings.ts';
import { copyIn, emptyLayer, rawLayer } from '../image/in-room.ts';
import { addShare, cutLayer } from '../image/lay.ts';
import { toLinear, toPlateValues } from '../image/light.ts';
import { commonOf, type Gray, grownBy, isEmpty, type Layer, NOTHING, newGray, type Region, type Rgba, type Size, unionOf, wholeOf } from '../image/picture.ts';
import { clamp } from '../math/clamp.ts';
import { applyTo, type Homography, multiply, scaling, translation } from '../math/homography.ts';
import { mattesOf } from '../matte/mattes.ts';
import { shutterTimes } from '../matte/render-matte.ts';
import type { Sources } from '../matte/sources.ts';
import { framesPerSecond } from '../time/rate.ts';
import type { Given, PlacedKind, PlacedScene, Scene } from './element.ts';
import { applyOwnEffects } from './element-effects.ts';
import { elementById, settingsOf } from './index.ts';
import { visibleBox } from './paint.ts';
import { shownFrame } from './picture.ts';
import { PLACE, placeAt } from './place.ts';

/** Instants at which an open shutter looks, at most; and how many pixels of the layer may lie between two of them. */
const MOST_LOOKS = 24;
const STEP = 1.5;

/** How far the corners of something go at most between two places, pixels. */
function farthest(a: PlacedScene, b: PlacedScene): number {
  const way = [-1, 1].flatMap((sx) =>
    [-1, 1].map((sy) => {
      const [x0, y0] = applyTo(a.motion, (sx * a.box.width) / 2, (sy * a.box.height) / 2);
      const [x1, y1] = applyTo(b.motion, (sx * b.box.width) / 2, (sy * b.box.height) / 2);
      return Math.hypot(x1 - x0, y1 - y0);
    }),
  );
  return Math.max(...way);
}

/** Pixels of the picture for one of the plate. */
export const scaleOf = ({ size, document: { plate } }: Pick<Given, 'size' | 'document'>): number => (size.width / plate.width + size.height / plate.height) / 2;

const sceneAt = (given: Given, item: Element, time: number): Scene => ({
  ...given,
  item,
  values: valuesAt(settingsOf(elementById(item.element)), item.settings, time),
  time,
  scale: scaleOf(given),
});

/** Where and when an effect is seen that changes a part of the picture; with what its places follow. */
export function whereIn(
  given: Pick<Given, 'size' | 'document'>,
  frame: number,
  { left, top }: Pick<Layer, 'left' | 'top'>,
  motion: Homography | null = null,
): Where {
  const { size, document } = given;
  const [scaleX, scaleY] = [size.width / document.plate.width, size.height / document.plate.height];
  return {
    frame,
    scale: scaleOf(given),
    left,
    top,
    whole: size,
    rate: framesPerSecond(document.plate.rate),
    linear: isLinear(document),
    matte: null,
    behind: null,
    at(x, y) {
      const [px, py] = motion ? applyTo(motion, x, y) : [x, y];
      return [px * scaleX - left, py * scaleY - top];
    },
  };
}

/** The scene with where the element stands in it; null where it cannot be seen. */
async function placedScene(scene: Scene): Promise<PlacedScene | null> {
  const { document, item, time, size } = scene;
  const kind = elementById(item.element);
  const box = kind.placed ? await kind.boxOf(scene) : null;
  const place = box && placeAt(document, item, box, time);
  const toLayer = scaling(size.width / document.plate.width, size.height / document.plate.height);
  return place && { ...scene, box, motion: multiply(toLayer, place) };
}

/** An element on a frame: its size in its own pixels, (0, 0) their middle, and what takes these to the plate's. */
export interface ElementStand {
  box: Size;
  motion: Homography;
}

/** Null where it has no place. */
export async function standOf(document: ShotDocument, item: Element, frame: number, sources: Sources): Promise<ElementStand | null> {
  const size = document.plate;
  const placed = await placedScene(
    sceneAt({ document, sources, size, mattes: mattesOf(document, sources, size), room: null, prepared: new Map() }, item, frame),
  );
  return placed && { box: placed.box, motion: placed.motion };
}

/** Whether pictures of the shot are mixed in linear light. */
export const isLinear = ({ light }: Pick<ShotDocument, 'light'>): boolean => light === 'linear';

/** The part of the picture that something placed can be seen in. */
const boxOn = (size: Size, { box, motion }: PlacedScene, beyond: number): Region =>
  visibleBox(size, motion, { width: box.width + 2 * beyond, height: box.height + 2 * beyond });

/** How far an element is painted beyond its box, own pixels. */
const beyondOf = (kind: PlacedKind, { values }: Scene): number => kind.beyond?.(values) ?? 0;

/** How far the effects of an element show beyond it, pixels of the layer. */
function reachOf({ effects }: Element, frame: number, scale: number): number {
  const each = effects.map((own) => (own.enabled && isKnownEffect(own.effect) ? (effectById(own.effect).reach?.(settingsAt(own, frame)) ?? 0) : 0));
  return Math.ceil(each.reduce((a, b) => a + b, 0) * scale) + (effects.length > 0 ? 1 : 0);
}

/** The part of the picture that an element needs which is seen in a part of it: rows of it, or all of it, where an effect of its own asks for that. */
function neededRound({ effects }: Element, near: Region, size: Size): Region {
  const whole = wholeOf(size);
  const own = effects.filter((e) => e.enabled).map((e) => effectById(e.effect));
  if (own.some((e) => e.whole)) return whole;
  return commonOf(whole, own.some((e) => e.wide) ? { ...near, left: 0, right: size.width } : near);
}

/**
 * The premultiplied layer of an element on a frame, with its own effects; null where it is not to be seen.
 * @param instant share of the open shutter at which all that moves is looked at together; null: over all of it
 */
export async function renderElement(given: Given, item: Element, frame: number, instant: number | null = null): Promise<Layer | null> {
  const scene = sceneAt(given, item, frame);
  const layer = await paintElement(scene, instant);
  if (!layer) return null;
  const { behind } = given;
  const where = { ...whereIn(given, frame, layer), behind: behind ? { picture: behind, matte: null } : null };
  await applyOwnEffects(layer, item, where, (own) => itemMatte(given, own, frame));
  const matte = await itemMatte(given, item, frame);
  if (matte) cutLayer(layer, matte);
  return layer;
}

/** The picture that an element shows, which is the same at all instants at which the shutter looks; null where it shows none. */
export async function picturesOf(given: Given, item: Element, frame: number): Promise<Rgba | null> {
  const kind = elementById(item.element);
  const placed = kind.placed && kind.picture ? await placedScene(sceneAt(given, item, frame)) : null;
  return (placed && kind.placed && (await kind.picture?.(placed))) || null;
}

/** Bytes of layers that are kept for frames on which they are the same. */
const KEPT = 32 * 1024 * 1024;
const keptLayers = new LRUCache<string, Float32Array>({ maxSize: KEPT, sizeCalculation: (data) => Math.max(1, data.byteLength) });

/** Paints the element; null where there is nothing to paint. */
async function paintElement(scene: Scene, instant: number | null): Promise<Layer | null> {
  const { item, size, scale, time, room } = scene;
  const kind = elementById(item.element);
  const whole = wholeOf(size);
  const linear = isLinear(scene.document);
  if (!kind.placed) {
    const layer = emptyLayer(room, whole);
    await kind.render(layer, scene);
    if (linear && kind.shows !== 'pictures') toLinear(layer);
    return layer;
  }
  const looks = await shutterLooks(scene, instant);
  const beyond = beyondOf(kind, scene);
  const seen = looks.map((look) => boxOn(size, look, beyond)).reduce(unionOf, NOTHING);
  if (isEmpty(seen)) return null;
  const region = neededRound(item, grownBy(seen, reachOf(item, time, scale)), size);
  const toLayer = translation(-region.left, -region.top);
  const layer = kind.picture && looks.length === 1 ? rawLayer(room, region) : emptyLayer(room, region);
  const mark = room?.mark() ?? 0;
  const key =
    kind.kept && looks.length === 1 ? JSON.stringify([kind.id, item.words, looks[0].values, multiply(toLayer, looks[0].motion), region, scale, linear]) : null;
  const kept = key && keptLayers.get(key);
  if (kept) {
    layer.data.set(kept);
    return layer;
  }
  const known = scene.prepared.get(item.id);
  const picture = known !== undefined ? known : ((await kind.picture?.({ ...looks[0], time })) ?? null);
  const share = 1 / looks.length;
  const apart = looks.length > 1 && !kind.picture ? rawLayer(room, region) : null;
  for (const look of looks) {
    apart?.data.fill(0);
    // The shutter blurs the motion of its place: what a picture shows is that of the frame.
    await kind.render(apart ?? layer, { ...look, time, motion: multiply(toLayer, look.motion) }, picture, share);
    if (linear && !kind.picture) toLinear(apart ?? layer);
    if (apart) addShare(layer, apart, share);
  }
  if (key) keptLayers.set(key, layer.data.slice());
  room?.release(mark);
  return layer;
}

/** Whether the shutter of an element is open at all. */
export const hasShutter = (item: Element, frame: number): boolean => elementById(item.element).placed && valuesAt(PLACE, item.settings, frame).shutter > 0;

/** How an element moves while the shutter is open: at how many instants to look, and where; null where it is closed, or where nothing moves. */
async function openShutter(scene: Scene): Promise<{ angle: number; count: number; ends: PlacedScene[] } | null> {
  const { item, time: frame } = scene;
  if (!hasShutter(item, frame)) return null;
  const { shutter: angle } = valuesAt(PLACE, item.settings, frame);
  const [first, last] = await Promise.all([-1, 1].map((side) => placedScene(sceneAt(scene, item, frame + (side * angle) / 720))));
  const way = first && last ? farthest(first, last) : 0;
  return first && last && way > 0.25 ? { angle, count: clamp(Math.ceil(way / STEP), 2, MOST_LOOKS), ends: [first, last] } : null;
}

/** Instants at which it is looked where something sweeps: as many as the shutter ever looks at. */
const SWEPT = Array.from({ length: MOST_LOOKS + 1 }, (_, k) => k / MOST_LOOKS - 0.5);

/** The part of the picture that an element sweeps while the shutter is open, and the instants that takes; null where it stands still. */
export async function sweepOf(given: Given, item: Element, frame: number): Promise<{ box: Region; instants: number } | null> {
  const scene = sceneAt(given, item, frame);
  const open = await openShutter(scene);
  const kind = elementById(item.element);
  if (!open || !kind.placed) return null;
  const placed = await Promise.all(SWEPT.map((share) => placedScene(sceneAt(given, item, frame + (open.angle * share) / 360))));
  const beyond = beyondOf(kind, scene);
  const swept = placed.flatMap((one) => (one ? [boxOn(given.size, one, beyond)] : [])).reduce(unionOf);
  const box = grownBy(swept, reachOf(item, frame, scene.scale) + 2);
  return { box: neededRound(item, box, given.size), instants: open.count };
}

/** The element as it stands at each instant at which the shutter looks: at one where it is closed, or where nothing moves. */
async function shutterLooks(scene: Scene, instant: number | null): Promise<PlacedScene[]> {
  const { item, time: frame } = scene;
  const at = (time: number) => placedScene(sceneAt(scene, item, time));
  const open = await openShutter(scene);
  const times = !open
    ? [frame]
    : instant !== null
      ? [frame + (open.angle * (instant - 0.5)) / 360]
      : shutterTimes(frame, open.angle, -open.angle / 2, open.count);
  return (await Promise.all(times.map(at))).filter((look) => look !== null);
}

/** Whether something says where the item is seen. */
export const hasMatte = ({ matteOf, matteFootage }: Pick<LaneItem | ElementEffect, 'matteOf' | 'matteFootage'>): boolean =>
  matteOf !== null || matteFootage !== null;

/**
 * How much of an item is seen at each pixel of the picture on a frame, [0,1]; null: all of it, for it has no matte, or one that is not
 * there any more. An element counts as it is, also where it is switched off.
 */
export async function itemMatte(given: Given, item: LaneItem | ElementEffect, frame: number): Promise<Gray | null> {
  if (!hasMatte(item)) return null;
  const { document, size, sources, mattes } = given;
  const values = valuesAt(MATTE, item.settings, frame);
  const out = newGray(size.width, size.height);
  // A matte is told by the plate's own values, in whatever light the shot mixes.
  const asSet = (picture: Rgba): Rgba => {
    if (!isLinear(document)) return picture;
    const own = copyIn(null, picture);
    toPlateValues(own);
    return own;
  };
  if (item.matteFootage) {
    const shown = shownFrame(frame - Math.round(values.matteStart), values.matteEnds, item.matteFootage.frames);
    if (shown !== null) channelOf(asSet(await sources.footage(item.matteFootage, shown, size)), values.matteChannel, out);
  } else if (document.cast.some((s) => s.id === item.matteOf)) {
    out.data.set((await mattes(item.matteOf as string, frame)).data);
  } else {
    const other = document.lanes.find((l) => l.id === item.matteOf);
    // Mattes that lead back to themselves are refused where they are chosen.
    if (other?.type !== 'element' || given.matting?.includes(other.id)) return null;
    if (itemLivesOn(other, frame)) {
      const layer = await renderElement({ ...given, room: null, matting: [...(given.matting ?? []), other.id] }, other, frame);
      if (layer) channelOf(asSet(layer), values.matteChannel, out, layer.left, layer.top);
    }
  }
  throughTable(out, matteTable(values));
  return out;
}
