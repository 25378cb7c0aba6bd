/** All that can be put into a lane. */
import type { Lane, LaneItem, ShotDocument } from '~/core/document/schema.ts';
import { EFFECTS } from '~/core/effects/index.ts';
import { newLaneEffect } from '~/core/effects/lane-effect.ts';
import { ELEMENTS, newElement } from '~/core/elements/index.ts';
import { newVariant, VARIANTS } from '~/core/elements/variants.ts';
import type { GalleryGroup, GalleryKind } from './gallery.tsx';

export interface Addable extends GalleryKind {
  make(document: ShotDocument, newId: () => string, lane: Lane, subject: string | null): LaneItem;
}

export const GROUPS: readonly GalleryGroup<Addable>[] = [
  {
    title: 'Elements',
    kinds: [
      ...ELEMENTS.map(
        ({ id, label, about }): Addable => ({ id, label, about, make: (document, newId, lane, subject) => newElement(document, newId(), lane, subject, id) }),
      ),
      ...VARIANTS.map((variant): Addable => ({ ...variant, make: (document, newId, lane, subject) => newVariant(document, newId, lane, subject, variant) })),
    ],
  },
  {
    title: 'Effects',
    kinds: EFFECTS.map(
      ({ id, label, about }): Addable => ({ id, label, about, make: ({ plate }, newId, lane, subject) => newLaneEffect(newId(), lane, subject, id, plate) }),
    ),
  },
];
