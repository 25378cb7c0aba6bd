/** Lanes in words, and in the order in which they are listed: near to far. */
import { type LanePlace, lanesInDepth, placeKey } from '~/core/compose/lanes.ts';
import type { Lane, ShotDocument } from '~/core/document/schema.ts';

const WORDS: Record<Lane, { title: string; about: string }> = {
  front: { title: 'Front', about: 'over everything' },
  rim: { title: 'Rim', about: 'along its edge' },
  inside: { title: 'Inside', about: 'the subject alone' },
  behind: { title: 'Behind', about: 'what lies farther' },
  backdrop: { title: 'Backdrop', about: 'behind all subjects' },
};

export interface ListedLane extends LanePlace {
  key: string;
  title: string;
  /** Of its subject; nothing where it has none. */
  of: string;
  about: string;
}

export const listedLanes = (document: Pick<ShotDocument, 'cast'>): ListedLane[] =>
  lanesInDepth(document)
    .reverse()
    .map((place) => ({ ...place, ...WORDS[place.lane], key: placeKey(place), of: document.cast.find((s) => s.id === place.subject)?.name ?? '' }));

/** As one says it: "Behind Courier". */
export const laneName = ({ title, of }: ListedLane): string => (of ? `${title} ${of}` : title);
