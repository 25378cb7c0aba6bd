/** An element as a layer on a frame. */
import type { Element, ShotDocument } from '../document/schema.ts';
import { valuesAt } from '../effects/settings.ts';
import { newRgba, type Rgba, type Size } from '../image/picture.ts';
import { clamp } from '../math/clamp.ts';
import { applyTo, type Homography, multiply, scaling } from '../math/homography.ts';
import { mattesOf } from '../matte/mattes.ts';
import { shutterTimes } from '../matte/render-matte.ts';
import type { Sources } from '../matte/sources.ts';
import type { Given, PlacedScene, Scene } from './element.ts';
import { applyOwnEffects } from './element-effects.ts';
import { elementById, settingsOf } from './index.ts';
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

function sceneAt(given: Given, item: Element, time: number): Scene {
  const { size, document } = given;
  const scale = (size.width / document.plate.width + size.height / document.plate.height) / 2;
  return { ...given, item, values: valuesAt(settingsOf(elementById(item.element)), item.settings, time), time, scale };
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
  const placed = await placedScene(sceneAt({ document, sources, size, mattes: mattesOf(document, sources, size) }, item, frame));
  return placed && { box: placed.box, motion: placed.motion };
}

/** The premultiplied layer of an element on a frame, with its own effects; null where it is not to be seen. */
export async function renderElement(given: Given, item: Element, frame: number): Promise<Rgba | null> {
  const scene = sceneAt(given, item, frame);
  const layer = newRgba(given.size.width, given.size.height);
  if (!(await paintElement(layer, scene))) return null;
  const { plate } = given.document;
  const [scaleX, scaleY] = [given.size.width / plate.width, given.size.height / plate.height];
  applyOwnEffects(layer, item, { frame, scale: scene.scale, at: (x, y) => [x * scaleX, y * scaleY] });
  return layer;
}

/** Paints the element onto an empty layer; gives whether there was anything to paint. */
async function paintElement(layer: Rgba, scene: Scene): Promise<boolean> {
  const kind = elementById(scene.item.element);
  if (!kind.placed) {
    await kind.render(layer, scene);
    return true;
  }
  const looks = await shutterLooks(scene);
  for (const look of looks) {
    // The shutter blurs the motion of its place: what a picture shows is that of the frame.
    const one = looks.length === 1 ? layer : newRgba(layer.width, layer.height);
    await kind.render(one, { ...look, time: scene.time });
    if (one !== layer) for (let i = 0; i < one.data.length; i++) layer.data[i] += one.data[i] / looks.length;
  }
  return looks.length > 0;
}

/** The element as it stands at each instant at which the shutter looks: at one where it is closed, or where nothing moves. */
async function shutterLooks(scene: Scene): Promise<PlacedScene[]> {
  const { item, time: frame } = scene;
  const { shutter: angle } = valuesAt(PLACE, item.settings, frame);
  const at = (time: number) => placedScene(sceneAt(scene, item, time));
  if (angle > 0) {
    const [first, last] = await Promise.all([-1, 1].map((side) => at(frame + (side * angle) / 720)));
    const way = first && last ? farthest(first, last) : 0;
    if (way > 0.25) {
      const count = clamp(Math.ceil(way / STEP), 2, MOST_LOOKS);
      const placed = await Promise.all(shutterTimes(frame, angle, -angle / 2, count).map(at));
      return placed.filter((look) => look !== null);
    }
  }
  const still = await placedScene(scene);
  return still ? [still] : [];
}
