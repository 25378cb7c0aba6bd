/** The registry of elements: adding one is a file beside this and a line here. */
import type { Element, Lane, ShotDocument } from '../document/schema.ts';
import { type Descriptions, middleOf, startsOf } from '../effects/settings.ts';
import { beamElement } from './beam.ts';
import { cardElement } from './card.ts';
import { cleanElement } from './clean.ts';
import type { ElementKind, End } from './element.ts';
import { gradientElement } from './gradient.ts';
import { lidsElement } from './lids.ts';
import { lineElement } from './line.ts';
import { noiseElement } from './noise.ts';
import { patchElement } from './patch.ts';
import { cutoutElement, footageElement } from './picture.ts';
import { PLACE } from './place.ts';
import { ringsElement } from './rings.ts';
import { shadowElement } from './shadow.ts';
import { shapeElement } from './shape.ts';
import { titleElement } from './title.ts';
import { wayElement } from './way.ts';
import { wipeElement } from './wipe.ts';

export const ELEMENTS: readonly ElementKind[] = [
  titleElement,
  footageElement,
  cutoutElement,
  cleanElement,
  patchElement,
  shadowElement,
  cardElement,
  gradientElement,
  lidsElement,
  shapeElement,
  lineElement,
  ringsElement,
  beamElement,
  noiseElement,
  wipeElement,
  wayElement,
];

/** Whether one without a place goes with something all the same. */
export const isLed = (kind: ElementKind): boolean => !kind.placed && kind.led === true;

/** The ends of an element that has such. */
export const endsOf = (kind: ElementKind): readonly End[] => (kind.placed ? [] : (kind.ends ?? []));

export const isKnownElement = (id: string): boolean => ELEMENTS.some((e) => e.id === id);

/** The kind with this id; one that shows nothing where this version has none. */
export const elementById = (id: string): ElementKind =>
  ELEMENTS.find((e) => e.id === id) ?? {
    id,
    label: id,
    about: 'From another version: it is kept and not seen here.',
    settings: {},
    has: null,
    placed: false,
    async render() {},
  };

/** All settings of a kind, those of its place after its own. */
export const settingsOf = (kind: ElementKind): Descriptions => (kind.placed ? { ...kind.settings, ...PLACE } : kind.settings);

/** A name that says what it is and which. */
const nameFor = ({ lanes }: Pick<ShotDocument, 'lanes'>, { id, label }: ElementKind): string =>
  `${label} ${lanes.filter((l) => l.type === 'element' && l.element === id).length + 1}`;

/** An element in the middle of the plate, with its settings as they start. @param subject of a lane that is relative to one */
export function newElement(document: Pick<ShotDocument, 'lanes' | 'plate'>, id: string, lane: Lane, subject: string | null, element: string): Element {
  const kind = elementById(element);
  return {
    id,
    type: 'element',
    name: nameFor(document, kind),
    lane,
    subject,
    element,
    enabled: true,
    mix: { constant: 1 },
    lives: [],
    blend: 'normal',
    matteOf: null,
    matteFootage: null,
    follow: null,
    followAmount: { constant: 1 },
    corners: null,
    words: kind.has === 'words' ? 'Title' : '',
    of: null,
    footage: null,
    drawn: [],
    effects: [],
    pins: {},
    settings: { ...startsOf(settingsOf(kind)), ...(kind.placed ? middleOf(document.plate) : {}), ...kind.startsOn?.(document.plate) },
  };
}
