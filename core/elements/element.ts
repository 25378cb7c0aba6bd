/** What an element is: described settings, what else it is made from, and one render function. */
import type { Element, Setting, ShotDocument } from '../document/schema.ts';
import type { Descriptions, Values, ValuesOf } from '../effects/settings.ts';
import type { Rgba, Size } from '../image/picture.ts';
import type { Homography } from '../math/homography.ts';
import type { Mattes } from '../matte/mattes.ts';
import type { Sources } from '../matte/sources.ts';
import type { Room } from '../wasm/room.ts';

/** What the picture of a shot is made from, at the size of the layer. */
export interface Given {
  document: ShotDocument;
  sources: Sources;
  size: Size;
  mattes: Mattes;
  /** Where pictures are worked on; null: in memory of their own. */
  room: Room | null;
  /** Pictures of elements that were made before, by the element's id; see PlacedKind.picture. */
  prepared: ReadonlyMap<string, Rgba | null>;
  /** The picture as far as it is painted behind what is painted now. */
  behind?: Rgba;
  /** Elements whose pictures are asked for as mattes, from the first on. */
  matting?: readonly string[];
}

/** An element at an instant, with the values of its settings. */
export interface Scene<V = Values> extends Given {
  item: Element;
  values: V;
  /** Frames; a fraction where a shutter looks between them. */
  time: number;
  /** Pixels of the layer for one of the plate. */
  scale: number;
}

export interface PlacedScene<V = Values> extends Scene<V> {
  /** Of the element, in its own pixels. */
  box: Size;
  /** Takes its own pixels, (0, 0) its middle, to pixels of the layer. */
  motion: Homography;
}

interface Kind {
  id: string;
  label: string;
  /** One sentence on what it is. */
  about: string;
  settings: Descriptions;
  /** What it has beside its settings: words, footage, a subject, or curves of a Spline or the outline of a subject. */
  has: 'words' | 'footage' | 'subject' | 'outline' | null;
  /** Of one that has footage: the setting, and its value, with which it is made from an outline besides. */
  from?: { setting: string; is: string };
  /** What its settings start from that goes by the plate. */
  startsOn?(plate: Size): Record<string, Setting>;
}

/** Two settings that say where a point is, plate pixels: it is dragged in the viewer, and can be fixed to something of its own. */
export interface End {
  x: string;
  y: string;
  label: string;
}

/** Stands somewhere, as large as it is: settings of its place are added to its own. */
export interface PlacedKind extends Kind {
  placed: true;
  /**
   * Of one that shows a picture, in the light that the shot mixes in: the picture, which is the same at all instants at which the shutter
   * looks, and may be changed; null where there is none. Others paint in the plate's values.
   */
  picture?(scene: PlacedScene): Promise<Rgba | null>;
  /** Its size in its own pixels, which are those of the plate where it is not scaled; null where there is nothing to see. */
  boxOf(scene: Scene): Promise<Size | null>;
  /** Whether its settings, its words and its motion say all of what it paints, so that a layer is kept while they are the same. */
  kept?: boolean;
  /** How far it is painted beyond that box, own pixels; nowhere where it does not say. */
  beyond?(values: Values): number;
  /**
   * Paints it over an empty layer, premultiplied: a part of the picture, to whose pixels the scene's motion leads. One that shows a
   * picture is given that, and adds the share of it that is asked for; all of it is painted over whatever is in the layer.
   */
  render(layer: Rgba, scene: PlacedScene, picture: Rgba | null, share: number): Promise<void>;
}

/** Lies where what it is made from does, or between its ends. */
export interface FreeKind extends Kind {
  placed: false;
  ends?: readonly End[];
  /** Whether its lines are those of a brush: a press of it is a dab. */
  brush?: true;
  /** Whether what it shows are pictures, in the light that the shot mixes in; others paint in the plate's values. */
  shows?: 'pictures';
  /** Whether it goes with something all the same. */
  led?: true;
  /** Whether there is nothing of it at a time, as it is meant to be. */
  absent?(values: Values, time: number): boolean;
  render(layer: Rgba, scene: Scene): Promise<void>;
}

export type ElementKind = PlacedKind | FreeKind;

/** A kind as it is written: what it does gets the values of its own settings with their types. */
type Typed<K extends Kind, D extends Descriptions> = Omit<K, 'settings' | 'placed' | 'boxOf' | 'beyond' | 'picture' | 'absent' | 'render'> & { settings: D };

/** A kind that stands somewhere, from its description. */
export const definePlaced = <const D extends Descriptions>(
  kind: Typed<PlacedKind, D> & {
    boxOf(scene: Scene<ValuesOf<D>>): Promise<Size | null>;
    beyond?(values: ValuesOf<D>): number;
    picture?(scene: PlacedScene<ValuesOf<D>>): Promise<Rgba | null>;
    render(layer: Rgba, scene: PlacedScene<ValuesOf<D>>, picture: Rgba | null, share: number): Promise<void>;
  },
  // Values are made from the description that the types are made from.
): PlacedKind => ({ ...kind, placed: true }) as unknown as PlacedKind;

/** A kind without a box of its own, from its description. */
export const defineFree = <const D extends Descriptions>(
  kind: Typed<FreeKind, D> & {
    absent?(values: ValuesOf<D>, time: number): boolean;
    render(layer: Rgba, scene: Scene<ValuesOf<D>>): Promise<void>;
  },
): FreeKind => ({ ...kind, placed: false }) as unknown as FreeKind;
